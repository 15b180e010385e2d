<script setup lang="ts">
/** A choice about a machine as a drawing: its top tension, where the bobbin sits, how it is measured, its needles. */
type What =
  "flat_shank" | "round_shank" | "dial" | "turns" | "readout" | "case" | "drop_in" | "gauge" | "no_gauge" | "unknown";
defineProps<{ what: What }>();
</script>

<template>
  <svg viewBox="0 0 120 84" aria-hidden="true">
    <!-- a shank with a flat side, and one that is round all the way -->
    <g v-if="what === 'flat_shank' || what === 'round_shank'">
      <path d="M54 6h12v34l-3 6v32l-3 5-3-5V46l-3-6Z" class="body" />
      <path v-if="what === 'flat_shank'" d="M54 6v34" class="mark-line" />
      <g transform="translate(98 24)">
        <path v-if="what === 'flat_shank'" d="M-9-11a14 14 0 1 1 0 22Z" class="body" />
        <circle v-else r="14" class="body" />
      </g>
    </g>
    <g v-else-if="what === 'dial'">
      <circle cx="60" cy="44" r="28" class="body" />
      <path d="M60 44 76 26" class="needle" />
      <text x="60" y="14" class="t">5</text>
      <text x="24" y="50" class="t">3</text>
      <text x="98" y="50" class="t">7</text>
    </g>
    <g v-else-if="what === 'turns'">
      <circle cx="60" cy="44" r="26" class="body" />
      <path
        v-for="n in 12"
        :key="n"
        :d="`M60 44m${26 * Math.cos((n * Math.PI) / 6)} ${26 * Math.sin((n * Math.PI) / 6)}l${5 * Math.cos((n * Math.PI) / 6)} ${5 * Math.sin((n * Math.PI) / 6)}`"
        class="line" />
      <path d="M92 30a36 36 0 0 1 0 28l-6-4m6 4 4-7" class="mark-line" />
    </g>
    <g v-else-if="what === 'readout'">
      <rect x="18" y="20" width="84" height="44" rx="5" class="body" />
      <text x="60" y="54" class="digits">210</text>
    </g>
    <g v-else-if="what === 'case'">
      <path d="M34 42a26 26 0 1 1 52 0v14H34Z" class="body" />
      <circle cx="60" cy="42" r="13" class="hole" />
      <path d="M38 50h22" class="mark-line" />
      <path d="M86 48c14 2 16 14 24 14" class="thread" />
    </g>
    <g v-else-if="what === 'drop_in'">
      <rect x="14" y="26" width="92" height="46" rx="5" class="body" />
      <circle cx="60" cy="49" r="19" class="hole" />
      <circle cx="60" cy="49" r="6" class="mark" />
      <path d="M60 2v16m-6-6 6 7 6-7" class="line" />
    </g>
    <g v-else-if="what === 'gauge'">
      <path d="M24 60a36 36 0 0 1 72 0Z" class="body" />
      <path d="M60 60 78 36" class="needle" />
      <path d="M10 72h100" class="thread" />
    </g>
    <g v-else-if="what === 'no_gauge'">
      <path d="M20 70c6-26 16-36 40-36s34 10 40 36" class="hand" />
      <circle cx="60" cy="46" r="13" class="body" />
      <path d="M60 33V6" class="thread" />
    </g>
    <text v-else x="60" y="60" class="ask">?</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 84px;
}
.body {
  fill: var(--steel-light);
  stroke: var(--ink);
  stroke-width: 2.5;
  stroke-linejoin: round;
}
.hole {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
.line,
.mark-line,
.needle,
.thread,
.stitch,
.hand {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.5;
  stroke-linecap: round;
}
.needle,
.mark-line {
  stroke: var(--vermilion);
}
.thread {
  stroke: var(--teal);
  stroke-width: 3;
}
.stitch {
  stroke: var(--teal);
  stroke-dasharray: 8 5;
}
.mark {
  fill: var(--vermilion);
}
.t {
  font-size: 13px;
  text-anchor: middle;
  fill: var(--ink);
}
.digits {
  font-size: 30px;
  font-weight: 700;
  text-anchor: middle;
  fill: var(--ink);
}
.ask {
  font-size: 52px;
  font-weight: 700;
  text-anchor: middle;
  fill: var(--ink-soft);
}
</style>
