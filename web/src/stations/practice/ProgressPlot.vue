<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../../api/client";

/** How one exercise went, round by round: a dot for each, higher is better, a larger one at a harder level. */
const props = defineProps<{ points: readonly Schemas["EndedRound"][]; name: string }>();
const W = 560;
const H = 74;
const placed = computed(() => {
  const first = Date.parse(props.points[0]?.at ?? "");
  const last = Date.parse(props.points.at(-1)?.at ?? "");
  return props.points.map((p, n) => ({
    x:
      14 +
      (last > first ? (Date.parse(p.at) - first) / (last - first) : n / Math.max(1, props.points.length - 1)) *
        (W - 28),
    y: H - 10 - (p.score / 100) * (H - 20),
    r: 4 + p.level * 0.6,
  }));
});
const path = computed(() => placed.value.map((p, n) => `${n ? "L" : "M"}${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join(""));
const words = computed(
  () =>
    `${props.name}, ${props.points.length} rounds: ${props.points.map((p) => Math.round(p.score)).join(", ")} of 100`,
);
</script>

<template>
  <div>
    <strong>{{ name }}</strong>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="words">
      <path :d="`M0 ${H - 10}H${W}M0 10H${W}`" class="rule" />
      <path :d="path" class="way" />
      <circle v-for="(p, n) in placed" :key="n" :cx="p.x" :cy="p.y" :r="p.r" class="dot" />
    </svg>
  </div>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.rule {
  stroke: var(--rule);
}
.way {
  fill: none;
  stroke: var(--marigold);
  stroke-width: 2.5;
}
.dot {
  fill: var(--ink);
}
</style>
