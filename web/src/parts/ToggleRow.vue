<script setup lang="ts" generic="T">
import { computed } from "vue";
import { walkArrows } from "../composables/arrows";

/** A few choices side by side, one of them on: one stop of the Tab key, arrows go from one to the next. */
const props = defineProps<{ label: string; options: { value: T; name: string }[] }>();
const value = defineModel<T>({ required: true });
/** Where Tab stops: at what is on, else at the first. */
const stop = computed(() =>
  Math.max(
    0,
    props.options.findIndex((o) => o.value === value.value),
  ),
);
</script>

<template>
  <div class="toggle-row" role="group" :aria-label="label">
    <span class="soft">{{ label }}</span>
    <div data-arrows @keydown="walkArrows">
      <button
        v-for="(o, n) in options"
        :key="o.name"
        type="button"
        data-key
        class="toggle"
        :tabindex="n === stop ? 0 : -1"
        :aria-pressed="value === o.value"
        @click="value = o.value">
        {{ o.name }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.toggle-row {
  display: grid;
  gap: 0.25rem;
}
.toggle-row > .soft {
  font-size: var(--type-small);
  font-weight: 560;
}
.toggle-row div {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
}
</style>
