<script setup lang="ts">
import type { Schemas } from "../api/client";
import { useMachineId } from "../composables/machine";

/** The way to practice, beside the work that it is practice for. */
defineProps<{ exercise?: Schemas["Exercise"]; says: string }>();
const machine = useMachineId();
</script>

<template>
  <RouterLink :to="{ name: 'practice', params: { machine }, query: exercise ? { exercise } : {} }" class="practice">{{
    says
  }}</RouterLink>
</template>

<style scoped>
.practice {
  display: inline-grid;
  align-content: center;
  min-height: 44px;
  margin: 0 1.25rem;
  padding: 0 0.9rem;
  border: 2px dashed var(--marigold);
  border-radius: 4px;
  color: inherit;
  text-decoration: none;
}
</style>
