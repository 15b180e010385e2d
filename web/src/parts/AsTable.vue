<script setup lang="ts">
import { computed } from "vue";
import { printed } from "../units";

/** A list as a table for a spreadsheet, as it is filtered on the screen. */
const props = defineProps<{ path: string; filter: Record<string, unknown> }>();
const href = computed(() => {
  const asked = new URLSearchParams();
  for (const [name, value] of Object.entries(props.filter))
    for (const one of Array.isArray(value) ? value : [value])
      if (one !== undefined && one !== null && one !== "" && name !== "limit") asked.append(name, String(one));
  return `${props.path}?${asked.toString()}&${printed()}`;
});
</script>

<template>
  <a class="as-table" :href="href" download>As a table</a>
</template>

<style scoped>
.as-table {
  color: inherit;
  min-height: 48px;
  display: inline-grid;
  place-items: center;
}
</style>
