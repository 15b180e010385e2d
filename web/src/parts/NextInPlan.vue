<script setup lang="ts">
import { usePlanned } from "../api/queries";
import EndComparison from "./EndComparison.vue";
import { useMachineId } from "../composables/machine";

/** A comparison that is planned on this machine: what is next, or that its answer is in. */
const machine = useMachineId();
const { data } = usePlanned(machine);
</script>

<template>
  <section v-if="data" class="panel stack" aria-label="Planned comparison">
    <p class="verdict">{{ data.progress.text }}</p>
    <EndComparison :progress="data.progress" />
    <RouterLink :to="{ name: 'log', params: { machine }, query: { part: 'evidence' } }" class="onward">{{
      data.progress.over ? "See the answer" : "What your records say so far"
    }}</RouterLink>
  </section>
</template>
