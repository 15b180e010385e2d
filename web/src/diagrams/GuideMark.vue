<script setup lang="ts">
import type { Schemas } from "../api/client";

/** A kind of guide on the thread's way, drawn with the thread through it. */
defineProps<{ kind: Schemas["Guide"] }>();
</script>

<template>
  <svg viewBox="0 0 56 56" width="56" height="56" aria-hidden="true">
    <g v-if="kind === 'pin'" class="part">
      <path d="M28 52V8M18 52h20" />
      <path d="M20 46 24 18h8l4 28Z" class="fill" />
      <path d="M30 18 40 4" class="thread" />
    </g>
    <g v-else-if="kind === 'side_pin'" class="part">
      <path d="M4 30h46M50 22v16" />
      <path d="M16 20h26v20H16Z" class="fill" />
      <path d="M16 24 2 14" class="thread" />
    </g>
    <g v-else-if="kind === 'eyelet'" class="part">
      <circle cx="28" cy="28" r="11" />
      <path d="M28 39v13" />
      <path d="M8 4 28 28 46 50" class="thread" />
    </g>
    <g v-else-if="kind === 'hook'" class="part">
      <path d="M20 52V22a9 9 0 0 1 18 0v4" />
      <path d="M4 10 29 20 52 46" class="thread" />
    </g>
    <g v-else-if="kind === 'slot'" class="part">
      <path d="M8 4h40v48H8Z" />
      <path d="M28 4v34" class="gap" />
      <path d="M28 2v36l14 14" class="thread" />
    </g>
    <g v-else-if="kind.startsWith('holes')" class="part">
      <path d="M6 16h44v24H6Z" />
      <template v-for="n in Number(kind.slice(-1))" :key="n">
        <circle :cx="(56 * n) / (Number(kind.slice(-1)) + 1)" cy="28" r="4" />
      </template>
      <path d="M2 6q12 36 26 22T54 50" class="thread" />
    </g>
    <g v-else-if="kind === 'discs'" class="part">
      <path d="M22 8q10 20 0 40M34 8q-10 20 0 40M27 28H10M29 28h17" />
      <path d="M28 2v52" class="thread" />
    </g>
    <g v-else-if="kind === 'spring'" class="part">
      <path d="M10 44a14 14 0 1 1 20-14L46 14" />
      <path d="M52 2 44 16 50 52" class="thread" />
    </g>
    <g v-else-if="kind === 'lever'" class="part">
      <path d="M12 52 34 18" />
      <circle cx="38" cy="13" r="6" />
      <path d="M50 52 38 13 18 4" class="thread" />
    </g>
    <g v-else-if="kind === 'eye'" class="part">
      <path d="M23 2v40l5 12 5-12V2Z" />
      <ellipse cx="28" cy="36" rx="2.500" ry="5" />
      <path d="M12 10 28 36 48 52" class="thread" />
    </g>
    <g v-else class="part">
      <path d="M4 44h48M28 44V20M18 20h20" />
      <path d="M28 2v36q4 8 22 6" class="thread" />
    </g>
  </svg>
</template>

<style scoped>
path,
circle,
ellipse {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 2.4;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.fill {
  fill: var(--rule);
}
.gap {
  stroke-width: 6;
  stroke: var(--rule);
}
.thread {
  stroke: var(--vermilion);
  stroke-width: 2;
}
</style>
