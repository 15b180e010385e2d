<script setup lang="ts">
import { computed } from "vue";
import { fixed } from "../words";

/** Threads side by side on one scale: equal weight, different thickness, seen at a glance. */
const props = defineProps<{ threads: { name: string; words: string; color: string; mm: number }[] }>();

const PX = 190;
const LANE = 26;
const lanes = computed(() => {
  let y = 10;
  return props.threads.map((t) => {
    const height = Math.max(LANE, t.mm * PX + 8);
    const lane = { ...t, y: y + height / 2, width: t.mm * PX };
    y += height;
    return lane;
  });
});
const height = computed(() => (lanes.value.at(-1)?.y ?? 0) + (lanes.value.at(-1)?.width ?? 0) / 2 + 46);
const words = computed(() => props.threads.map((t) => `${t.name}, ${t.words}: ${fixed(t.mm, 2)} mm thick`).join(". "));
</script>

<template>
  <svg :viewBox="`0 0 620 ${height}`" role="img" :aria-label="`Side by side, to scale. ${words}`">
    <rect width="330" :height="height - 34" class="ground" />
    <g v-for="t in lanes" :key="t.name">
      <line x1="0" x2="330" :y1="t.y" :y2="t.y" :stroke="t.color" :stroke-width="t.width" />
      <path :d="`M0 ${t.y - t.width / 2}H330M0 ${t.y + t.width / 2}H330`" class="edge" />
      <text x="342" :y="t.y + 5" class="name">{{ t.name }}</text>
      <text x="612" :y="t.y + 5" class="mm">{{ fixed(t.mm, 2) }} mm</text>
    </g>
    <path :d="`M0 ${height - 12}H${PX}M0.8 ${height - 18}v12M${PX} ${height - 18}v12`" class="scale" />
    <text :x="PX + 10" :y="height - 7" class="name">1 mm</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-height: 420px;
}
.ground {
  fill: var(--real-cloth);
}
.edge {
  stroke: var(--thread-edge);
  fill: none;
}
.name {
  font-size: 19px;
  fill: var(--ink);
}
.mm {
  font-size: 19px;
  font-weight: 650;
  text-anchor: end;
  fill: var(--ink);
}
.scale {
  stroke: var(--ink);
  stroke-width: 1.6;
  fill: none;
}
</style>
