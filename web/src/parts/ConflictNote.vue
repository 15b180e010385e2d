<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import type { Problem } from "../api/client";
import { differing } from "../composables/seen";

/** Somebody else was quicker: what it says now, what you wrote, and which of the two is to stand. */
const props = defineProps<{ problem: Problem; mine: unknown }>();
const emit = defineEmits<{ over: []; leave: [] }>();
const fields = computed(() => differing(props.problem.conflict?.now, props.mine));
</script>

<template>
  <div class="conflict" role="alert">
    <p>
      <strong>{{ problem.message }}</strong>
    </p>
    <table v-if="fields.length">
      <thead>
        <tr>
          <th scope="col"><span class="sr">Field</span></th>
          <th scope="col">It says now</th>
          <th scope="col">You wrote</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="f in fields" :key="f.field">
          <th scope="row">{{ f.field }}</th>
          <td>{{ f.now }}</td>
          <td>{{ f.mine }}</td>
        </tr>
      </tbody>
    </table>
    <div class="row">
      <Button type="button" label="Leave it as it is now" severity="secondary" @click="emit('leave')" />
      <Button type="button" label="Save mine instead" @click="emit('over')" />
    </div>
  </div>
</template>

<style scoped>
.conflict {
  display: grid;
  gap: 0.75rem;
  background: var(--amber-wash);
  border: 2px solid var(--marigold);
  border-radius: 4px;
  padding: 0.9rem 1rem;
}
table {
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  padding: 0.25rem 1rem 0.25rem 0;
}
th[scope="row"] {
  text-transform: capitalize;
  font-weight: 600;
}
</style>
