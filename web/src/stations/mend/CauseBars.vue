<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "../../api/client";
import { percent } from "../../words";

/** The causes by how likely they are, each with the minutes of its check and what came of it. */
const props = defineProps<{ causes: readonly Schemas["RankedCause"][] }>();
const SAYS = { found: "found", not_it: "not it", cannot_tell: "can't tell", skipped: "later" };
const all = ref(false);
const shown = computed(() =>
  all.value ? props.causes : props.causes.filter((c) => c.probability >= 0.01 || c.answer).slice(0, 9),
);
</script>

<template>
  <table>
    <tbody>
      <tr v-for="c in shown" :key="c.cause">
        <td>
          {{ c.name }}<span v-if="c.answer" class="soft"> · {{ SAYS[c.answer] }}</span>
        </td>
        <td class="bar"><span :style="{ width: `${Math.max(1, c.probability * 100)}%` }" /></td>
        <td class="number">{{ percent(c.probability) }}</td>
        <td class="number soft">{{ c.minutes }} min</td>
      </tr>
    </tbody>
  </table>
  <button v-if="!all && causes.length > shown.length" type="button" class="more" @click="all = true">
    All {{ causes.length }} causes
  </button>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
  font-size: var(--type-small);
}
td {
  padding: 0.25rem 0.4rem 0.25rem 0;
  border-top: 1px solid var(--rule);
}
.bar {
  width: 26%;
}
.bar span {
  display: block;
  height: 14px;
  background: var(--marigold);
  border-radius: 2px;
}
.number {
  text-align: right;
  white-space: nowrap;
}
.more {
  min-height: 44px;
  border: 0;
  background: none;
  font-weight: 620;
  padding: 0;
}
</style>
