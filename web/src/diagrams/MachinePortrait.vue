<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../api/client";

/**
 * A machine as it stands there: its head and what carries it, how the top is set, where the bobbin sits, its gauge.
 * What nobody has said is not drawn: a missing answer isn't a no.
 */
const props = withDefaults(
  defineProps<{
    kind: Schemas["MachineKind"];
    framed?: boolean | null;
    scale?: Schemas["ScaleKind"] | "";
    removableCase?: boolean | null;
    hasGauge?: boolean | null;
    name?: string;
  }>(),
  { framed: undefined, scale: "", removableCase: undefined, hasGauge: undefined, name: "" },
);
type Stand = "domestic" | "table" | "frame";
const stand = computed<Stand>(() => (props.kind === "home" ? "domestic" : props.framed === false ? "table" : "frame"));
/** The outline of the head, and where things sit on it, in the drawing's units. */
const HEADS = {
  domestic: {
    body: "M60 52h188a18 18 0 0 1 18 18v104H36v-28h178V92H106v22a8 8 0 0 1-8 8H68a8 8 0 0 1-8-8Z",
    thread: "M236 26C214 8 130 14 83 50V122",
    cone: [236, 52],
    needle: [83, 122, 146],
    control: [134, 72],
    bobbin: [83, 160],
    name: [186, 78],
  },
  table: {
    body: "M40 34h232a18 18 0 0 1 18 18v88H30v-13h214V68H86v22a8 8 0 0 1-8 8H48a8 8 0 0 1-8-8Z",
    thread: "M262 10C236-4 116-2 63 32V98",
    cone: [262, 34],
    needle: [63, 98, 127],
    control: [112, 51],
    bobbin: [63, 134],
    name: [182, 57],
  },
  frame: {
    body: "M60 40h192a18 18 0 0 1 18 18v102H50v-15h178V70H100v22a8 8 0 0 1-8 8H68a8 8 0 0 1-8-8Z",
    thread: "M242 16C218 0 130 4 80 38V100",
    cone: [242, 40],
    needle: [80, 100, 126],
    control: [128, 56],
    bobbin: [80, 152],
    name: [190, 62],
  },
} as const;
const head = computed(() => HEADS[stand.value]);
const SAYS = {
  domestic: "a domestic machine",
  table: "a sit-down longarm in its table",
  frame: "a longarm on a frame",
};
const says = computed(() => (props.name ? `${props.name}: ${SAYS[stand.value]}` : SAYS[stand.value]));
</script>

<template>
  <svg viewBox="0 0 320 204" role="img" :aria-label="says">
    <!-- what carries it -->
    <path v-if="stand === 'domestic'" d="M6 175h308" class="line" />
    <template v-else-if="stand === 'table'">
      <path d="M6 141h308v9H6ZM26 150v50M294 150v50" class="body" />
      <path d="M2 126C60 122 150 130 243 126" class="cloth" />
    </template>
    <template v-else>
      <path d="M4 188h312M4 197h312" class="line" />
      <path d="M58 166h224v9H58Z" class="body" />
      <circle cx="84" cy="181" r="6.5" class="dark" />
      <circle cx="256" cy="181" r="6.5" class="dark" />
    </template>
    <path :d="head.body" class="body" />
    <template v-if="stand === 'domestic'">
      <rect x="267" y="62" width="13" height="34" rx="5" class="body" />
      <path d="M4 171C26 152 52 146 104 146h108" class="cloth" />
    </template>
    <template v-if="stand === 'frame'">
      <!-- handles before it, the quilt from roller to roller through the throat -->
      <path d="M60 56 38 50v30M38 50l-8-3" class="grip" />
      <path d="M17 116 203 112" class="cloth" />
      <circle cx="17" cy="128" r="12" class="roller" />
      <circle cx="203" cy="124" r="12" class="roller" />
    </template>
    <!-- the cone on its pin, and the thread from it to the eye -->
    <path :d="`M${head.cone[0] - 11} ${head.cone[1]}l5-26h12l5 26Z`" class="cone" />
    <path :d="head.thread" class="thread" />
    <path :d="`M${head.needle[0]} ${head.needle[1]}V${head.needle[2]}`" class="line" />
    <!-- how the top is set -->
    <g :transform="`translate(${head.control})`">
      <template v-if="scale === 'dial'">
        <circle r="12" class="knob" />
        <path d="M0 0 6-8" class="pointer" />
      </template>
      <template v-else-if="scale === 'turns'">
        <circle r="12" class="knob" />
        <path v-for="n in 8" :key="n" d="M0-12v5" :transform="`rotate(${n * 45})`" class="ridge" />
      </template>
      <template v-else-if="scale === 'readout'">
        <rect x="-21" y="-11" width="42" height="22" rx="3" class="display" />
        <text y="6" class="digits">200</text>
      </template>
    </g>
    <!-- where the bobbin sits -->
    <g v-if="removableCase != null" :transform="`translate(${head.bobbin})`">
      <template v-if="removableCase">
        <circle r="8" class="knob" />
        <circle r="3" class="dark" />
      </template>
      <ellipse v-else cy="-5" rx="13" ry="4.5" class="knob" />
    </g>
    <g v-if="hasGauge" :transform="stand === 'frame' ? 'translate(298 160)' : 'translate(298 134)'">
      <path d="M-14 6a14 14 0 0 1 28 0Z" class="knob" />
      <path d="M0 6 7-4" class="pointer" />
    </g>
    <text v-if="name" :x="head.name[0]" :y="head.name[1]" class="name">{{ name.slice(0, 12) }}</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.body {
  fill: var(--steel-light);
  stroke: var(--ink);
  stroke-width: 2.5;
  stroke-linejoin: round;
}
.line,
.grip,
.ridge,
.pointer,
.thread,
.cloth {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.5;
  stroke-linecap: round;
}
.grip {
  stroke-width: 5;
  stroke-linejoin: round;
}
.cloth {
  stroke: var(--teal);
  stroke-width: 6;
}
.thread {
  stroke: var(--vermilion);
  stroke-width: 2;
}
.cone {
  fill: #f0b429;
  stroke: var(--ink);
  stroke-width: 2;
  stroke-linejoin: round;
}
.knob,
.roller {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
.roller {
  fill: var(--steel-light);
}
.pointer {
  stroke: var(--vermilion);
}
.dark {
  fill: var(--ink);
}
.display {
  fill: var(--ink);
}
.digits {
  font-size: 16px;
  font-weight: 700;
  text-anchor: middle;
  fill: var(--panel);
}
.name {
  font-size: 17px;
  font-weight: 700;
  text-anchor: middle;
  fill: var(--ink);
}
</style>
