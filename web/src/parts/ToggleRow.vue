<script setup lang="ts" generic="T">
/** A few choices side by side, one of them on. */
defineProps<{ label: string; options: { value: T; name: string }[] }>();
const value = defineModel<T>({ required: true });
</script>

<template>
  <div class="toggle-row" role="group" :aria-label="label">
    <span class="soft">{{ label }}</span>
    <div>
      <button
        v-for="o in options"
        :key="o.name"
        type="button"
        class="toggle"
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
