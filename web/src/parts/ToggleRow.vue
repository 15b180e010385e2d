<script setup lang="ts" generic="T">
import { computed } from "vue";

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
const STEPS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };
function walk(event: KeyboardEvent) {
  const step = STEPS[event.key];
  const row = event.currentTarget as HTMLElement;
  const all = [...row.querySelectorAll("button")];
  const at = all.indexOf(document.activeElement as HTMLButtonElement);
  if (!step || at < 0) return;
  event.preventDefault();
  all[(at + step + all.length) % all.length]?.focus();
}
</script>

<template>
  <div class="toggle-row" role="group" :aria-label="label">
    <span class="soft">{{ label }}</span>
    <div data-arrows @keydown="walk">
      <button
        v-for="(o, n) in options"
        :key="o.name"
        type="button"
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
