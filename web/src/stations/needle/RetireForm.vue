<script setup lang="ts">
import Button from "primevue/button";
import { ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useChange, useStrike, useWords } from "../../api/queries";
import { useMachineId } from "../../machine";
import { say } from "../../notices";
import ToggleRow from "../../parts/ToggleRow.vue";

/** Takes the needle out of the record, and asks why: that is how the records learn what a needle lasts. */
const machine = useMachineId();
const { data: words } = useWords();
const why = ref<Schemas["RetireReason"]>("due");
const undo = useStrike();
const retire = useChange(() =>
  answer(
    client.POST("/api/machines/{machine_id}/needle/retire", {
      params: { path: { machine_id: machine.value } },
      body: { why: why.value },
    }),
  ),
);
const reasons = () => (words.value?.retire_reasons ?? []) as { value: Schemas["RetireReason"]; name: string }[];
async function submit() {
  const entry = await retire.mutateAsync(undefined).catch(() => null);
  if (entry) say(`${entry.text}. Into the sharps box with it.`, () => undo.mutate(entry.id));
}
</script>

<template>
  <section class="panel stack">
    <h2>Take it out</h2>
    <ToggleRow v-model="why" label="Why" :options="reasons()" />
    <p v-if="why === 'break'" class="soft">Count the pieces, all of them, before the machine runs again. Feel plate and hook for a burr, power off.</p>
    <p v-if="retire.error.value" class="field-error" role="alert">{{ retire.error.value.message }}</p>
    <Button label="It is out" outlined :loading="retire.isPending.value" @click="submit" />
  </section>
</template>
