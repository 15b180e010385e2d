<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import type { Schemas } from "../api/client";

/** How far long work is, while it runs. */
const props = defineProps<{ job: Schemas["JobState"] | null }>();
defineEmits<{ stop: [] }>();
const share = computed(() => (props.job?.total ? Math.min(1, props.job.done / props.job.total) : undefined));
</script>

<template>
  <div v-if="job?.state === 'running'" class="row job" role="status">
    <span>{{ job.doing }}</span>
    <progress :value="share" :aria-label="job.doing" />
    <Button label="Break it off" text @click="$emit('stop')" />
  </div>
</template>

<style scoped>
.job {
  align-items: center;
}
progress {
  flex: 1 1 8rem;
  height: 0.8rem;
  accent-color: var(--marigold);
}
</style>
