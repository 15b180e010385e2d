<script setup lang="ts">
import { computed } from "vue";

/** The bobbin case seen from its screw side, with the turn to make as an arc on a clock face. */
const props = defineProps<{ minutes: number; tighten: boolean; words: string }>();

const C = { x: 150, y: 100, r: 66 };
const angle = computed(() => ((props.tighten ? 1 : -1) * props.minutes * Math.PI) / 30);
const at = (a: number, r: number) => `${C.x + r * Math.sin(a)} ${C.y - r * Math.cos(a)}`;
const arc = computed(() => `M${at(0, C.r)}A${C.r} ${C.r} 0 0 ${props.tighten ? 1 : 0} ${at(angle.value, C.r)}`);
const head = computed(() => {
  const back = angle.value - (props.tighten ? 0.2 : -0.2);
  return `M${at(angle.value, C.r)}L${at(back, C.r + 11)}L${at(back, C.r - 11)}Z`;
});
const ticks = Array.from({ length: 60 }, (_, i) => i);
</script>

<template>
  <svg viewBox="0 0 300 206" role="img" :aria-label="words">
    <!-- the case's wall, its tension spring, and the smaller screw that is left alone -->
    <rect x="6" y="14" width="288" height="178" rx="26" class="wall" />
    <path d="M22 172C90 150 212 150 284 128" class="spring" />
    <circle cx="262" cy="52" r="11" class="screw small" />
    <path d="M255 52h14" class="slot thin" />
    <circle :cx="C.x" :cy="C.y" r="84" class="face" />
    <path
      v-for="i in ticks"
      :key="i"
      :d="`M${at((i * Math.PI) / 30, i % 5 ? 79 : 75)}L${at((i * Math.PI) / 30, 83)}`"
      :class="['tick', { five: i % 5 === 0 }]" />
    <circle :cx="C.x" :cy="C.y" r="38" class="screw" />
    <path :d="`M${at(0, 30)}L${at(Math.PI, 30)}`" class="slot" />
    <path :d="`M${at(angle, 30)}L${at(angle + Math.PI, 30)}`" class="slot to" />
    <path :d="arc" class="arc" />
    <path :d="head" class="head" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-width: 380px;
  margin: 0 auto;
}
.wall {
  fill: var(--steel-light);
  stroke: var(--steel);
  stroke-width: 2;
}
.spring {
  fill: none;
  stroke: var(--steel);
  stroke-width: 12;
  stroke-linecap: round;
  opacity: 0.6;
}
.face {
  fill: var(--panel);
  stroke: var(--rule);
  stroke-width: 2;
}
.tick {
  stroke: var(--ink-soft);
  stroke-width: 1;
}
.tick.five {
  stroke: var(--ink);
  stroke-width: 2.2;
}
.screw {
  fill: var(--steel-light);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.screw.small {
  stroke: var(--steel);
  stroke-width: 2;
}
.slot {
  stroke: var(--ink);
  stroke-width: 8;
  stroke-linecap: round;
  opacity: 0.35;
}
.slot.thin {
  stroke-width: 3;
}
.slot.to {
  opacity: 1;
  stroke: var(--marigold);
}
.arc {
  fill: none;
  stroke: var(--marigold);
  stroke-width: 9;
}
.head {
  fill: var(--marigold);
  stroke: var(--marigold);
  stroke-width: 2;
}
</style>
