<script setup lang="ts">
import { computed } from "vue";

/** A length of thread in its color, as thick as it is on a scale of 60 px to the millimeter. */
const props = withDefaults(defineProps<{ color: string; diameterMm: number; pxPerMm?: number }>(), { pxPerMm: 60 });
const twist = computed(() => {
  const half = (props.diameterMm * props.pxPerMm) / 2;
  const turns = Math.floor(82 / (half * 1.6 + 3));
  return Array.from(
    { length: turns },
    (_, i) => `M${4 + (i * 80) / turns} ${15 + half}l${half * 1.1} ${-2 * half}`,
  ).join("");
});
</script>

<template>
  <svg width="86" height="30" viewBox="0 0 86 30" aria-hidden="true">
    <line class="edge" x1="1" y1="15" x2="85" y2="15" :stroke-width="diameterMm * pxPerMm + 2" />
    <line x1="2" y1="15" x2="84" y2="15" :stroke="color" :stroke-width="diameterMm * pxPerMm" />
    <path :d="twist" class="twist" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  border-radius: 2px;
  background: var(--real-cloth);
}
.edge {
  stroke: var(--thread-edge);
}
.twist {
  stroke: #00000040;
  stroke-width: 1;
  fill: none;
}
</style>
