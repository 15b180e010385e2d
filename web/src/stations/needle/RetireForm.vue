<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import InputText from "primevue/inputtext";
import { useNeedleDrawer, useWords } from "../../api/queries";
import { useHere, useMachineId } from "../../composables/machine";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { useNote } from "../../composables/send";

/** Takes the needle out of the record, and asks why: that is how the records learn what a needle lasts. */
const { data: words } = useWords();
const why = ref<Schemas["RetireReason"]>("due");
const here = useHere();
const { data: drawer } = useNeedleDrawer(useMachineId());
/** A needle that is still good waits in a numbered slot with its hours; the first free one is offered. */
const slot = ref<string>();
const stillGood = computed(() => why.value === "still_good");
const into = computed(() => (stillGood.value ? (slot.value ?? drawer.value?.free_slot ?? "") : ""));
const post = () =>
  answer(
    client.POST("/api/machines/{machine_id}/needle/retire", { ...here(), body: { why: why.value, slot: into.value } }),
  );
const says = (entry: Schemas["Noted"]) =>
  stillGood.value ? `${entry.text}.` : `${entry.text}. Put it in the sharps box.`;
const retire = useNote(post, { says });
defineExpose({ post, says });
const reasons = () => (words.value?.retire_reasons ?? []) as { value: Schemas["RetireReason"]; name: string }[];
</script>

<template>
  <div class="stack">
    <ToggleRow v-model="why" label="Take it out: why?" :options="reasons()" />
    <p v-if="why === 'break'" class="soft">
      Count the pieces, all of them, before the machine runs again. Feel plate and hook for a burr, power off.
    </p>
    <template v-if="stillGood">
      <FieldBox label="Slot" :error="retire.error('slot')">
        <InputText :model-value="into" @update:model-value="slot = $event ?? ''" />
      </FieldBox>
      <p class="soft">It waits there with its hours. Clear the slot's name if it goes in the sharps box.</p>
    </template>
    <p v-if="retire.problem.value && !retire.error('slot')" class="field-error" role="alert">
      {{ retire.problem.value.message }}
    </p>
    <div class="row">
      <slot />
      <Button label="It's out" outlined :loading="retire.pending.value" @click="retire.go()" />
    </div>
  </div>
</template>
