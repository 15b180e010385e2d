<script setup lang="ts">
import { computed } from "vue";
import { useWords } from "../../api/queries";
import { NO_COLOR } from "../../drawn";

/** The thread's color: one of forty dyes by name, another that is mixed, or not known. */
defineProps<{ error?: string }>();
const color = defineModel<string>({ required: true });
const { data: words } = useWords();
const known = computed(() => color.value !== NO_COLOR);
const name = computed(() => Object.entries(words.value?.dyes ?? {}).find(([, hex]) => hex === color.value)?.[0]);
const says = computed(() => (known.value ? (name.value ?? "mixed") : "not known"));
</script>

<template>
  <details class="dyes">
    <summary>
      <span>Color</span>
      <span class="now"><i :style="known ? { background: color } : {}" :class="{ none: !known }" />{{ says }}</span>
    </summary>
    <div class="grid" role="group" aria-label="Dyes">
      <button
        v-for="(hex, dye) in words?.dyes"
        :key="dye"
        type="button"
        :title="dye"
        :aria-label="dye"
        :aria-pressed="hex === color"
        :style="{ background: hex }"
        @click="color = hex" />
    </div>
    <div class="row">
      <label class="mix">Mix another <input v-model="color" type="color" /></label>
      <button type="button" class="plain" :aria-pressed="!known" @click="color = NO_COLOR">Not known</button>
    </div>
    <p v-if="error" class="field-error">{{ error }}</p>
  </details>
</template>

<style scoped>
summary {
  display: grid;
  gap: 0.2rem;
  list-style: none;
  font-weight: 600;
  cursor: pointer;
}
.dyes > summary::before {
  content: none;
}
.now {
  display: flex;
  align-items: center;
  gap: 0.6rem;
  min-height: 48px;
  padding: 0 0.6rem;
  border: 1px solid var(--rule);
  border-radius: 4px;
  font-weight: 400;
}
i {
  width: 28px;
  height: 28px;
  border-radius: 50%;
  border: 1px solid #0006;
}
.none {
  border-style: dashed;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, 44px);
  gap: 4px;
  padding: 0.5rem 0;
}
.grid button {
  height: 44px;
  border: 1px solid #0004;
  border-radius: 4px;
}
.grid button[aria-pressed="true"] {
  outline: 3px solid var(--ink);
  outline-offset: 1px;
}
.mix {
  display: flex;
  align-items: center;
  gap: 0.5rem;
  min-height: 44px;
}
.plain {
  min-height: 44px;
  padding: 0 0.9rem;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: none;
}
</style>
