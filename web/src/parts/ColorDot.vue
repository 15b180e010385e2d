<script setup lang="ts">
/** A thread's color as a dot, beside its name. */
defineProps<{ color: string; size: number }>();
</script>

<template>
  <svg :viewBox="`0 0 ${size} ${size}`" :width="size" :height="size" aria-hidden="true">
    <circle :cx="size / 2" :cy="size / 2" :r="size / 2 - 1" :fill="color" class="swatch" />
  </svg>
</template>
