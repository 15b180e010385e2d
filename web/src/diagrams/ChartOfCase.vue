<script setup lang="ts">
import { pullFigure, forceUnit } from "../units";
import { computed } from "vue";
import type { Schemas } from "../api/client";

/** Mean-and-range chart of a case: means above, ranges below, limits dashed; a point outside is a cross. */
const props = defineProps<{ chart: Schemas["ControlChart"] }>();

const W = 600;
const LEFT = 56;
const points = computed(() => props.chart.points);
const x = (i: number) => LEFT + 16 + (i * (W - LEFT - 40)) / Math.max(1, points.value.length - 1);
function scale(values: number[], top: number, bottom: number) {
  const low = Math.min(...values);
  const high = Math.max(...values);
  const pad = (high - low || 10) * 0.15;
  return (v: number) => bottom - ((v - low + pad) / (high - low + 2 * pad)) * (bottom - top);
}
const known = (...values: (number | null | undefined)[]) => values.filter((v): v is number => v != null);
const meanY = computed(() =>
  scale([...points.value.map((p) => p.mean), ...known(props.chart.lower, props.chart.upper)], 12, 160),
);
const rangeY = computed(() =>
  scale([0, ...points.value.map((p) => p.range), ...known(props.chart.range_upper)], 186, 268),
);
const line = (y: (v: number) => number, value: (p: Schemas["ChartPoint"]) => number) =>
  points.value.map((p, i) => `${i ? "L" : "M"}${x(i)} ${y(value(p))}`).join("");
const levels = computed(() =>
  [
    { v: props.chart.upper, y: meanY.value, dash: true },
    { v: props.chart.center, y: meanY.value, dash: false },
    { v: props.chart.lower, y: meanY.value, dash: true },
    { v: props.chart.range_upper, y: rangeY.value, dash: true },
    { v: props.chart.mean_range, y: rangeY.value, dash: false },
  ].filter((l): l is { v: number; y: (v: number) => number; dash: boolean } => l.v != null),
);
</script>

<template>
  <svg :viewBox="`0 0 ${W} 280`" role="img" :aria-label="`Chart of ${points.length} sessions. ${chart.says.join(' ')}`">
    <g v-for="l in levels" :key="`${l.v}${l.dash}`">
      <path :d="`M${LEFT} ${l.y(l.v)}H${W - 8}`" :class="['level', { dash: l.dash }]" />
      <text :x="LEFT - 6" :y="l.y(l.v) + 5" class="number">{{ pullFigure(l.v) }}</text>
    </g>
    <path :d="line(meanY, (p) => p.mean)" class="line" />
    <path :d="line(rangeY, (p) => p.range)" class="line" />
    <g v-for="(p, i) in points" :key="i">
      <path v-if="p.mean_out" :d="`M${x(i) - 8} ${meanY(p.mean) - 8}l16 16m-16 0l16 -16`" class="out" />
      <circle v-else :cx="x(i)" :cy="meanY(p.mean)" r="6" class="dot" />
      <path v-if="p.range_out" :d="`M${x(i) - 8} ${rangeY(p.range) - 8}l16 16m-16 0l16 -16`" class="out" />
      <circle v-else :cx="x(i)" :cy="rangeY(p.range)" r="5" class="dot" />
    </g>
    <text :x="W - 8" y="14" class="name">mean of each session, {{ forceUnit() }}</text>
    <text :x="W - 8" y="186" class="name">range within each session, {{ forceUnit() }}</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.level {
  stroke: var(--teal);
  stroke-width: 2;
}
.level.dash {
  stroke-dasharray: 8 6;
  stroke: var(--ink-soft);
}
.line {
  fill: none;
  stroke: var(--steel);
  stroke-width: 2;
}
.dot {
  fill: var(--ink);
  stroke: var(--panel);
  stroke-width: 2;
}
.out {
  stroke: var(--vermilion);
  stroke-width: 4;
  stroke-linecap: round;
}
.number {
  font-size: 14px;
  text-anchor: end;
  fill: var(--ink);
}
.name {
  font-size: 14px;
  text-anchor: end;
  fill: var(--ink-soft);
}
</style>
