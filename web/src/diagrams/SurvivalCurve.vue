<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../api/client";

/** The share of needles without trouble, hour by hour, with its band, and the hour at which changing costs least. */
const props = defineProps<{ curve: Schemas["CurveStep"][]; until: number; changeAt?: number | null; words: string }>();
const [LEFT, TOP, WIDE, TALL] = [44, 12, 340, 150];
const x = (hours: number) => LEFT + (WIDE * Math.min(hours, props.until)) / Math.max(props.until, 1e-6);
const y = (share: number) => TOP + TALL * (1 - share);
function stairs(of: (step: Schemas["CurveStep"]) => number) {
  const points: string[] = [];
  props.curve.forEach((step, n) => {
    const before = props.curve[n - 1];
    if (before) points.push(`${x(step.hours)},${y(of(before))}`);
    points.push(`${x(step.hours)},${y(of(step))}`);
  });
  const last = props.curve.at(-1);
  if (last) points.push(`${x(props.until)},${y(of(last))}`);
  return points;
}
const line = computed(() => stairs((step) => step.share).join(" "));
const band = computed(() => [...stairs((step) => step.high), ...stairs((step) => step.low).reverse()].join(" "));
const ticks = computed(() => {
  const step = [1, 2, 5, 10, 20, 50].find((s) => props.until / s <= 7) ?? 100;
  return Array.from({ length: Math.floor(props.until / step) + 1 }, (_, n) => n * step);
});
</script>

<template>
  <svg viewBox="0 0 400 200" role="img" :aria-label="words">
    <polygon :points="band" class="band" />
    <path :d="`M${LEFT} ${TOP}V${TOP + TALL}H${LEFT + WIDE}`" class="axis" />
    <g v-for="share in [0, 0.5, 1]" :key="share">
      <text :x="LEFT - 8" :y="y(share) + 4" text-anchor="end">{{ share * 100 }}%</text>
    </g>
    <g v-for="t in ticks" :key="t">
      <path :d="`M${x(t)} ${TOP + TALL}v5`" class="axis" />
      <text :x="x(t)" :y="TOP + TALL + 20" text-anchor="middle">{{ t }}{{ t === ticks.at(-1) ? " h" : "" }}</text>
    </g>
    <polyline :points="line" class="line" />
    <g v-if="changeAt && changeAt <= until">
      <path :d="`M${x(changeAt)} ${TOP}V${TOP + TALL}`" class="change" />
      <text :x="x(changeAt) + 5" :y="TOP + 10">change</text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 460px;
}
text {
  font-size: 12px;
  fill: var(--ink-soft);
}
.axis {
  fill: none;
  stroke: var(--ink-soft);
}
.band {
  fill: var(--amber-wash);
  stroke: var(--amber);
  stroke-width: 1;
}
.line {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.5;
}
.change {
  stroke: var(--amber);
  stroke-width: 2.5;
  stroke-dasharray: 5 4;
}
</style>
