<script setup lang="ts">
import type { Schemas } from "../api/client";

defineProps<{ state: Schemas["KnotState"]; here: boolean }>();
</script>

<template>
  <svg viewBox="0 0 44 44" width="44" height="44" aria-hidden="true">
    <circle cx="22" cy="22" r="21" class="cloth" />
    <circle v-if="here" cx="22" cy="22" r="19.5" class="here" />
    <!-- ready: a closed French knot -->
    <g v-if="state === 'ready'">
      <circle cx="22" cy="22" r="12" fill="#fbfaf5" />
      <path d="M16 23a6 6 0 1 1 6 6a8.5 8.5 0 0 0 7-9" class="wrap" />
    </g>
    <!-- to do: an open loop, the end still loose -->
    <path v-else-if="state === 'to_do'" d="M8 30c6 2 8-16 15-16a7 7 0 0 1 0 14c-3 0-5-2-5-4" class="loop" />
    <!-- caution: a diamond -->
    <g v-else-if="state === 'caution'">
      <path d="M22 6 38 22 22 38 6 22Z" fill="#f7c35f" />
      <path d="M22 14v10M22 28.5v2" stroke="#3a2500" stroke-width="3.5" stroke-linecap="round" />
    </g>
    <!-- trouble: a cross stitch -->
    <path v-else d="M10 10 34 34M34 10 10 34" class="cross" />
  </svg>
</template>

<style scoped>
.cloth {
  fill: var(--indigo);
}
.here {
  fill: none;
  stroke: var(--marigold);
  stroke-width: 3;
}
.wrap {
  fill: none;
  stroke: #0b6b5f;
  stroke-width: 3;
  stroke-linecap: round;
}
.loop {
  fill: none;
  stroke: #fbfaf5;
  stroke-width: 3;
  stroke-linecap: round;
  stroke-dasharray: 6 4.5;
}
.cross {
  fill: none;
  stroke: #ff6f52;
  stroke-width: 6;
  stroke-linecap: round;
}
</style>
