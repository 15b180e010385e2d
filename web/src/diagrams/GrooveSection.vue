<script setup lang="ts">
import { computed } from "vue";

/** The needle cut across at its long groove, with the thread lying in it; everything to one scale. */
const props = defineProps<{
  metric: number;
  grooveMm: number;
  /** Fill up to which a thread of this point lies below the blade's surface. */
  limit: number;
  threads: { color: string; diameterMm: number }[];
  diameterMm: number;
  words: string;
}>();

// One unit is a hundredth of a millimeter.
const R = computed(() => props.metric / 2);
const w = computed(() => props.grooveMm * 100);
const depth = computed(() => w.value * props.limit);
const d = computed(() => props.diameterMm * 100);
const cx = 90;
const cy = 95;
/** The blade's surface at the groove's rim. */
const rim = computed(() => cy - Math.sqrt(R.value ** 2 - (w.value / 2) ** 2));
const floor = computed(() => rim.value + depth.value);
/** Center of the thread: on the groove's floor, or resting on its rims when it is too thick to go in. */
const threadY = computed(() => {
  const r = d.value / 2;
  const half = w.value / 2;
  if (r <= half) return floor.value - r;
  return rim.value - Math.sqrt(r * r - half * half);
});
const blade = computed(() => {
  const h = w.value / 2;
  const x0 = cx - h;
  const x1 = cx + h;
  const round = Math.min(h, depth.value);
  return `M${x1} ${rim.value}A${R.value} ${R.value} 0 1 1 ${x0} ${rim.value}V${floor.value - round}Q${x0} ${floor.value} ${cx} ${floor.value}Q${x1} ${floor.value} ${x1} ${floor.value - round}Z`;
});
/** A bundle is drawn as its own threads inside their common outline. */
const bundle = computed(() => {
  const n = props.threads.length;
  if (n <= 1) return [{ x: cx, y: threadY.value, r: d.value / 2, color: props.threads[0]?.color ?? "#888" }];
  const ring = d.value / 2 - (Math.max(...props.threads.map((t) => t.diameterMm)) * 100) / 2;
  return props.threads.map((t, i) => {
    const angle = (2 * Math.PI * i) / n - Math.PI / 2;
    return {
      x: cx + ring * Math.cos(angle),
      y: threadY.value + ring * Math.sin(angle),
      r: t.diameterMm * 50,
      color: t.color,
    };
  });
});
</script>

<template>
  <figure>
    <svg viewBox="0 0 180 188" role="img" :aria-label="words">
      <path :d="blade" class="blade" />
      <circle v-if="threads.length > 1" :cx="cx" :cy="threadY" :r="d / 2" class="outline" />
      <circle v-for="(t, i) in bundle" :key="i" :cx="t.x" :cy="t.y" :r="t.r" :fill="t.color" class="thread" />
      <path :d="`M${cx - w / 2 - 4} ${rim}h-16M${cx + w / 2 + 4} ${rim}h16`" class="surface" />
      <path d="M40 182h100M40 178v8M140 178v8" class="scale" />
      <text x="90" y="177" class="scale-text">1 mm</text>
    </svg>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  max-height: 330px;
}
.blade {
  fill: var(--steel-light);
  stroke: var(--steel);
  stroke-width: 1.2;
}
.thread {
  stroke: var(--ink);
  stroke-width: 1.2;
}
.outline {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 0.8;
  stroke-dasharray: 2 2;
}
.surface {
  stroke: var(--ink-soft);
  stroke-width: 0.9;
  stroke-dasharray: 3 2;
}
.scale {
  stroke: var(--ink);
  stroke-width: 1.2;
  fill: none;
}
.scale-text {
  font-size: 8.5px;
  text-anchor: middle;
  fill: var(--ink);
}
</style>
