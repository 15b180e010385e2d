<script setup lang="ts">
import { computed, useId } from "vue";

/** A needle lying down, its hours marked along it: how much of its life is behind it. */
const props = defineProps<{ hours: number; life: number; due: boolean; words: string }>();
const clip = useId();
const share = computed(() => Math.min(1, props.hours / props.life));
const NEEDLE = "M4 6h150l14 6h398l28 8-28 8H168l-14 6H4Z";
</script>

<template>
  <svg viewBox="0 0 600 40" role="img" :aria-label="words">
    <clipPath :id="clip"><path :d="NEEDLE" /></clipPath>
    <path :d="NEEDLE" class="needle" />
    <rect :width="4 + 590 * share" height="40" :clip-path="`url(#${clip})`" :class="due ? 'due' : 'used'" />
    <rect x="524" y="16" width="26" height="8" rx="4" class="eye" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.needle {
  fill: var(--steel-light);
  stroke: var(--ink);
  stroke-width: 2;
  stroke-linejoin: round;
}
.used {
  fill: var(--teal);
}
.due {
  fill: var(--marigold);
}
.eye {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
