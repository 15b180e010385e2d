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
  font-size: 0.9rem;
  font-weight: 560;
}
.toggle-row div {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
}
button {
  min-height: 48px;
  border: 2px solid var(--rule);
  background: var(--panel);
  border-radius: 4px;
  padding: 0 0.9rem;
  font-weight: 600;
}
button[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
</style>
