<script setup lang="ts">
import { useWarnings } from "../api/queries";
import { useMachineId } from "../composables/machine";

/** What wants seeing to before it costs something: little room, records in the future, no copy today. */
const machine = useMachineId();
const { data } = useWarnings();
</script>

<template>
  <aside v-if="data?.warnings.length" class="warnings" aria-label="Needs attention">
    <p v-for="text in data.warnings" :key="text">{{ text }}</p>
    <RouterLink :to="{ name: data.future ? 'log' : 'workshop', params: { machine } }">{{
      data.future ? "To the Log" : "To the workshop's file"
    }}</RouterLink>
  </aside>
</template>

<style scoped>
.warnings {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1.2rem;
  align-items: center;
  background: var(--amber-wash);
  color: var(--ink);
  border-bottom: 3px solid var(--marigold);
  padding: 0.5rem 1.25rem;
}
p {
  flex: 1 1 24rem;
  font-weight: 600;
}
a {
  min-height: 44px;
  display: grid;
  place-items: center;
}
</style>
