<script setup lang="ts">
/** A small drawing for each kind of record. */
defineProps<{ kind: string }>();
</script>

<template>
  <svg viewBox="0 0 36 36" width="36" height="36" aria-hidden="true">
    <g v-if="kind === 'top_threaded'">
      <path d="M10 5h16M10 31h16" />
      <path d="M13 5v26M23 5v26M13 11l10 3M13 17l10 3M13 23l10 3" />
    </g>
    <g v-else-if="kind === 'bobbin_loaded' || kind === 'case_put_back'">
      <circle cx="18" cy="18" r="12" />
      <circle cx="18" cy="18" r="4" />
    </g>
    <g v-else-if="kind === 'needle_fitted'">
      <path d="M15 3h6v21l-3 9-3-9Z" />
      <path d="M18 19v5" class="thin" />
    </g>
    <g v-else-if="kind === 'needle_retired'"><path d="M9 6 27 30M27 6 9 30" /></g>
    <g v-else-if="kind === 'run' || kind === 'clock_started'">
      <circle cx="18" cy="19" r="12" />
      <path d="M18 11v8l5 4M14 3h8" />
    </g>
    <g v-else-if="kind === 'sandwich'">
      <path d="M4 11h28M4 25h28" />
      <path d="M4 18q3.500-5 7 0t7 0 7 0 7 0" />
    </g>
    <g v-else-if="kind === 'screw_turned' || kind === 'knob_set' || kind === 'mark_set'">
      <circle cx="18" cy="18" r="12" />
      <path d="M10 18h16M24 5l5 4-5 4" />
    </g>
    <g v-else-if="['part_marked', 'bobbin_look', 'gauge_checked', 'walk_done'].includes(kind)">
      <circle cx="18" cy="18" r="12" />
      <path d="M13 18l4 4 7-9" />
    </g>
    <g v-else-if="kind === 'bobbin_reading' || kind === 'bobbin_purpose'">
      <path d="M5 26a13 13 0 0 1 26 0" />
      <path d="M18 26 25 15" />
    </g>
    <g v-else-if="kind.startsWith('incident')">
      <path d="M9 9 27 27M27 9 9 27" />
      <path v-if="kind === 'incident'" d="M4 18h2M30 18h2M18 4v2M18 30v2" />
    </g>
    <g v-else-if="kind === 'upkeep' || kind === 'preflight'">
      <path d="M7 29 21 15M21 8a7 7 0 0 0 7 9l-5-4 1-4Z" />
      <path d="M5 9h8M5 14h5" />
    </g>
    <g v-else-if="kind === 'look' || kind === 'good_enough'">
      <path d="M3 18h7m4 0h8m4 0h7" />
      <path d="M3 27h30M3 9h30" class="thin" />
    </g>
    <g v-else><path d="M9 5h18v26l-9-6-9 6Z" class="kept" /></g>
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
.thin {
  stroke-width: 1;
}
.kept {
  fill: var(--marigold);
  stroke: var(--ink);
}
</style>
