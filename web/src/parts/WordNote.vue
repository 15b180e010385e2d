<script setup lang="ts">
import { computed, ref } from "vue";
import { useProcedures } from "../api/queries";

/** A word of the trade where it stands; a tap explains it. */
const props = defineProps<{ term: string; says?: string }>();
const { data } = useProcedures();
const open = ref(false);
const explained = computed(() => data.value?.terms.find((t) => t.term === props.term)?.says);
</script>

<template>
  <span class="word"
    ><button type="button" :aria-expanded="open" @click="open = !open">{{ says ?? term }}</button
    ><span v-if="open" class="said" role="status">{{ explained }}</span></span
  >
</template>

<style scoped>
button {
  border: 0;
  background: none;
  min-width: 44px;
  min-height: 46px;
  margin: -0.6rem 0;
  padding: 0;
  font: inherit;
  color: inherit;
  text-decoration: underline dotted;
  text-underline-offset: 4px;
  cursor: help;
}
.said {
  display: block;
  font-size: 1rem;
  font-weight: 400;
  color: var(--ink);
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.3rem 0.6rem;
}
</style>
