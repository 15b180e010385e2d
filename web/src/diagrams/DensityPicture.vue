<script setup lang="ts">
import { computed } from "vue";

/** A palm of quilting, 60 mm wide, with its lines as far apart as they are sewn. */
const props = defineProps<{ apart: number }>();
const WIDE = 60;
const TALL = 40;
/** One line of a meander, swinging by a good third of its distance. */
const paths = computed(() => {
  const found: string[] = [];
  const step = Math.max(props.apart, 1.5);
  for (let y = Math.min(step / 2, TALL / 2); y < TALL; y += step) {
    const swing = Math.min(step, 12) * 0.35;
    const wave = Math.min(Math.max(step, 3), 15);
    let d = `M0 ${y.toFixed(1)}`;
    for (let x = 0; x < WIDE; x += wave) d += ` q${wave / 4} ${-swing} ${wave / 2} 0 t${wave / 2} 0`;
    found.push(d);
  }
  return found;
});
</script>

<template>
  <svg :viewBox="`0 0 ${WIDE} ${TALL}`" aria-hidden="true">
    <rect :width="WIDE" :height="TALL" class="cloth" />
    <path v-for="d in paths" :key="d" :d="d" class="stitch" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  overflow: hidden;
  border-radius: 3px;
}
.cloth {
  fill: #eef1f3;
}
.stitch {
  fill: none;
  stroke: #1f2a56;
  stroke-width: 0.7;
}
</style>
