<script setup lang="ts">
import Button from "primevue/button";
import { ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { useHere } from "../../composables/machine";
import ToggleRow from "../../parts/ToggleRow.vue";
import { useNote } from "../../composables/send";

/** Takes the needle out of the record, and asks why: that is how the records learn what a needle lasts. */
const { data: words } = useWords();
const why = ref<Schemas["RetireReason"]>("due");
const here = useHere();
const retire = useNote(
  () => answer(client.POST("/api/machines/{machine_id}/needle/retire", { ...here(), body: { why: why.value } })),
  { says: (entry) => `${entry.text}. Into the sharps box with it.` },
);
const reasons = () => (words.value?.retire_reasons ?? []) as { value: Schemas["RetireReason"]; name: string }[];
</script>

<template>
  <section class="panel stack">
    <h2>Take it out</h2>
    <ToggleRow v-model="why" label="Why" :options="reasons()" />
    <p v-if="why === 'break'" class="soft">
      Count the pieces, all of them, before the machine runs again. Feel plate and hook for a burr, power off.
    </p>
    <p v-if="retire.problem.value" class="field-error" role="alert">{{ retire.problem.value.message }}</p>
    <Button label="It is out" outlined :loading="retire.pending.value" @click="retire.go()" />
  </section>
</template>
