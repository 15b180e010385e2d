<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref } from "vue";
import { useRoute } from "vue-router";
import { answer, client, type Schemas } from "../../api/client";
import { useThreadStation, useWords } from "../../api/queries";
import { useMachineChange, useSend } from "../../composables/send";
import { useHas } from "../../composables/features";
import { useHere, useMachine, useMachineId } from "../../composables/machine";
import { GUIDE_HOLES } from "../../machines";
import FieldBox from "../../parts/FieldBox.vue";
import FiguresNote from "../../parts/FiguresNote.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import WalkThrough from "../../parts/WalkThrough.vue";
import GuideMark from "../../diagrams/GuideMark.vue";
import { counted } from "../../words";

type Point = Schemas["PathPoint"];

const machine = useMachineId();
const { data: words } = useWords();
const { data } = useThreadStation(machine);
/** Another station may send the hand to one point of the path. */
const at = ref(Number(useRoute().query.point ?? 0) || 0);
const points = computed(() => data.value?.path ?? []);

const has = useHas();
const bounces = computed(() => (has("check_spring") ? "the check spring bounces, " : ""));
/** Asked where it is first needed: how many holes a thread goes through depends on it. */
const asked = computed(() => has("longarm") && !data.value?.own_path && item.value?.spec.guide_holes == null);
const item = useMachine();
/** Nothing is chosen yet. */
const UNSAID: number | null = null;
const HOLES = [
  { value: null as number | null, name: "not tried" },
  ...[1, 2, 3].map((n) => ({ value: n as number | null, name: `${n}` })),
];
const here = useHere();
const holes = useSend(
  (found: number | null) =>
    answer(client.PUT("/api/machines/{machine_id}/thread/holes", { ...here(), body: { holes: found } })),
  { says: (thread) => `Saved for ${thread.spec.name}.` },
);

const draft = ref<Point[] | null>(null);
const change = useMachineChange(machine, {
  then: () => {
    draft.value = null;
    at.value = 0;
  },
  says: (done) => (done.spec.path ? "The path of this machine is saved." : "The usual path for this machine."),
});
function edit() {
  // Edited is the machine's path itself, not the one made for today's thread.
  draft.value = (data.value?.machine_path ?? []).map((p) => ({ ...p }));
}
/** A guide goes before the needle where the path has one; needle and tail close it. */
function spot(guide: Point) {
  const list = draft.value ?? [];
  const closes = (p: Point) => /needle eye|tail/i.test(p.name);
  const end = list.findIndex(closes);
  return closes(guide) || end < 0 ? list.length : end;
}
function move(i: number, by: number) {
  const list = draft.value;
  const [taken] = list?.splice(i, 1) ?? [];
  if (list && taken) list.splice(i + by, 0, taken);
}
const save = (path: Point[] | null) => change.go({ path });
const errors = computed(() => Object.values(change.problem.value?.fields ?? {})[0] ?? change.problem.value?.message);
</script>

<template>
  <div v-if="data" class="path">
    <section v-if="draft" class="panel stack">
      <h2>The path of this machine</h2>
      <p>Follow the thread from the pin to the needle. Tap each guide it meets, in order.</p>
      <div class="guides">
        <button
          v-for="(p, kind) in words?.guides"
          :key="kind"
          type="button"
          @click="draft.splice(spot(p), 0, { ...p })">
          <GuideMark :kind="kind as Schemas['Guide']" />{{ p.name }}
        </button>
      </div>
      <div v-for="(p, i) in draft" :key="i" class="edit">
        <FieldBox :label="`Point ${i + 1}`"><InputText v-model="p.name" /></FieldBox>
        <FieldBox label="How"><InputText v-model="p.how" /></FieldBox>
        <FieldBox label="Proof"><InputText v-model="p.proof" /></FieldBox>
        <div class="row">
          <Button
            label="Down"
            text
            :disabled="i === draft.length - 1"
            :aria-label="`Down: point ${i + 1}`"
            @click="move(i, 1)" />
          <Button label="Up" text :disabled="i === 0" :aria-label="`Up: point ${i + 1}`" @click="move(i, -1)" />
          <Button
            label="Take out"
            text
            severity="secondary"
            :aria-label="`Take out point ${i + 1}`"
            @click="draft.splice(i, 1)" />
        </div>
      </div>
      <p v-if="errors" class="field-error" role="alert">{{ errors }}</p>
      <div class="row">
        <Button label="Start over" text @click="draft = []" />
        <Button label="Save path" @click="save(draft)" />
        <Button v-if="data.own_path" label="Back to the usual path" outlined @click="save(null)" />
        <Button label="Leave it" text @click="draft = null" />
      </div>
    </section>
    <WalkThrough
      v-else
      v-model="at"
      :steps="points"
      counted="Point"
      done="Threaded"
      :says="`All ${points.length} points walked. Pull gently at the needle: ${bounces}the thread runs evenly.`">
      <ol>
        <li v-for="(p, i) in points" :key="p.name" :class="{ done: i < at, now: i === at }">
          <span>{{ p.name }}</span>
        </li>
      </ol>
      <Button label="This machine's path differs" text @click="edit" />
    </WalkThrough>
    <section v-if="asked" class="panel stack">
      <h2>Is there a guide with holes?</h2>
      <p>Before the tension discs, on many heads. How many holes a thread goes through is part of its tension.</p>
      <ToggleRow
        :model-value="UNSAID"
        label="It has"
        :options="GUIDE_HOLES"
        @update:model-value="change.go({ guide_holes: $event })" />
    </section>
    <section v-if="data.pulls.length" class="panel stack">
      <h2>What the guide holes do</h2>
      <p class="verdict">Use {{ data.holes }} for this thread{{ data.tried ? ", as you found" : "" }}.</p>
      <ToggleRow
        v-if="data.setup.top?.length === 1"
        :model-value="data.tried ?? null"
        label="By trial do"
        :options="HOLES"
        @update:model-value="holes.go($event)" />
      <p v-if="holes.problem.value" class="field-error" role="alert">{{ holes.problem.value.message }}</p>
      <svg viewBox="0 0 420 190" role="img" :aria-label="data.pulls.map((p) => p.text).join(' ')">
        <g v-for="(p, i) in data.pulls" :key="p.holes" :transform="`translate(0 ${14 + i * 43})`">
          <text x="0" y="20" class="label">{{ counted(p.holes, "hole") }}</text>
          <rect x="78" y="4" :width="p.of_full * 250" height="24" :class="p.holes === data.holes ? 'mine' : 'bar'" />
          <text :x="88 + p.of_full * 250" y="22" class="label">{{ Math.round(p.of_full * 100) }}%</text>
        </g>
      </svg>
      <p>{{ data.pulls.at(-1)?.text }} {{ data.pulls.find((p) => p.holes === 2)?.text }}</p>
      <p class="soft">
        Each wrap multiplies the pull (the capstan equation, Euler and Eytelwein). The friction is our estimate.
      </p>
      <FiguresNote subject="thread" />
    </section>
  </div>
</template>

<style scoped>
.path {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr);
  gap: 1.25rem;
  align-items: start;
}
ol {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1.1rem;
  list-style: none;
  padding: 0;
  margin: 0;
  color: var(--ink-soft);
}
li.done::before {
  content: "● ";
  color: var(--teal);
}
li.now {
  color: var(--ink);
  font-weight: 700;
}
li.now::before {
  content: "▸ ";
}
li:not(.done, .now)::before {
  content: "○ ";
}
.guides {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
}
.guides button {
  display: grid;
  justify-items: center;
  width: 6.2rem;
  padding: 0.3rem;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
  font-size: var(--type-small);
}
.edit {
  display: grid;
  grid-template-columns: 1fr 2fr 1.6fr;
  gap: 0.5rem;
  border-top: 1px solid var(--rule);
  padding-top: 0.5rem;
}
.edit .row {
  grid-column: 1 / -1;
  gap: 0;
}
.label {
  font-size: 16px;
  fill: var(--ink);
}
.bar {
  fill: var(--steel);
}
.mine {
  fill: var(--marigold);
  stroke: var(--ink);
}
@media (max-width: 900px) {
  .path {
    grid-template-columns: 1fr;
  }
}
</style>
