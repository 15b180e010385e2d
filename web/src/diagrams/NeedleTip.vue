<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../api/client";

/** The end of a needle from the front: groove, eye and point to one scale, the thread in the eye. */
const props = defineProps<{
  metric: number;
  grooveMm: number;
  /** Length of the eye in diameters of the blade. */
  eye: number;
  tip: Schemas["Tip"];
  diameterMm: number;
  color: string;
  words: string;
}>();

// One unit is a hundredth of a millimeter.
const HEIGHT = 830;
const half = computed(() => props.metric / 2);
const groove = computed(() => props.grooveMm * 100);
const TAPER = { fine: 3.4, rounded: 2.6, ball: 2.2 };
const ROUND = { fine: 0.05, rounded: 0.12, ball: 0.24 };
const point = computed(() => TAPER[props.tip] * props.metric);
const round = computed(() => ROUND[props.tip] * props.metric);
const shoulder = computed(() => HEIGHT - 20 - point.value);
const eyeLong = computed(() => props.eye * props.metric);
const eyeTop = computed(() => shoulder.value - eyeLong.value + 0.25 * props.metric);
const outline = computed(
  () =>
    `M${-half.value} 0V${shoulder.value}L${-round.value} ${HEIGHT - 20 - round.value}A${round.value} ${round.value} 0 0 0 ${round.value} ${HEIGHT - 20 - round.value}L${half.value} ${shoulder.value}V0Z`,
);
</script>

<template>
  <svg :viewBox="`-80 0 160 ${HEIGHT}`" role="img" :aria-label="words">
    <path :d="outline" class="blade" />
    <rect :x="-groove / 2" y="0" :width="groove" :height="eyeTop" class="groove" />
    <rect :x="-groove / 2" :y="eyeTop" :width="groove" :height="eyeLong" :rx="groove / 2" class="eye" />
    <path :d="`M0 0V${eyeTop + eyeLong * 0.45}`" :stroke-width="diameterMm * 100 + 3" class="edge" />
    <path
      :d="`M0 0V${eyeTop + eyeLong * 0.45}`"
      :stroke="color"
      :stroke-width="diameterMm * 100"
      stroke-linecap="round"
      class="thread" />
    <path :d="`M62 ${HEIGHT - 130}v100M54 ${HEIGHT - 130}h16M54 ${HEIGHT - 30}h16`" class="scale" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  height: 330px;
  max-width: 100%;
}
.blade {
  fill: var(--steel-light);
  stroke: var(--steel);
  stroke-width: 2;
}
.groove {
  fill: var(--steel);
  fill-opacity: 0.35;
  stroke: var(--steel);
  stroke-width: 2;
}
.eye {
  fill: var(--panel);
  stroke: var(--steel);
  stroke-width: 2;
}
.edge {
  stroke: var(--ink);
  stroke-linecap: round;
}
.thread {
  fill: none;
}
.scale {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
}
</style>
