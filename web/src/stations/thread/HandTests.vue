<script setup lang="ts">
import type { Schemas } from "../../api/client";
import { ref } from "vue";
import { readNumber } from "../../composables/fields";
import { day, localMoment } from "../../words";

/** Judgments by hand, newest last; one tap notes today's. */
type HandTest = Schemas["HandTest"];
const tests = defineModel<HandTest[]>({ required: true });
const KINDS: { kind: Schemas["HandTestKind"]; good: string; bad: string; name: string }[] = [
  { kind: "even", name: "Through the fingers", good: "even", bad: "lumps or thin spots" },
  { kind: "strokes", name: "Stroked, metallic", good: "the wrap holds", bad: "the wrap opens" },
  { kind: "snap", name: "Snapped against new", good: "as strong", bad: "weaker" },
];
/** After how many strokes the wrap opened, where somebody counted. */
const strokes = ref("");
function note(kind: Schemas["HandTestKind"], good: boolean) {
  const counted = kind === "strokes" ? readNumber(strokes.value) : undefined;
  tests.value = [
    ...tests.value,
    {
      kind,
      good,
      on: localMoment(new Date()).slice(0, 10),
      strokes: counted === undefined ? null : Math.round(counted),
    },
  ];
  strokes.value = "";
}
const said = (t: HandTest) => {
  const kind = KINDS.find((k) => k.kind === t.kind);
  const counted = t.strokes == null ? "" : `, ${t.strokes} stroke${t.strokes === 1 ? "" : "s"}`;
  return `${kind?.name}: ${t.good ? kind?.good : kind?.bad}${counted}`;
};
</script>

<template>
  <details :open="tests.length > 0">
    <summary>Hand tests</summary>
    <div class="kinds">
      <div v-for="k in KINDS" :key="k.kind" class="row">
        <span class="name">{{ k.name }}</span>
        <label v-if="k.kind === 'strokes'" class="count"
          >strokes <input v-model="strokes" inputmode="numeric" class="plain-input"
        /></label>
        <button type="button" @click="note(k.kind, true)">{{ k.good }}</button>
        <button type="button" @click="note(k.kind, false)">{{ k.bad }}</button>
      </div>
    </div>
    <ul>
      <li v-for="(t, i) in tests" :key="i">
        {{ day(t.on) }} · {{ said(t) }}
        <button
          type="button"
          class="out"
          :aria-label="`Take out: ${said(t)}`"
          @click="tests = tests.filter((_, n) => n !== i)">
          ✕
        </button>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.kinds {
  display: grid;
  gap: 0.4rem;
}
.count {
  display: flex;
  align-items: center;
  gap: 0.4rem;
}
.count input {
  width: 4rem;
}
.name {
  width: 12rem;
}
button {
  min-height: 44px;
  min-width: 44px;
  border: 2px solid var(--rule);
  background: var(--panel);
  border-radius: 4px;
  padding: 0 0.8rem;
}
ul {
  margin: 0.5rem 0 0;
  padding: 0;
  list-style: none;
}
.out {
  border: 0;
}
</style>
