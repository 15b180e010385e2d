<script setup lang="ts">
/** What goes wrong, as it looks: one small drawing for each symptom of the page of troubles. */
defineProps<{ symptom: string }>();
</script>

<template>
  <svg viewBox="0 0 112 72" aria-hidden="true">
    <g v-if="symptom === 'frays_above_the_eye'" transform="translate(-28 -16) scale(1.5)">
      <path class="needle" d="M52 0h9v46l-4.5 16L52 46Z" />
      <ellipse class="eye" cx="56.5" cy="42" rx="1.700" ry="6" />
      <path class="thread" d="M56 2v15M56 30v14" />
      <path
        class="hair"
        d="M56 15c-2 5-8 6-12 5m12-3c3 5 9 4 12 2m-12 0c-3 4-6 8-11 8m11-5c4 3 8 8 12 7m-12-4c-1 4-2 6-1 8" />
    </g>
    <g v-else-if="symptom === 'clean_snap_of_the_top_thread'" transform="translate(-28 -10) scale(1.5)">
      <path class="needle" d="M52 0h9v46l-4.5 16L52 46Z" />
      <ellipse class="eye" cx="56.5" cy="42" rx="1.700" ry="6" />
      <path class="thread" d="M56 2v14M56 33v10c0 8-12 12-26 12" />
      <path class="bad" d="M49 18h14M49 30h14" />
    </g>
    <g v-else-if="symptom === 'bobbin_thread_breaks'">
      <circle class="metal" cx="52" cy="44" r="22" />
      <circle class="hub" cx="52" cy="44" r="7" />
      <path class="below" d="M39 44a13 13 0 1 1 13 13M70 32 78 25M88 16l10-9" />
      <path class="bad" d="M76 15l14 12" />
    </g>
    <g v-else-if="symptom === 'loops_or_nest_on_the_back'">
      <rect class="cloth" y="6" width="112" height="17" />
      <path class="thread" d="M6 14h100" stroke-dasharray="14 8" />
      <path
        class="thread thin"
        d="M22 23c-12 18 14 28 14 8s-22-6-6 18 26-8 16-22 2 40 20 26-8-30-10-10 24 26 26 4-16-10-8 6 18 6 18-10" />
    </g>
    <g v-else-if="symptom === 'bobbin_thread_dots_on_top'">
      <rect class="cloth" y="12" width="112" height="48" />
      <path class="thread" d="M4 36h104" />
      <ellipse v-for="x in [14, 42, 70, 98]" :key="x" class="dot" :cx="x" cy="36" rx="5" ry="6.5" />
    </g>
    <g v-else-if="symptom === 'nest_at_the_start'">
      <rect class="cloth" y="12" width="112" height="48" />
      <path class="thread" d="M40 36h66" stroke-dasharray="15 7" />
      <path
        class="thread thin"
        d="M44 36c-10-22-40-12-30 4s34 4 18-12-34 12-12 20 30-26 10-24-22 30-2 30 20-22 6-26-18 20-8 24" />
    </g>
    <g v-else-if="symptom === 'skipped_stitches'">
      <rect class="cloth" y="12" width="112" height="48" />
      <path class="thread" d="M4 36h13M22 36h13M78 36h13M96 36h12" />
      <path class="hair" d="M38 36h37" stroke-dasharray="2 5" />
      <circle v-for="x in [19, 37, 56, 76, 93]" :key="x" class="hole" :cx="x" cy="36" r="2.600" />
    </g>
    <g v-else-if="symptom === 'uneven_tension'">
      <rect class="cloth" y="12" width="112" height="48" />
      <path class="thread" d="M4 36h14M23 36h14" />
      <path class="thread" d="M40 36h26" stroke-width="2.5" />
      <path class="thread thin" d="M70 36q6-15 12 0q5 15 10 0q5-13 9 0" />
      <ellipse class="dot" cx="47" cy="36" rx="4.5" ry="6" />
      <ellipse class="dot" cx="60" cy="36" rx="4.5" ry="6" />
    </g>
    <g v-else-if="symptom === 'loops_only_on_curves'">
      <rect class="cloth" y="4" width="112" height="64" />
      <path class="thread" d="M8 56h26M74 12h30" stroke-dasharray="12 6" />
      <path
        class="thread thin"
        d="M38 56q18 0 22-8m-20 8c-2-12 8-12 6-1m8-4c-6-10 8-14 6-2m1-6c-10-6 0-18 3-7m-1-4c-8-10 4-16 6-6m0-4c-2-8 8-8 6 0" />
    </g>
    <g v-else-if="symptom === 'false_break_alarm'">
      <path class="thread" d="M14 4v64" />
      <path class="lamp" d="M52 54V38a17 17 0 0 1 34 0v16Z" />
      <path class="bad" d="M45 56h48M69 12V5M47 20l-6-5M91 20l6-5M41 37h-7M97 37h7" />
    </g>
    <g v-else-if="symptom === 'gauge_flutters'">
      <path class="metal" d="M10 60a46 46 0 0 1 92 0Z" />
      <path class="hair" d="M56 60 38 26M56 60 76 27" />
      <path class="bad" d="M56 60 57 21M42 18q14-8 29 0M44 12l-3 7 7 1M69 12l3 7-7 1" />
    </g>
    <g v-else-if="symptom === 'tangle_round_the_case_after_stopping'">
      <circle class="metal" cx="56" cy="38" r="22" />
      <circle class="hub" cx="56" cy="38" r="6" />
      <path class="below" d="M28 46c-8-30 36-48 52-22s-14 48-40 36-10-52 22-46 36 40 10 48-58-12-42-36" />
    </g>
    <g v-else-if="symptom === 'popping_or_thumping'">
      <rect class="cloth" y="48" width="112" height="18" />
      <path class="needle" d="M52 0h9v40l-4.5 15L52 40Z" />
      <path class="bad" d="M38 40q-6-8 0-16M28 46q-11-14 0-28M75 40q6-8 0-16M85 46q11-14 0-28" />
    </g>
    <g v-else-if="symptom === 'breaks_in_one_travel_direction_only'">
      <path class="thread" d="M8 20h82" />
      <path class="way" d="M86 10l13 10-13 10" />
      <path class="thread" d="M104 52H72M44 52H26" />
      <path class="way" d="M27 42 14 52l13 10" />
      <path class="bad" d="M52 45l12 14M64 45 52 59" />
    </g>
    <g v-else-if="symptom === 'breaks_only_mid_frame'">
      <path class="rail" d="M4 8h104M4 64h104" />
      <path class="thread" d="M8 36h32M72 36h32" stroke-dasharray="12 6" />
      <path class="bad" d="M50 29l12 14M62 29 50 43" />
    </g>
    <g v-else-if="symptom === 'tension_drifts_through_a_bobbin'">
      <circle class="metal" cx="20" cy="18" r="15" />
      <circle class="below full" cx="20" cy="18" r="9" />
      <circle class="metal" cx="92" cy="18" r="15" />
      <circle class="hub" cx="92" cy="18" r="4.5" />
      <path class="way" d="M42 18h26M62 11l8 7-8 7" />
      <path class="bad" d="M8 64q50-2 96-22" />
    </g>
    <g v-else-if="symptom === 'needle_bends_or_breaks'">
      <path class="needle" d="M26 0h9v34q0 12 12 22l-3 5q-18-10-18-27Z" />
      <path class="needle" d="M74 0h9v26l-4 4-5-4ZM75 42l5-4 3 4v8l-4 14-4-14Z" />
      <path class="bad" d="M66 36h26" />
    </g>
    <g v-else-if="symptom === 'thread_melts_or_curls'">
      <path class="thread" d="M8 20c14-22 26 20 12 18s6-30 20-12-6 34-8 18 22-22 32-6" />
      <path class="bad" d="M78 62c-10-8-4-16 2-24 1 8 8 6 8 14 3-3 4-6 3-10 9 9 6 18-1 22Z" />
    </g>
    <g v-else>
      <rect class="cloth" y="8" width="112" height="56" />
      <path class="thread" d="M4 22h104" stroke-dasharray="14 8" />
      <circle v-for="x in [21, 43, 65, 87]" :key="x" class="hole" :cx="x" cy="22" r="5" />
      <path class="hair" d="M4 46q10-9 20 0t20 0 20 0 20 0 20 0M8 56q10-9 20 0t20 0 20 0 20 0" />
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
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
  stroke-width: 5;
}
.thread.thin {
  stroke-width: 3.4;
}
.below {
  stroke: var(--bobbin-thread);
  stroke-width: 3.6;
}
.below.full,
.dot {
  fill: var(--bobbin-thread);
  stroke: var(--panel);
  stroke-width: 1.6;
}
.hair {
  stroke: var(--ink-soft);
  stroke-width: 2;
}
.needle,
.metal {
  fill: var(--steel-light);
  stroke: var(--steel);
  stroke-width: 2;
}
.hub,
.hole {
  fill: var(--panel);
  stroke: var(--steel);
  stroke-width: 2;
}
.eye {
  fill: var(--panel);
  stroke: var(--steel);
}
.cloth {
  fill: var(--cloth);
}
.bad {
  stroke: var(--vermilion);
  stroke-width: 3.6;
}
.lamp {
  fill: var(--amber-wash);
  stroke: var(--amber);
  stroke-width: 3;
}
.way {
  stroke: var(--ink);
  stroke-width: 3;
}
.rail {
  stroke: var(--steel);
  stroke-width: 8;
}
</style>
