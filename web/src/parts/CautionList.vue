<script setup lang="ts">
import type { Schemas } from "../api/client";

defineProps<{ cautions: readonly Schemas["Caution"][] }>();
</script>

<template>
  <ul v-if="cautions.length" class="cautions" aria-label="Cautions">
    <li v-for="caution in cautions" :key="caution.text">
      <svg viewBox="0 0 20 20" width="20" height="20" aria-hidden="true">
        <path d="M10 1 19 10 10 19 1 10Z" fill="#f7c35f" stroke="#6b4400" />
        <path d="M10 5.5v6M10 14v.6" stroke="#3a2500" stroke-width="2" stroke-linecap="round" />
      </svg>
      <span>{{ caution.text }}</span>
    </li>
  </ul>
</template>

<style scoped>
.cautions {
  margin: 0;
  padding: 0.7rem 0.9rem;
  list-style: none;
  display: grid;
  gap: 0.45rem;
  background: var(--amber-wash);
  border-radius: 4px;
  font-size: var(--type-small);
}
li {
  display: grid;
  grid-template-columns: 20px 1fr;
  gap: 0.6rem;
  align-items: start;
}
svg {
  margin-top: 0.15rem;
}
</style>
