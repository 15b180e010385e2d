<script setup lang="ts">
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import { answer, client, type Problem, type Schemas } from "../../api/client";
import { fixed } from "../../words";

/** A label in one line, and at once what is understood of it; the likeliest way to read it is chosen beforehand. */
type Reading = Schemas["LabelReading"];
const props = defineProps<{ error?: string }>();
const emit = defineEmits<{ read: [spec: Schemas["DrawerThread"] | null] }>();
const text = defineModel<string>({ required: true });
const found = ref<Schemas["LabelAnswer"] | null>(null);
const chosen = ref(0);
const unread = ref("");
let asked = 0;
function take(index: number, readings: readonly Reading[]) {
  chosen.value = index;
  emit("read", readings[index]?.spec ?? null);
}
watch(text, async (line) => {
  const mine = ++asked;
  if (!line.trim()) {
    found.value = null;
    unread.value = "";
    return;
  }
  try {
    const read = await answer(client.POST("/api/threads/read-label", { body: { text: line } }));
    if (mine !== asked) return;
    found.value = read;
    unread.value = "";
    take(0, read.readings);
  } catch (problem) {
    if (mine !== asked) return;
    found.value = null;
    unread.value = (problem as Problem).message;
    emit("read", null);
  }
});
const best = computed(() => found.value?.readings[chosen.value]);
const said = () => props.error || unread.value;
</script>

<template>
  <div class="stack">
    <label class="field line">
      <span>What the label says</span>
      <InputText
        v-model="text"
        autofocus
        autocomplete="off"
        spellcheck="false"
        placeholder="40/2 cotton · 120d x 2 trilobal · Tex 30 · 0.1 mm clear"
        :invalid="!!said()" />
    </label>
    <div aria-live="polite" class="understood">
      <p v-if="said()" class="field-error" role="alert">{{ said() }}</p>
      <template v-else-if="found">
        <p class="answer" data-answer>
          {{ fixed(best?.tex ?? 0, 1) }} <small>tex, {{ fixed(best?.diameter_mm ?? 0, 2) }} mm thick</small>
        </p>
        <p class="verdict">{{ best?.words }}, {{ best?.made }}</p>
        <p v-if="found.ask">{{ found.ask }}</p>
        <div v-if="found.ask" class="row">
          <button
            v-for="(r, i) in found.readings"
            :key="r.words"
            type="button"
            class="way"
            :aria-pressed="i === chosen"
            @click="take(i, found.readings)">
            {{ r.words }}: {{ fixed(r.tex, 1) }} tex
          </button>
        </div>
        <p v-for="t in best?.taken" :key="t" class="soft">{{ /^(Read|Pearl)/.test(t) ? t : `Taken as ${t}` }}.</p>
      </template>
    </div>
  </div>
</template>

<style scoped>
.line :deep(input) {
  font-size: var(--type-head);
  min-height: 60px;
}
.understood {
  display: grid;
  gap: 0.4rem;
  min-height: 4.6rem;
}
.answer {
  font-size: var(--type-large);
}
.way {
  min-height: 48px;
  padding: 0 0.9rem;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
}
.way[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
</style>
