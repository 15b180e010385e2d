<script setup lang="ts">
/** What a step shows, small: a stitch of the top on the front with the bobbin's on the back below it. */
defineProps<{ grade: number; top: string; bobbin: string; faint?: boolean }>();
const DOTS = [9, 20, 31];
</script>

<template>
  <svg viewBox="0 0 40 40" aria-hidden="true" :class="{ faint }">
    <!-- Each thread has a dark edge under it, so that a light one shows on light cloth. -->
    <template v-for="edge in [1.6, 0]" :key="edge">
      <path
        :d="grade === -2 ? 'M2 12H38' : 'M4 12h12M24 12h12'"
        :class="{ edge }"
        :stroke="edge ? undefined : top"
        :stroke-width="(grade === -2 ? 3.4 : 5) + edge"
        stroke-linecap="round" />
      <path
        d="M4 29h12M24 29h12"
        :class="{ edge }"
        :stroke="edge ? undefined : bobbin"
        :stroke-width="5 + edge"
        stroke-linecap="round" />
    </template>
    <g v-if="grade < 0" :fill="bobbin" class="edge">
      <circle v-for="x in DOTS" :key="x" :cx="x" cy="12" :r="grade === -2 ? 5 : 3.2" />
    </g>
    <g v-if="grade === 1" :fill="top" class="edge"><circle v-for="x in DOTS" :key="x" :cx="x" cy="29" r="3.2" /></g>
    <template v-for="edge in grade === 2 ? [1.6, 0] : []" :key="`n${edge}`">
      <path
        d="M5 30c-4 -14 12 -10 6 1s16 10 8 -4s12 -8 8 3s12 6 6 -5"
        fill="none"
        :class="{ edge }"
        :stroke="edge ? undefined : top"
        :stroke-width="3 + edge" />
    </template>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 40px;
  height: 40px;
  margin: 0 auto;
}
.faint {
  opacity: 0.6;
}
.edge {
  stroke: var(--ink);
}
g.edge {
  stroke-width: 1;
}
</style>
