<script setup lang="ts">
import { computed } from "vue";

/** Rates beside one another: the point, its interval, and the plain count's interval thin below it. */
interface Rate {
  per_unit: number;
  low: number;
  high: number;
  plain_low: number;
  plain_high: number;
}
const props = defineProps<{ rate: Rate; most: number }>();
const at = (value: number) => `${Math.min(100, (100 * value) / Math.max(props.most, 1e-9))}%`;
const wide = (low: number, high: number) => ({
  left: at(low),
  width: `calc(${at(high)} - ${at(low)})`,
});
const ours = computed(() => wide(props.rate.low, props.rate.high));
const plain = computed(() => wide(props.rate.plain_low, props.rate.plain_high));
</script>

<template>
  <span class="bars" aria-hidden="true">
    <span class="ours" :style="ours" />
    <span class="plain" :style="plain" />
    <span class="point" :style="{ left: at(rate.per_unit) }" />
  </span>
</template>

<style scoped>
.bars {
  position: relative;
  display: block;
  height: 26px;
  border-left: 2px solid var(--rule);
}
.ours,
.plain,
.point {
  position: absolute;
}
.ours {
  top: 4px;
  height: 10px;
  background: var(--amber-wash);
  border: 1px solid var(--marigold);
}
.plain {
  top: 19px;
  height: 3px;
  background: var(--rule);
}
.point {
  top: 2px;
  width: 4px;
  height: 14px;
  margin-left: -2px;
  background: var(--ink);
}
</style>
