<script setup lang="ts">
/** Says that a form holds what was typed before and not sent, and lets go of it. */
defineProps<{ shown: boolean }>();
const emit = defineEmits<{ drop: [] }>();
</script>

<template>
  <p v-if="shown" class="draft" role="status">
    <span>A draft: this was typed before and is not in the log yet.</span>
    <button type="button" @click="emit('drop')">Drop it</button>
  </p>
</template>

<style scoped>
.draft {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.3rem 1rem;
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.2rem 0.8rem;
}
button {
  min-height: 44px;
  border: 0;
  background: none;
  text-decoration: underline;
  text-underline-offset: 4px;
}
</style>
