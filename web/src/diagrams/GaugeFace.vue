<script setup lang="ts">
import { FORCE_SAYS, type Force } from "../units";
import { computed } from "vue";
import { figure } from "../words";

/**
 * A gauge face in the gauge's own unit: the target as an arc, the mean as the needle, the swing as its shadow. It goes
 * over twice the target's range, so that the band is wide, and as far beyond as what was read.
 */
const props = defineProps<{
  unit: Force;
  /** Millinewton in one unit. */
  perUnit: number;
  mean?: number;
  swing?: number | null;
  target?: { low: number; high: number } | null;
  words: string;
}>();

const C = { x: 160, y: 158, r: 122 };
/** Where the face begins and ends and what its marks are apart, in the gauge's unit. */
const face = computed(() => {
  const [low, high] = props.target ? [props.target.low, props.target.high] : [0, 250];
  const half = props.target ? (high - low) / 2 : 0;
  const read = props.mean
    ? [1 - (props.swing ?? 0), 1 + (props.swing ?? 0)].map((share) => share * (props.mean ?? 0))
    : [];
  const from = Math.max(0, Math.min(low - half, ...read)) / props.perUnit;
  const to = Math.max(high + half, ...read) / props.perUnit;
  const rough = (to - from) / 5;
  const ten = 10 ** Math.floor(Math.log10(rough));
  const step = ([1, 2, 2.5, 5, 10].find((f) => f * ten >= rough) ?? 10) * ten;
  return { from: Math.floor(from / step + 1e-9) * step, to: Math.ceil(to / step - 1e-9) * step, step };
});
const angle = (mn: number) => {
  const along = (mn / props.perUnit - face.value.from) / (face.value.to - face.value.from);
  return Math.PI * (1 - Math.max(0, Math.min(1, along)));
};
const at = (mn: number, r: number) => `${C.x + r * Math.cos(angle(mn))} ${C.y - r * Math.sin(angle(mn))}`;
const arc = (from: number, to: number, r: number) => `M${at(from, r)}A${r} ${r} 0 0 1 ${at(to, r)}`;
const ticks = computed(() => {
  const { from, to, step } = face.value;
  return Array.from({ length: Math.round((to - from) / step) + 1 }, (_, i) => from + step * i);
});
const shadow = computed(() => {
  if (!props.mean || !props.swing) return "";
  const low = props.mean * (1 - props.swing);
  const high = props.mean * (1 + props.swing);
  return `M${C.x} ${C.y}L${at(low, C.r - 14)}A${C.r - 14} ${C.r - 14} 0 0 1 ${at(high, C.r - 14)}Z`;
});
</script>

<template>
  <svg class="gauge" viewBox="0 0 320 182" role="img" :aria-label="words">
    <path :d="arc(face.from * perUnit, face.to * perUnit, C.r)" class="rim" />
    <path v-if="target" :d="arc(target.low, target.high, C.r)" class="target" />
    <g v-for="tick in ticks" :key="tick">
      <path :d="`M${at(tick * perUnit, C.r - 9)}L${at(tick * perUnit, C.r + 9)}`" class="tick" />
      <text
        :x="C.x + (C.r + 22) * Math.cos(angle(tick * perUnit))"
        :y="C.y - (C.r + 18) * Math.sin(angle(tick * perUnit)) + 4"
        class="number">
        {{ figure(+tick.toFixed(1)) }}
      </text>
    </g>
    <path v-if="shadow" :d="shadow" class="shadow" />
    <path v-if="mean" :d="`M${C.x} ${C.y}L${at(mean, C.r - 6)}`" class="needle" />
    <circle :cx="C.x" :cy="C.y" r="9" class="hub" />
    <text :x="C.x + 34" :y="C.y + 5" class="unit">{{ FORCE_SAYS[unit] }}</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-width: 460px;
  margin: 0 auto;
}
.rim {
  fill: none;
  stroke: var(--rule);
  stroke-width: 14;
}
.target {
  fill: none;
  stroke: var(--teal);
  stroke-width: 14;
}
.tick {
  stroke: var(--ink);
  stroke-width: 2;
}
.number {
  font-size: 12px;
  text-anchor: middle;
  fill: var(--ink);
}
.unit {
  font-size: 14px;
  text-anchor: middle;
  fill: var(--ink-soft);
}
.needle {
  stroke: var(--ink);
  stroke-width: 4;
  stroke-linecap: round;
}
.hub {
  fill: var(--ink);
}
.shadow {
  fill: var(--marigold);
  fill-opacity: 0.45;
  stroke: var(--amber);
  stroke-width: 1.5;
}
</style>
