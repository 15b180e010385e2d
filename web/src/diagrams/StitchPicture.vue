<script setup lang="ts">
import { computed } from "vue";

/** One side of a stitched step, drawn for its grade in the combination's own colors. */
const props = defineProps<{
  side: "front" | "back";
  grade: number;
  top: string;
  bobbin: string;
  /** Thread thickness in mm; the drawing is 22 units to the millimeter. */
  topMm?: number;
  bobbinMm?: number;
}>();

const PITCH = 46;
/** Each thread has a dark edge under it, so that a light one shows on light cloth. */
const LAYERS = [
  { name: "edge", extra: 1.8 },
  { name: "body", extra: 0 },
];
/** What comes through lies on a thread of any color: a light rim round its dark edge tells it from each. */
const OVER = [{ name: "rim", extra: 4.2 }, ...LAYERS];
const holes = [10, 10 + PITCH, 10 + 2 * PITCH, 10 + 3 * PITCH];
const front = computed(() => props.side === "front");
const own = computed(() => (front.value ? props.top : props.bobbin));
const other = computed(() => (front.value ? props.bobbin : props.top));
const width = computed(() => Math.max(4, 32 * ((front.value ? props.topMm : props.bobbinMm) ?? 0.18)));
/** How far the other side's thread comes through here: 0 hidden, 1 dots, 2 lies on top. */
const through = computed(() => Math.max(0, Math.min(2, front.value ? -props.grade : props.grade)));
const nest = computed(() => !front.value && props.grade >= 2);
const loops = computed(() =>
  holes.map((x, i) => `M${x - 2} 26c${-14 - i} 12 ${10 + 3 * i} 22 ${12 - i} 6s${-16 + i} -26 ${4 + i} -14`).join(""),
);
</script>

<template>
  <svg viewBox="0 0 158 52" preserveAspectRatio="xMidYMid slice" aria-hidden="true">
    <rect width="158" height="52" class="cloth" />
    <path d="M0 13H158M0 39H158" class="weave" />
    <!-- the own thread: stitches between the holes, or one straight line when it is pulled flat -->
    <g
      v-for="layer in LAYERS"
      :key="layer.name"
      :class="layer.name"
      :stroke="layer.name === 'edge' ? undefined : own"
      stroke-linecap="round">
      <template v-if="through < 2 || nest">
        <path
          v-for="x in holes.slice(0, -1)"
          :key="x"
          :d="`M${x + 6} 26H${x + PITCH - 6}`"
          :stroke-width="width + layer.extra" />
      </template>
      <path v-else d="M0 26H158" :stroke-width="width * 0.8 + layer.extra" />
    </g>
    <circle v-for="x in holes" :key="`h${x}`" :cx="x" cy="26" r="3" class="hole" />
    <!-- the other thread, as far as it comes through -->
    <g v-for="ring in through === 1 ? ['rim', 'dots'] : []" :key="ring" :fill="other" :class="ring">
      <ellipse v-for="x in holes" :key="`d${x}`" :cx="x" cy="26" rx="4.2" ry="5.2" />
    </g>
    <g
      v-for="layer in through === 2 ? OVER : []"
      :key="`o${layer.name}`"
      :class="layer.name"
      fill="none"
      :stroke="layer.name === 'body' ? other : undefined"
      :stroke-width="width * 0.8 + layer.extra"
      stroke-linecap="round">
      <path v-if="nest" :d="loops" />
      <template v-else>
        <path v-for="x in holes" :key="`s${x}`" :d="`M${x - 7} 36q7 -22 14 0`" />
      </template>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  border-radius: 3px;
}
.cloth {
  fill: var(--real-cloth);
}
.weave {
  stroke: #a9b2bd;
  stroke-width: 0.6;
  stroke-dasharray: 2 3;
  opacity: 0.7;
}
.hole {
  fill: #5b5446;
  opacity: 0.65;
}
.edge {
  stroke: var(--thread-edge);
}
.rim {
  stroke: #fbfaf5;
}
ellipse {
  stroke-width: 3.4;
}
.dots ellipse {
  stroke: var(--thread-edge);
  stroke-width: 1.2;
}
</style>
