<script setup lang="ts" generic="T extends string | number">
import Select from "primevue/select";
import { useId } from "vue";

/** A labeled choice; the label is tied to the control, and the error stands under it. */
defineProps<{ label: string; options: { value: T; name: string }[]; error?: string }>();
const value = defineModel<T>({ required: true });
const id = useId();
</script>

<template>
  <div class="field-group">
    <span :id="id" class="soft">{{ label }}</span>
    <Select v-model="value" :options="options" option-label="name" option-value="value" :aria-labelledby="id" fluid />
    <span v-if="error" class="field-error" role="alert">{{ error }}</span>
  </div>
</template>

<style scoped>
.field-group {
  display: grid;
  gap: 0.25rem;
  align-content: start;
}
.field-group > .soft {
  font-size: var(--type-small);
  font-weight: 560;
}
</style>
