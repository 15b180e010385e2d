<script setup lang="ts">
import { computed, useId } from "vue";

/** A bobbin from the side, as full as it is: what is wound on it is drawn by its volume. */
const props = defineProps<{ share: number; color: string; low?: boolean; words: string }>();
const CORE = 9;
const FULL = 36;
const radius = computed(() => Math.sqrt(CORE ** 2 + Math.max(0, Math.min(1, props.share)) * (FULL ** 2 - CORE ** 2)));
const wraps = useId();
</script>

<template>
  <svg viewBox="0 0 124 88" role="img" :aria-label="words">
    <defs>
      <pattern :id="wraps" width="7" height="44" patternUnits="userSpaceOnUse">
        <path d="M2 0 5 44" class="wrap" />
      </pattern>
    </defs>
    <rect x="17" :y="44 - CORE" width="90" :height="2 * CORE" class="core" />
    <g v-if="share > 0">
      <rect x="17" :y="44 - radius" width="90" :height="2 * radius" :fill="color" class="wound" />
      <rect x="17" :y="44 - radius" width="90" :height="2 * radius" :fill="`url(#${wraps})`" />
    </g>
    <rect x="8" y="4" width="9" height="80" rx="3" class="flange" :class="{ low }" />
    <rect x="107" y="4" width="9" height="80" rx="3" class="flange" :class="{ low }" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.core,
.flange {
  fill: var(--steel-light);
  stroke: var(--ink);
  stroke-width: 2;
}
.flange.low {
  fill: var(--marigold);
}
.wound {
  stroke: var(--ink);
  stroke-width: 1.5;
}
.wrap {
  stroke: var(--ink);
  stroke-opacity: 0.35;
  stroke-width: 1;
  fill: none;
}
</style>
