<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../api/client";
import StitchPicture from "./StitchPicture.vue";

/** Where to look and what to see there; the words beside it say the same. */
const props = defineProps<{
  drawing: Schemas["Drawing"];
  words: string;
  /** The thread path of this machine, and the point of it to look at. */
  path: readonly string[];
  at?: number | null;
  top?: string;
  bobbin?: string;
}>();
const step = computed(() => 420 / Math.max(1, props.path.length - 1));
const point = (i: number) => ({ x: 30 + i * step.value, y: 62 + (i % 2 ? 26 : 0) });
const line = computed(() => props.path.map((_, i) => `${i ? "L" : "M"}${point(i).x} ${point(i).y}`).join(""));
const tight = computed(() => props.drawing === "stitch_tight");
const CLOCK = Array.from({ length: 12 }, (_, i) => (i * Math.PI) / 6);
</script>

<template>
  <div v-if="drawing === 'stitch_tight' || drawing === 'stitch_loose'" class="pair" role="img" :aria-label="words">
    <StitchPicture side="front" :grade="tight ? -1 : 1" :top="top ?? '#2f6f62'" :bobbin="bobbin ?? '#c9a36a'" />
    <StitchPicture side="back" :grade="tight ? -1 : 1" :top="top ?? '#2f6f62'" :bobbin="bobbin ?? '#c9a36a'" />
    <span class="soft">front</span><span class="soft">back</span>
  </div>
  <svg v-else-if="drawing" viewBox="0 0 480 150" role="img" :aria-label="words">
    <g v-if="drawing === 'path'">
      <path class="thread" :d="line" />
      <template v-for="(name, i) in path" :key="name">
        <circle :cx="point(i).x" :cy="point(i).y" :r="i === at ? 17 : 8" :class="i === at ? 'look' : 'metal'" />
        <text
          v-if="i === at"
          :x="Math.min(410, Math.max(70, point(i).x))"
          :y="point(i).y > 70 ? 128 : 34"
          class="label big">
          {{ name }}
        </text>
      </template>
      <text v-if="(at ?? 5) > 2" x="30" y="140" class="label start">{{ path[0] }}</text>
      <text v-if="(at ?? 0) < path.length - 3" x="450" y="140" class="label end">{{ path.at(-1) }}</text>
    </g>
    <g v-else-if="drawing === 'cone'">
      <path class="metal" d="M110 118h120l-34-78h-52Z" />
      <path class="steel" d="M170 20v20M90 124h160" />
      <path class="thread" d="M120 108q50 14 100-2M134 80q36 11 72-2M170 40V8h90" />
      <circle class="look" cx="170" cy="8" r="7" />
      <path class="bad" d="M118 116q-26 20 34 12" />
      <text x="290" y="70" class="label start">guide centered above the cone</text>
      <text x="290" y="122" class="label start warn">nothing caught under it</text>
    </g>
    <g v-else-if="drawing === 'tails'">
      <rect class="cloth" y="96" width="480" height="40" />
      <path class="needle" d="M228 4h12v76l-6 20-6-20Z" />
      <ellipse class="metal" cx="234" cy="98" rx="46" ry="13" />
      <path class="thread" d="M234 78c0 26 60 22 150 10" />
      <path class="below" d="M234 104c30 10 70 4 152-4" />
      <circle class="look" cx="392" cy="94" r="13" />
      <text x="414" y="74" class="label">hold both</text>
    </g>
    <g v-else-if="drawing === 'six_o_clock'">
      <circle class="face" cx="120" cy="75" r="66" />
      <path
        v-for="a in CLOCK"
        :key="a"
        class="tick"
        :d="`M${120 + 58 * Math.sin(a)} ${75 - 58 * Math.cos(a)}L${120 + 65 * Math.sin(a)} ${75 - 65 * Math.cos(a)}`" />
      <path class="needle" d="M108 109a36 36 0 1 1 24 0q-2-13-12-13t-12 13Z" />
      <circle class="yarn" cx="120" cy="106" r="8" />
      <text x="210" y="52" class="label start">seen from above</text>
      <text x="210" y="98" class="label start big">groove at six o'clock,</text>
      <text x="210" y="124" class="label start big">toward you</text>
    </g>
    <g v-else-if="drawing === 'needle_up'">
      <path class="metal" d="M90 8h80v84H90Z" />
      <path class="needle" d="M120 22h20v100l-10 26-10-26Z" />
      <circle class="look" cx="130" cy="30" r="13" />
      <path class="steel" d="M170 56h34M204 44v24" />
      <text x="226" y="36" class="label start big">the butt shows here</text>
      <text x="226" y="66" class="label start">a quarter turn past finger-tight</text>
    </g>
    <g v-else-if="drawing === 'groove'">
      <path class="needle" d="M66 122a54 54 0 1 1 68 0q-8-34-34-34t-34 34Z" />
      <circle class="yarn" cx="100" cy="120" r="27" />
      <path class="needle" d="M292 122a54 54 0 1 1 68 0q-4-44-34-44t-34 44Z" />
      <circle class="yarn" cx="326" cy="104" r="20" />
      <text x="150" y="134" class="label start warn">proud: it rubs</text>
      <text x="378" y="112" class="label start">it lies in</text>
    </g>
    <g v-else-if="drawing === 'gauge'">
      <path class="metal" d="M60 140a100 100 0 0 1 200 0Z" />
      <path class="range" d="M132 47a100 100 0 0 1 56 0l-9 28a70 70 0 0 0-38 0Z" />
      <path class="bad" d="M160 140 166 58" />
      <circle class="hub" cx="160" cy="140" r="8" />
      <text x="288" y="76" class="label start">three long, even pulls,</text>
      <text x="288" y="100" class="label start">the mean of them counts</text>
    </g>
    <g v-else-if="drawing === 'nine'">
      <circle class="metal" cx="110" cy="66" r="58" />
      <circle class="hub" cx="110" cy="66" r="15" />
      <path class="below" d="M136 92A38 38 0 1 1 148 62q2 46-34 82" />
      <path class="way" d="M64 34a58 58 0 0 1 40-22M96 6l10 6-6 10" />
      <text x="210" y="64" class="label start big">thread and bobbin draw a 9</text>
      <text x="210" y="92" class="label start">it turns clockwise when you pull</text>
    </g>
    <g v-else-if="drawing === 'case_spring'">
      <path class="metal" d="M36 8h150v62H36q-20-31 0-62Z" />
      <path class="steel" d="M58 18h102q10 0 10 12" />
      <path class="lint" d="M70 28q10 10 20 0t20 0 20 0" />
      <path class="below" d="M96 22q40 26 110 20" />
      <path class="way" d="M290 28h-92M212 18l-14 10 14 10" />
      <text x="300" y="34" class="label start">card under the spring</text>
      <!-- The hook's ring with its point, lint in its race, and a brush that goes round it. -->
      <circle class="metal" cx="110" cy="112" r="32" />
      <circle class="hub" cx="110" cy="112" r="15" />
      <path class="steel" d="M110 80q28 0 34 26" />
      <path class="lint" d="M86 100a26 26 0 0 0 6 30" />
      <path class="steel" d="M150 112h120" />
      <path class="way" d="M146 100v24M154 100v24M162 100v24" />
      <text x="300" y="118" class="label start">brush around the hook</text>
    </g>
    <g v-else-if="drawing === 'swap'">
      <circle class="metal" cx="90" cy="56" r="46" />
      <circle class="yarn amber" cx="90" cy="56" r="26" />
      <circle class="metal" cx="330" cy="56" r="46" />
      <circle class="yarn" cx="330" cy="56" r="26" />
      <path class="way" d="M150 44h116M254 34l13 10-13 10M270 74H154M166 64l-13 10 13 10" />
      <text x="210" y="132" class="label">change one of the two, and the fault follows one of them</text>
    </g>
    <g v-else-if="drawing === 'plate'">
      <path class="metal" d="M60 30h230l24 100H40Z" />
      <ellipse class="hole" cx="176" cy="80" rx="22" ry="15" />
      <path class="bad" d="M195 72l10-6" />
      <circle class="look ring" cx="198" cy="72" r="18" />
      <path class="thread thin" d="M176 80C160 30 190 14 240 6" />
      <text x="328" y="78" class="label start">a burr catches</text>
    </g>
    <g v-else-if="drawing === 'finger_test'">
      <path class="rail" d="M20 50h40M420 50h40" />
      <path class="cloth-line" d="M56 50q100 0 150-14t34-6q14-6 40 6t146 14" />
      <path class="skin" d="M222 150v-88q0-20 18-20t18 20v88Z" />
      <path class="knuckle" d="M224 78q16 8 32 0" />
      <text x="276" y="84" class="label start big">to the first knuckle</text>
      <text x="276" y="108" class="label start">from below, power off</text>
    </g>
    <g v-else-if="drawing === 'roller'">
      <circle class="metal" cx="150" cy="46" r="40" />
      <path class="rail" d="M30 130h240" />
      <path class="skin" d="M20 94h118q17 0 17 14t-17 14H20Z" />
      <text x="292" y="76" class="label start">roller</text>
      <text x="292" y="112" class="label start big">a finger's width</text>
      <text x="292" y="138" class="label start">machine bed</text>
    </g>
    <g v-else>
      <path class="rail" d="M30 24h420" />
      <path class="rail" d="M30 118q210-54 420 0" />
      <path class="skin" d="M38 40h44v62H38ZM398 40h44v62h-44Z" />
      <path class="skin" d="M222 34h14v48h-14ZM240 34h14v48h-14Z" />
      <text x="60" y="146" class="label">a fist</text>
      <text x="420" y="146" class="label">a fist</text>
      <text x="240" y="128" class="label warn big">only two fingers: too tight here</text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-height: 210px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.3rem 0.8rem;
}
path,
circle,
ellipse {
  stroke-linecap: round;
  stroke-linejoin: round;
  fill: none;
}
.thread {
  stroke: var(--teal);
  stroke-width: 4;
}
.below {
  stroke: var(--bobbin-thread);
  stroke-width: 4;
}
.metal,
.needle {
  fill: var(--steel-light);
  stroke: var(--steel);
  stroke-width: 2.5;
}
.steel,
.rail {
  stroke: var(--steel);
  stroke-width: 5;
}
.rail {
  stroke-width: 12;
}
.look {
  fill: var(--marigold);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.look.ring {
  fill: none;
  stroke: var(--marigold);
  stroke-width: 5;
}
.bad {
  stroke: var(--vermilion);
  stroke-width: 5;
}
.hub,
.hole,
.face {
  fill: var(--panel);
  stroke: var(--steel);
  stroke-width: 2.5;
}
.lint {
  stroke: var(--ink-soft);
  stroke-width: 6;
  stroke-dasharray: 2 7;
}
.tick,
.way {
  stroke: var(--ink);
  stroke-width: 3;
}
.yarn {
  fill: var(--teal);
}
.yarn.amber {
  fill: var(--bobbin-thread);
}
.range {
  fill: var(--teal-wash);
  stroke: var(--teal);
  stroke-width: 2;
}
.cloth {
  fill: var(--cloth);
}
.cloth-line {
  stroke: var(--ink-soft);
  stroke-width: 9;
}
.skin {
  fill: #e5b992;
  stroke: #7d5330;
  stroke-width: 2.5;
}
.knuckle {
  stroke: #7d5330;
  stroke-width: 2.5;
}
.label {
  font-size: 17px;
  fill: var(--ink);
  text-anchor: middle;
}
.label.start {
  text-anchor: start;
}
.label.end {
  text-anchor: end;
}
.label.big {
  font-size: 21px;
  font-weight: 650;
}
.label.warn {
  fill: var(--vermilion);
}
</style>
