<script setup lang="ts">
import { computed } from "vue";

/** The sandwich cut along a seam: where top and bobbin thread lock, by the model. */
const props = defineProps<{
  depth: number;
  top: string;
  bobbin: string;
  loft: "low" | "medium" | "lofty";
  words: string;
}>();
const THICK = { low: 70, medium: 104, lofty: 150 };
const FABRIC = 14;
const PITCH = 120;
const front = 40;
const total = computed(() => THICK[props.loft] + 2 * FABRIC);
const back = computed(() => front + total.value);
const lock = computed(() => front - 3 + props.depth * (total.value + 6));
const holes = [60, 60 + PITCH, 60 + 2 * PITCH, 60 + 3 * PITCH];
const topPath = computed(
  () =>
    `M0 ${front - 5}` +
    holes
      .map(
        (x) =>
          `H${x - 9}Q${x} ${front - 5} ${x} ${front + 6}V${lock.value}Q${x} ${lock.value + 9} ${x + 5} ${lock.value}V${front + 6}Q${x + 5} ${front - 5} ${x + 14} ${front - 5}`,
      )
      .join("") +
    "H540",
);
const bobbinPath = computed(
  () =>
    `M0 ${back.value + 5}` +
    holes
      .map(
        (x) =>
          `H${x - 9}Q${x + 2} ${back.value + 5} ${x + 2} ${back.value - 6}V${lock.value + 5}Q${x + 2} ${lock.value - 5} ${x + 7} ${lock.value + 5}V${back.value - 6}Q${x + 7} ${back.value + 5} ${x + 16} ${back.value + 5}`,
      )
      .join("") +
    "H540",
);
</script>

<template>
  <svg :viewBox="`0 0 540 ${back + 40}`" role="img" :aria-label="words">
    <rect x="0" :y="front" width="540" :height="FABRIC" class="fabric" />
    <rect x="0" :y="front + FABRIC" width="540" :height="THICK[loft]" class="batting" />
    <rect x="0" :y="back - FABRIC" width="540" :height="FABRIC" class="fabric" />
    <path :d="`M0 ${(front + back) / 2}H540`" class="middle" />
    <path :d="bobbinPath" class="edge" />
    <path :d="bobbinPath" fill="none" :stroke="bobbin" stroke-width="5" stroke-linejoin="round" />
    <path :d="topPath" class="edge" />
    <path :d="topPath" fill="none" :stroke="top" stroke-width="6" stroke-linejoin="round" />
    <text x="8" y="20">front</text>
    <text x="8" :y="back + 32">back</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.fabric {
  fill: var(--steel-light);
}
.batting {
  fill: var(--linen);
}
.middle {
  stroke: var(--teal);
  stroke-width: 2;
  stroke-dasharray: 10 8;
}
.edge {
  fill: none;
  stroke: var(--ink);
  stroke-width: 8;
}
text {
  font-size: 16px;
  fill: var(--ink-soft);
}
</style>
