<script setup lang="ts">
import type { Schemas } from "../../api/client";
import { useMachineId } from "../../composables/machine";
import { useSchools } from "../../composables/schools";
import ToggleRow from "../../parts/ToggleRow.vue";

/** What practitioners disagree on: for this machine one side of each question is taken, the other one tap away. */
const { spec, questions, taken, take, problem } = useSchools(useMachineId());
const why = (q: Schemas["Question"]) => q.sides.find((s) => s.id === taken(q))?.why;
</script>

<template>
  <details v-if="questions && spec" class="panel">
    <summary>Two ways to do it, for {{ spec.nickname }}</summary>
    <p class="soft">Some quilters do it one way, others another. Choose yours.</p>
    <div v-for="q in questions" :key="q.id" class="question">
      <ToggleRow
        :model-value="taken(q)"
        :label="q.asks"
        :options="q.sides.map((side) => ({ value: side.id, name: side.name }))"
        @update:model-value="(side) => take(q, side)" />
      <p class="soft">{{ why(q) }}</p>
    </div>
    <p v-if="problem" class="field-error" role="alert">{{ problem.message }}</p>
  </details>
</template>

<style scoped>
.question {
  border-top: 1px solid var(--rule);
  padding: 0.6rem 0;
  display: grid;
  gap: 0.3rem;
}
summary + .question {
  margin-top: 0.6rem;
}
</style>
