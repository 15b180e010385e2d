<script setup lang="ts">
import Button from "primevue/button";
import { ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useChange, useStrike } from "../../api/queries";
import { say } from "../../notices";
import ChoiceBox from "../../parts/ChoiceBox.vue";

/** Other ways out of a trouble: it was something else, it goes to the technician, it is left. */
const props = defineProps<{ incident: number; causes: readonly Schemas["FindingItem"][] }>();
const cause = ref("");
const undo = useStrike();
const end = useChange((body: Schemas["Ended"]) =>
  answer(client.POST("/api/incidents/{incident_id}/outcome", { params: { path: { incident_id: props.incident } }, body })),
);
async function close(body: Schemas["Ended"]) {
  const entry = await end.mutateAsync(body).catch(() => null);
  if (entry) say(`${entry.text}.`, () => undo.mutate(entry.id));
}
</script>

<template>
  <details class="panel">
    <summary>It was something else, or stop here</summary>
    <div class="stack">
      <ChoiceBox v-model="cause" label="It was" :options="causes.map((c) => ({ value: c.id, name: c.name }))" />
      <Button label="That was it, it is cured" :disabled="!cause || end.isPending.value" @click="close({ outcome: 'cured', cause })" />
      <div class="row">
        <Button label="To the technician" outlined :disabled="end.isPending.value" @click="close({ outcome: 'technician' })" />
        <Button label="Leave it as it is" text severity="secondary" :disabled="end.isPending.value" @click="close({ outcome: 'left' })" />
      </div>
      <p v-if="end.error.value" class="field-error" role="alert">{{ end.error.value.message }}</p>
    </div>
  </details>
</template>
