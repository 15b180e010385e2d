<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";
import type { Schemas } from "../../api/client";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import { useEnd } from "./incident";

/** Other ways out of a trouble: it was something else, it goes to the technician, it is left. */
const props = defineProps<{ incident: number; causes: readonly Schemas["FindingItem"][] }>();
const cause = ref("");
const end = useEnd(computed(() => props.incident));
</script>

<template>
  <details class="panel">
    <summary>It was something else, or stop here</summary>
    <div class="stack">
      <ChoiceBox v-model="cause" label="It was" :options="causes.map((c) => ({ value: c.id, name: c.name }))" />
      <Button
        label="That was it, it's cured"
        :disabled="!cause || end.pending.value"
        @click="end.go({ outcome: 'cured', cause })" />
      <div class="row">
        <Button
          label="To the technician"
          outlined
          :disabled="end.pending.value"
          @click="end.go({ outcome: 'technician' })" />
        <Button
          label="Leave it as it is"
          text
          severity="secondary"
          :disabled="end.pending.value"
          @click="end.go({ outcome: 'left' })" />
      </div>
      <p v-if="end.problem.value" class="field-error" role="alert">{{ end.problem.value.message }}</p>
    </div>
  </details>
</template>
