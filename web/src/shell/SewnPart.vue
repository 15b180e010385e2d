<script setup lang="ts">
import type { Schemas } from "../api/client";

/**
 * A part of the thread line, sewn in the threads that are on: the top thread and the bobbin's lock in the middle. Where
 * something wants a look the bobbin thread is drawn up into dots, in trouble the top thread is broken, and what is to
 * do has only its needle holes. The mark beside it and its words say the same.
 */
defineProps<{ state: Schemas["KnotState"]; top: string; bobbin: string }>();

const PITCH = 15;
const at = [...Array(8).keys()].map((n) => n * PITCH);
const humps = (from: number[], lock: number, by: number) =>
  from.map((x) => `M${x} ${lock}Q${x + PITCH / 2} ${lock + by} ${x + PITCH} ${lock}`).join("");
const TOPS = {
  ready: humps(at, 12, -10),
  caution: humps(at, 7, -3),
  trouble: `${humps(at.slice(0, 2), 12, -10)}M30 12q5 -3 6 -10${humps(at.slice(6), 12, -10)}M90 12q-5 -2 -7 -8`,
};
const BOBBINS = { ready: humps(at, 12, 10), caution: humps(at, 7, 20), trouble: humps(at, 12, 10) };
const dots = (y: number) =>
  at
    .slice(1)
    .map((x) => `M${x} ${y}h.01`)
    .join("");
</script>

<template>
  <svg viewBox="0 0 120 24" preserveAspectRatio="none" aria-hidden="true">
    <path v-if="state === 'to_do'" :d="dots(12)" class="hole" />
    <template v-else>
      <path :d="BOBBINS[state]" class="rim" />
      <path :d="BOBBINS[state]" :stroke="bobbin" />
      <path :d="TOPS[state]" class="rim" />
      <path :d="TOPS[state]" :stroke="top" />
      <template v-if="state === 'caution'">
        <path :d="dots(7)" class="rim dot" />
        <path :d="dots(7)" :stroke="bobbin" class="dot" />
      </template>
    </template>
  </svg>
</template>

<style scoped>
path {
  fill: none;
  stroke-width: calc(3px - var(--thin, 0) * 1.2px);
  stroke-linecap: round;
  vector-effect: non-scaling-stroke;
}
/* A dark thread shows on the indigo by its light rim. */
.rim {
  stroke: #dfe5f6;
  stroke-width: calc(5px - var(--thin, 0) * 1.6px);
}
.dot {
  stroke-width: calc(5.5px - var(--thin, 0) * 2.5px);
}
.rim.dot {
  stroke-width: calc(8px - var(--thin, 0) * 3.5px);
}
.hole {
  stroke: #8d99c6;
  stroke-width: 4;
}
</style>
