<script setup lang="ts">
import { onMounted, onUnmounted, ref } from "vue";

/** While the workshop behind the page is still being opened: what is being done, and how far it is. */
interface Progress {
  ready: boolean;
  doing: string;
  share: number;
}
const progress = ref<Progress | null>(null);
let timer = 0;
async function ask() {
  const answer = await fetch("/api/ready").catch(() => null);
  progress.value = answer?.ok ? ((await answer.json()) as Progress) : null;
  if (progress.value && !progress.value.ready) timer = window.setTimeout(ask, 250);
}
onMounted(ask);
onUnmounted(() => window.clearTimeout(timer));
</script>

<template>
  <section v-if="progress && !progress.ready" class="panel opening" role="status">
    <p class="verdict">{{ progress.doing }}</p>
    <progress :value="progress.share" max="1" :aria-label="progress.doing" />
  </section>
</template>

<style scoped>
.opening {
  max-width: 40rem;
  margin: 2rem auto;
}
progress {
  width: 100%;
  height: 1.4rem;
  accent-color: var(--teal);
}
</style>
