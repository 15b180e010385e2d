<script setup lang="ts">
import { computed, useId } from "vue";

/** A seam cut along its length, twenty times as large: both threads as thick as they are, locked in the cloth. */
const props = defineProps<{ top: string; bobbin: string; topMm: number; bobbinMm: number; words: string }>();
// Units are pixels, twenty to a millimeter: ten stitches to an inch, a sandwich of 2.2 mm.
const PER_MM = 20;
const PITCH = 51;
const CLOTH = { from: 14, to: 58 };
const HEIGHT = 72;
const pattern = useId();
const above = computed(() => props.topMm * PER_MM);
const below = computed(() => props.bobbinMm * PER_MM);
/** A thread that lies on one side of the cloth and dips to the middle at each stitch. */
function dips(y: number, to: number) {
  const [left, mid, right] = [PITCH / 2 - 6, PITCH / 2, PITCH / 2 + 6];
  return `M0 ${y}H${left}C${mid - 1} ${y} ${mid} ${y} ${mid} ${to}C${mid} ${y} ${mid + 1} ${y} ${right} ${y}H${PITCH}`;
}
const middle = (CLOTH.from + CLOTH.to) / 2;
const topPath = computed(() => dips(CLOTH.from - above.value / 2, middle + above.value / 2));
const bobbinPath = computed(() => dips(CLOTH.to + below.value / 2, middle - below.value / 2));
</script>

<template>
  <svg :height="HEIGHT" width="100%" role="img" :aria-label="words">
    <defs>
      <pattern :id="pattern" :width="PITCH" :height="HEIGHT" patternUnits="userSpaceOnUse">
        <rect :y="CLOTH.from" :width="PITCH" :height="CLOTH.to - CLOTH.from" class="batting" />
        <rect :y="CLOTH.from" :width="PITCH" height="6" class="fabric" />
        <rect :y="CLOTH.to - 6" :width="PITCH" height="6" class="fabric" />
        <path :d="bobbinPath" class="edge" :stroke-width="below + 1.6" />
        <path :d="bobbinPath" class="thread" :stroke="bobbin" :stroke-width="below" />
        <path :d="topPath" class="edge" :stroke-width="above + 1.6" />
        <path :d="topPath" class="thread" :stroke="top" :stroke-width="above" />
      </pattern>
    </defs>
    <rect width="100%" :height="HEIGHT" :fill="`url(#${pattern})`" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}
.batting {
  fill: var(--linen);
}
.fabric {
  fill: var(--steel-light);
}
.edge {
  fill: none;
  stroke: var(--ink);
}
.thread {
  fill: none;
}
</style>
