<script setup lang="ts">
import { computed } from "vue";

/** Rates beside one another on one axis: the point, and within what it most likely lies. */
interface Rate {
  per_unit: number;
  likely_low: number;
  likely_high: number;
}
const props = defineProps<{ rate: Rate; most: number }>();
const at = (value: number) => `${Math.min(100, (100 * value) / Math.max(props.most, 1e-9))}%`;
const wide = (low: number, high: number) => ({
  left: at(low),
  width: `calc(${at(high)} - ${at(low)})`,
});
const likely = computed(() => wide(props.rate.likely_low, props.rate.likely_high));
</script>

<template>
  <span class="bars" aria-hidden="true">
    <span class="likely" :style="likely" />
    <span class="point" :style="{ left: at(rate.per_unit) }" />
  </span>
</template>

<style scoped>
.bars {
  position: relative;
  display: block;
  height: 20px;
  border-left: 2px solid var(--ink-soft);
  border-bottom: 1px solid var(--rule);
}
.likely,
.point {
  position: absolute;
}
.likely {
  top: 4px;
  height: 10px;
  background: var(--amber-wash);
  border: 1px solid var(--marigold);
}
.point {
  top: 2px;
  width: 4px;
  height: 14px;
  margin-left: -2px;
  background: var(--ink);
}
</style>
