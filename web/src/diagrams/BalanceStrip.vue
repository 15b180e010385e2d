<script setup lang="ts">
import { computed } from "vue";

/**
 * One seam along the scale, front and back, as it is expected at each setting, thin; one's own lines are pinned to it
 * as they were stitched, and the estimate is laid below.
 */
const props = defineProps<{
  low: number;
  high: number;
  looks: { setting: number; grade: number }[];
  /** The grade that a stitch would most likely get, setting by setting. */
  expected: readonly { setting: number; lock: { grade: number } }[];
  grid: readonly number[];
  density: readonly number[];
  interval: [number, number];
  center: number;
  following: number;
  top: string;
  bobbin: string;
  words: string;
}>();

const W = 640;
const PAD = 34;
const FRONT = 40;
const BACK = 86;
const BASE = 252;
/** The part of the scale worth showing: where the estimate lives and where it was stitched. */
const span = computed(() => {
  const most = Math.max(...props.density);
  const alive = props.grid.filter((_, i) => (props.density[i] ?? 0) > 0.004 * most);
  const points = [...alive, ...props.looks.map((l) => l.setting), props.following];
  const from = Math.min(...points);
  const to = Math.max(...points);
  const pad = Math.max((to - from) * 0.06, (props.high - props.low) * 0.02);
  return [Math.max(props.low, from - pad), Math.min(props.high, to + pad)] as const;
});
const x = (setting: number) => PAD + ((setting - span.value[0]) / (span.value[1] - span.value[0] || 1)) * (W - 2 * PAD);
const curve = computed(() => {
  const most = Math.max(...props.density, 1e-12);
  const shown = props.grid
    .map((s, i) => [s, props.density[i] ?? 0] as const)
    .filter(([s]) => s >= span.value[0] && s <= span.value[1]);
  const points = shown.map(([s, d]) => `${x(s).toFixed(1)} ${(BASE - (d / most) * 108).toFixed(1)}`);
  return `M${x(span.value[0])} ${BASE}L${points.join("L")}L${x(span.value[1])} ${BASE}Z`;
});
const ticks = computed(() => {
  const wide = span.value[1] - span.value[0];
  const step = [0.25, 0.5, 1, 2, 5, 10, 20, 25, 50, 100].find((s) => wide / s <= 9) ?? 100;
  const first = Math.ceil(span.value[0] / step) * step;
  return Array.from(
    { length: Math.floor((span.value[1] - first) / step) + 1 },
    (_, i) => +(first + i * step).toFixed(4),
  );
});
const dots = [-9, 0, 9];

const PITCH = 20;
/** The stitches of the seam where no line of one's own was sewn. */
const seam = computed(() => {
  const pinned = props.looks.map((l) => x(l.setting));
  const [from, to] = span.value;
  return Array.from({ length: Math.floor((W - 2 * PAD + 40) / PITCH) }, (_, n) => PAD - 20 + (n + 0.5) * PITCH)
    .filter((at) => pinned.every((pin) => Math.abs(pin - at) > 26))
    .map((at) => {
      const setting = from + ((at - PAD) / (W - 2 * PAD)) * (to - from);
      const off = (each: { setting: number }) => Math.abs(each.setting - setting);
      const near = props.expected.reduce((best, each) => (off(each) < off(best) ? each : best));
      return { at, grade: near.lock.grade };
    });
});
</script>

<template>
  <svg :viewBox="`0 0 ${W} 292`" role="img" :aria-label="words">
    <rect :x="PAD - 26" y="18" :width="W - 2 * PAD + 52" height="44" class="cloth" />
    <rect :x="PAD - 26" y="64" :width="W - 2 * PAD + 52" height="44" class="cloth" />
    <text x="8" y="13" class="small">front</text>
    <text x="8" y="124" class="small">back</text>
    <g v-for="s in seam" :key="s.at" :transform="`translate(${s.at} 0)`">
      <g v-for="edge in [1.6, 0]" :key="edge" :class="{ edge }" fill="none" stroke-linecap="round">
        <path
          :d="s.grade === -2 ? `M-10 ${FRONT}h20` : `M-7 ${FRONT}h14`"
          :stroke="edge ? undefined : top"
          :stroke-width="2.6 + edge" />
        <path
          :d="s.grade === 2 ? `M-10 ${BACK}h20` : `M-7 ${BACK}h14`"
          :stroke="edge ? undefined : bobbin"
          :stroke-width="2.6 + edge" />
        <path
          v-if="s.grade === 2"
          :d="`M-6 ${BACK}c-4 -12 10 -12 5 0s8 10 5 -3`"
          :stroke="edge ? undefined : top"
          :stroke-width="1.8 + edge" />
      </g>
    </g>
    <!-- What comes through lies on the stitches on both sides of its hole. -->
    <g v-for="s in seam" :key="`${s.at} through`" :transform="`translate(${s.at} 0)`">
      <circle v-if="s.grade < 0" cx="10" :cy="FRONT" :r="s.grade === -2 ? 3.6 : 2.4" :fill="bobbin" class="edge dots" />
      <circle v-if="s.grade === 1" cx="10" :cy="BACK" r="2.4" :fill="top" class="edge dots" />
    </g>
    <g v-for="(l, i) in looks" :key="i" :transform="`translate(${x(l.setting)} 0)`">
      <path :d="`M0 ${FRONT - 8}V12`" class="pin" />
      <circle r="6" cy="9" class="head" />
      <!-- Each thread lies on an edge that tells it from the cloth and from the other one. -->
      <g v-for="edge in [2, 0]" :key="edge" :class="{ edge }" fill="none" stroke-linecap="round">
        <path
          :d="l.grade === -2 ? `M-15 ${FRONT}h30` : `M-14 ${FRONT}h10m4 0h12`"
          :stroke="edge ? undefined : top"
          :stroke-width="(l.grade === -2 ? 4 : 7) + edge" />
        <path :d="`M-14 ${BACK}h10m4 0h12`" :stroke="edge ? undefined : bobbin" :stroke-width="6 + edge" />
        <path
          v-if="l.grade === 2"
          :d="`M-12 ${BACK}c-8 -20 14 -20 6 0s18 18 10 -6s14 -8 6 8`"
          :stroke="edge ? undefined : top"
          :stroke-width="3.5 + edge" />
      </g>
      <g v-if="l.grade < 0" :fill="bobbin" class="edge dots">
        <circle v-for="d in dots" :key="d" :cx="d" :cy="FRONT" :r="l.grade === -2 ? 6 : 3.6" />
      </g>
      <g v-if="l.grade === 1" :fill="top" class="edge dots">
        <circle v-for="d in dots" :key="d" :cx="d" :cy="BACK" r="3.6" />
      </g>
      <path :d="`M0 112V${BASE}`" class="drop" />
    </g>
    <rect
      :x="x(interval[0])"
      :width="Math.max(2, x(interval[1]) - x(interval[0]))"
      y="138"
      :height="BASE - 138"
      class="interval" />
    <path :d="curve" class="curve" />
    <path :d="`M${x(center)} 134V${BASE}`" class="center" />
    <path :d="`M${x(following)} ${BASE + 2}l-8 13h16Z`" class="next" />
    <path :d="`M${PAD - 20} ${BASE}H${W - PAD + 20}`" class="axis" />
    <g v-for="t in ticks" :key="t">
      <path :d="`M${x(t)} ${BASE}v6`" class="axis" />
      <text :x="x(t)" :y="BASE + 32" class="number">{{ t }}</text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.cloth {
  fill: var(--real-cloth);
}
.small {
  font-size: 14px;
  fill: var(--ink-soft);
}
.pin {
  stroke: var(--ink);
  stroke-width: 2;
}
.head {
  fill: var(--vermilion);
  stroke: var(--ink);
}
.edge {
  stroke: var(--thread-edge);
}
.dots {
  stroke-width: 1;
}
.drop {
  stroke: var(--ink-soft);
  stroke-width: 1.5;
  stroke-dasharray: 4 4;
}
.interval {
  fill: var(--teal-wash);
  stroke: var(--teal);
}
.curve {
  fill: var(--teal);
  fill-opacity: 0.55;
  stroke: var(--teal);
}
.center {
  stroke: var(--ink);
  stroke-width: 4;
}
.next {
  fill: var(--marigold);
  stroke: var(--ink);
  stroke-width: 1;
}
.axis {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.number {
  font-size: 17px;
  text-anchor: middle;
  fill: var(--ink);
  font-weight: 600;
}
</style>
