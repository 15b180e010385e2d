<script setup lang="ts">
import { walkArrows } from "../composables/arrows";

/** Big keys for a thumb, one stop of the Tab key; the digits of a keyboard work in the field itself. */
const text = defineModel<string>({ required: true });
defineProps<{ enterLabel: string; canEnter: boolean }>();
const emit = defineEmits<{ enter: [] }>();
const KEYS = ["1", "2", "3", "4", "5", "6", "7", "8", "9", ".", "0", "⌫"];

function press(key: string) {
  if (key === "⌫") text.value = text.value.slice(0, -1);
  else if (key !== "." || !text.value.includes(".")) text.value += key;
}
</script>

<template>
  <div class="pad" role="group" aria-label="Number pad" @keydown="walkArrows($event, 3)">
    <button
      v-for="(key, n) in KEYS"
      :key="key"
      type="button"
      data-key
      :tabindex="n ? -1 : 0"
      :aria-label="key === '⌫' ? 'Delete last digit' : key"
      @click="press(key)">
      {{ key }}
    </button>
    <button type="button" class="enter" :disabled="!canEnter" @click="emit('enter')">{{ enterLabel }}</button>
  </div>
</template>

<style scoped>
.pad {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 0.4rem;
}
button {
  min-height: 60px;
  font-size: var(--type-head);
  font-weight: 650;
  border: 0;
  border-radius: 4px;
  background: var(--linen);
}
button:active {
  background: var(--marigold);
}
.enter {
  grid-column: 1 / -1;
  background: var(--indigo);
  color: #fff;
  font-size: var(--type-lead);
}
@media (max-width: 600px) {
  /* What takes the number stands beside the keys: a row less to travel. */
  .pad {
    grid-template-columns: repeat(3, 1fr) 1.1fr;
  }
  button {
    min-height: 44px;
  }
  .enter {
    grid-column: 4;
    grid-row: 1 / span 4;
    font-size: 1rem;
  }
}
.enter:disabled {
  background: var(--rule);
  color: var(--ink-soft);
}
</style>
