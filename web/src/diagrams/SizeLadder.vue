<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../api/client";

/** Every needle size with the fill of this thread in it, the zones of the point, and the schools' flags. */
const props = defineProps<{
  sizes: readonly Schemas["SizeFit"][];
  point: Schemas["Point"];
  limit: number;
  slackBelow: number;
  says: Record<string, string>;
  picks: readonly Schemas["NeedleChoice"][];
  fitted?: number;
  /** Metric sizes of which there are needles in the drawer. */
  stocked: readonly number[];
  color: string;
}>();
const chosen = defineModel<number>({ required: true });

const W = 560;
const H = 306;
const LEFT = 8;
const TOP = 62;
const BOTTOM = 216;
const most = computed(() => Math.max(1.1, Math.min(2.2, (props.sizes[0]?.nominal_fill ?? 1) * 1.06)));
const step = computed(() => (W - 2 * LEFT) / Math.max(1, props.sizes.length));
const x = (i: number) => LEFT + step.value * (i + 0.5);
const y = (fill: number) => BOTTOM - (Math.min(fill, most.value) / most.value) * (BOTTOM - TOP);
const right = computed(() => LEFT + step.value * props.sizes.length);
const zones = computed(() => [
  { name: "rubs", from: props.limit, to: most.value, kind: "rubs", key: 8 },
  { name: "lies in the groove", from: props.slackBelow, to: props.limit, kind: "rides", key: 100 },
  { name: "slack", from: 0, to: props.slackBelow, kind: "slack", key: 286 },
]);
const curve = computed(() => props.sizes.map((s, i) => `${i ? "L" : "M"}${x(i)} ${y(s.nominal_fill)}`).join(""));
const flags = (metric: number) => props.picks.filter((p) => p.metric === metric).map((p) => p.school);
/** Which way a flag flies: off the edge is turned round. */
const flies = (school: string | null | undefined, i: number) =>
  i < 2 ? 1 : i > props.sizes.length - 3 || school === "home" ? -1 : 1;
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${H}`" role="group" aria-label="Needle sizes with the fill of this thread">
    <g v-for="zone in zones" :key="zone.name">
      <rect
        :x="LEFT"
        :width="right - LEFT"
        :y="y(zone.to)"
        :height="Math.max(0, y(zone.from) - y(zone.to))"
        :class="['zone', zone.kind]" />
    </g>
    <path :d="curve" class="curve" />
    <!-- the zones are named below: in the drawing the names would lie over the sizes -->
    <g v-for="zone in zones" :key="`t${zone.name}`" :transform="`translate(${zone.key} ${H - 22})`">
      <rect width="24" height="18" :class="['zone', 'key', zone.kind]" />
      <text x="32" y="15" class="zone-name">{{ zone.name }}</text>
    </g>
    <g v-for="(size, i) in sizes" :key="size.metric" :class="{ chosen: size.metric === chosen }" aria-hidden="true">
      <path v-if="size.metric === chosen" :d="`M${x(i)} ${TOP}V${BOTTOM}`" class="plumb" />
      <circle :cx="x(i)" :cy="y(size.nominal_fill)" r="9" :fill="color" class="dot" />
      <text :x="x(i)" :y="BOTTOM + 24" class="metric">{{ size.metric }}</text>
      <text :x="x(i)" :y="BOTTOM + 44" class="american">{{ size.american }}</text>
      <!-- the schools' flags: home flies to the left, longarm to the right, the lower pole is the nearer -->
      <g
        v-for="school in flags(size.metric)"
        :key="school ?? ''"
        :transform="`translate(${x(i)} ${school === 'home' ? 34 : 10})`">
        <path :d="`M0 ${school === 'home' ? 26 : 50}V0`" class="pole" />
        <path
          d="M0 0h66l-7 11 7 11H0Z"
          :class="['flag', school]"
          :transform="flies(school, i) < 0 ? 'scale(-1 1)' : ''" />
        <text :x="31 * flies(school, i)" y="16" class="flag-text">{{ school }}</text>
      </g>
      <path v-if="stocked.includes(size.metric)" :d="`M${x(i) - 15} ${BOTTOM + 29}h30`" class="stocked" />
      <path v-if="size.metric === fitted" :d="`M${x(i)} ${BOTTOM + 50}l-9 15h18Z`" class="fitted" />
    </g>
    <rect
      v-for="(size, i) in sizes"
      :key="`b${size.metric}`"
      role="button"
      tabindex="0"
      :aria-pressed="size.metric === chosen"
      :aria-label="`${size.metric}/${size.american}: fills ${Math.round(size.nominal_fill * 100)}% of the groove, ${says[size.states[point] ?? 'rides']}${flags(
        size.metric,
      )
        .map((f) => `, first choice by the ${f} chart`)
        .join(
          '',
        )}${size.metric === fitted ? ', in the machine' : ''}${stocked.includes(size.metric) ? ', in the drawer' : ''}`"
      class="target"
      :x="x(i) - step / 2"
      y="0"
      :width="step"
      :height="H"
      @click="chosen = size.metric"
      @keydown.enter.prevent="chosen = size.metric"
      @keydown.space.prevent="chosen = size.metric" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  touch-action: manipulation;
}
.zone {
  stroke: var(--ink-soft);
}
.zone.rubs {
  fill: var(--vermilion-wash);
}
.zone.rides {
  fill: var(--teal-wash);
}
.zone.slack {
  fill: var(--amber-wash);
}
.zone-name {
  font-size: 15px;
  fill: var(--ink-soft);
}
.curve {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 2;
  stroke-dasharray: 9 6;
}
.target {
  fill: transparent;
  cursor: pointer;
  outline: none;
}
.target:focus-visible {
  stroke: var(--ring);
  stroke-width: 3;
}
.plumb {
  stroke: var(--marigold);
  stroke-width: 4;
}
.dot {
  stroke: var(--ink);
  stroke-width: 2;
}
.chosen .dot {
  stroke-width: 5;
}
.metric,
.american {
  text-anchor: middle;
  fill: var(--ink);
  font-size: 17px;
  font-weight: 600;
}
.american {
  font-size: 15px;
  font-weight: 400;
  fill: var(--ink-soft);
}
.chosen .metric {
  font-weight: 800;
}
.pole {
  stroke: var(--ink);
  stroke-width: 2;
}
.flag {
  fill: #27376f;
  stroke: var(--ink-soft);
}
.flag.home {
  fill: #0b6b5f;
}
.flag-text {
  font-size: 14px;
  fill: #fff;
  text-anchor: middle;
  font-weight: 600;
}
.stocked {
  stroke: var(--ink);
  stroke-width: 2.5;
}
.fitted {
  fill: var(--ink);
}
</style>
