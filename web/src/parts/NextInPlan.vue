<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { client } from "../api/client";
import { useHere, useMachineId } from "../composables/machine";

/** A comparison that is planned on this machine: what is next, or that its answer is in. */
const machine = useMachineId();
const here = useHere();
const { data } = useQuery({
  queryKey: computed(() => ["evidence", "planned", machine.value]),
  queryFn: async () => (await client.GET("/api/machines/{machine_id}/evidence/planned", here())).data ?? null,
});
</script>

<template>
  <section v-if="data" class="panel stack" aria-label="Planned comparison">
    <p class="verdict">{{ data.progress.text }}</p>
    <RouterLink :to="{ name: 'log', params: { machine }, query: { part: 'evidence' } }" class="link">{{
      data.progress.over ? "See the answer" : "What your records say so far"
    }}</RouterLink>
  </section>
</template>

<style scoped>
.link {
  color: inherit;
  min-height: 44px;
  display: inline-grid;
  align-content: center;
  justify-self: start;
}
</style>
