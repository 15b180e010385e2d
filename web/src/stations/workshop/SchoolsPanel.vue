<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useMachines } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import { useMachineChange } from "../../composables/send";
import ToggleRow from "../../parts/ToggleRow.vue";
import WordNote from "../../parts/WordNote.vue";

/** What practitioners disagree on: for this machine one side of each question is taken, the other one tap away. */
const machine = useMachineId();
const { data: machines } = useMachines();
const spec = computed(() => machines.value?.find((m) => m.id === machine.value)?.spec);
const { data: questions } = useQuery({
  queryKey: ["words", "schools"],
  queryFn: () => answer(client.GET("/api/words/schools")),
  staleTime: Infinity,
});
type Question = Schemas["Question"];
const change = useMachineChange(machine, { says: () => "Taken." });
function taken(q: Question): string {
  const own = q.field ? (spec.value as Record<string, unknown> | undefined)?.[q.field] : spec.value?.choices?.[q.id];
  return (own as string | null | undefined) ?? q.default[spec.value?.kind ?? "home"] ?? "";
}
const take = (q: Question, side: string) =>
  void change.go(q.field ? { [q.field]: side } : { choices: { ...spec.value?.choices, [q.id]: side } });
const why = (q: Question) => q.sides.find((s) => s.id === taken(q))?.why;
</script>

<template>
  <details v-if="questions && spec" class="panel">
    <summary>Where the schools disagree, for {{ spec.nickname }}</summary>
    <p class="soft">
      A <WordNote term="school" />, where practitioners teach different things: take the one you follow.
    </p>
    <div v-for="q in questions" :key="q.id" class="question">
      <ToggleRow
        :model-value="taken(q)"
        :label="q.asks"
        :options="q.sides.map((side) => ({ value: side.id, name: side.name }))"
        @update:model-value="(side) => take(q, side)" />
      <p class="soft">{{ why(q) }}</p>
    </div>
    <p v-if="change.problem.value" class="field-error" role="alert">{{ change.problem.value.message }}</p>
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
