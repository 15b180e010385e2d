<script setup lang="ts" generic="T extends string">
import { useRoute, useRouter } from "vue-router";

/** Which part of a station is open; kept in the address, so that Back works. */
defineProps<{ segments: { value: T; name: string }[]; label: string }>();
const open = defineModel<T>({ required: true });
const route = useRoute();
const router = useRouter();

function choose(value: T) {
  open.value = value;
  void router.replace({ query: { ...route.query, part: value } });
}
</script>

<template>
  <div class="segments" role="group" :aria-label="label">
    <button
      v-for="s in segments"
      :key="s.value"
      type="button"
      :aria-pressed="open === s.value"
      @click="choose(s.value)">
      {{ s.name }}
    </button>
  </div>
</template>

<style scoped>
.segments {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1.4rem;
  border-bottom: 3px dashed var(--rule);
}
button {
  min-height: 48px;
  border: 0;
  background: none;
  font-weight: 620;
  font-size: 1rem;
  padding: 0 0.2rem;
  color: var(--ink-soft);
  border-bottom: 5px solid transparent;
  margin-bottom: -4px;
}
/* On a phone the parts stand in one row that scrolls: what they lead to comes first. */
@media (max-width: 600px) {
  .segments {
    flex-wrap: nowrap;
    overflow-x: auto;
    scrollbar-width: none;
  }
  button {
    flex: none;
    white-space: nowrap;
    margin-bottom: 0;
  }
}
button[aria-pressed="true"] {
  color: var(--ink);
  border-bottom-color: var(--marigold);
}
</style>
