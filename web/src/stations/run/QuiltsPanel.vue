<script setup lang="ts">
import { useDraft } from "../../composables/draft";
import ColorDot from "../../parts/ColorDot.vue";
import DraftNote from "../../parts/DraftNote.vue";
import { onPaper, pull, stretch } from "../../units";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, reactive, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useLine, usePlans, useQuilt, useQuilts } from "../../api/queries";
import { useHere, useMachineId } from "../../composables/machine";
import { useNote } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { CARES, counted, day, fixed } from "../../words";
import AsTable from "../../parts/AsTable.vue";

/** The quilts by name, and everything that hangs on one of them. */
const machine = useMachineId();
const here = useHere();
const { data: quilts } = useQuilts();
const { data: line } = useLine(machine);
const name = ref("");
watch([quilts, line], () => (name.value ||= line.value?.setup.quilt || quilts.value?.[0]?.name || ""), {
  immediate: true,
});
const { data: quilt } = useQuilt(name);
const { data: plans } = usePlans();
const plan = computed(() => plans.value?.find((each) => each.quilt === name.value));
const onNow = computed(() => !!name.value && line.value?.setup.quilt === name.value);
const putting = ref(false);
const form = reactive({ quilt: "", for_whom: "", note: "", care: "usual" as Schemas["Care"] });
const draft = useDraft(`quilt ${machine.value}`, form);
if (draft.state.restored) putting.value = true;
function describe() {
  const said = quilt.value;
  Object.assign(form, {
    quilt: name.value,
    for_whom: said?.for_whom ?? "",
    note: said?.note ?? "",
    care: said?.care ?? "usual",
  });
  putting.value = true;
}
function another() {
  Object.assign(form, { quilt: "", for_whom: "", note: "", care: "usual" });
  putting.value = true;
}
const put = useNote(
  () =>
    answer(
      client.POST("/api/machines/{machine_id}/quilt", { ...here(), body: { ...form, kind: "quilt_on" as const } }),
    ),
  {
    then: () => {
      name.value = form.quilt;
      draft.drop();
      putting.value = false;
    },
  },
);
const pdf = computed(() => `/api/quilt.pdf?name=${encodeURIComponent(name.value)}&${onPaper()}`);
const FACTS = computed(() => {
  const q = quilt.value;
  if (!q) return [];
  const meters = q.runs_without_meters ? `, ${counted(q.runs_without_meters, "run")} without a length` : "";
  return [
    ["Stitched", `${stretch(q.meters)}${meters}`],
    ["Breaks", q.breaks ? `${q.breaks} in ${counted(q.troubles, "trouble")}` : "none on record"],
    ["Bobbins loaded", String(q.bobbins)],
    ["Needles", q.needles.join(", ") || "–"],
    ["Machine", q.machines.join(", ")],
    ["Worked on", day(q.first) === day(q.last) ? day(q.first) : `${day(q.first)} to ${day(q.last)}`],
  ];
});
</script>

<template>
  <div class="quilts">
    <section class="panel stack">
      <Button data-new label="Another quilt is on" @click="another" />
      <form v-if="putting" class="stack" @submit.prevent="put.go()">
        <DraftNote :shown="draft.state.restored" @drop="draft.drop()" />
        <FieldBox :name="form.quilt" label="Its name" :error="put.error('quilt')"
          ><InputText v-model="form.quilt" autofocus
        /></FieldBox>
        <FieldBox label="Who it's for" :error="put.error('for_whom')"><InputText v-model="form.for_whom" /></FieldBox>
        <FieldBox label="Note" :error="put.error('note')"><InputText v-model="form.note" /></FieldBox>
        <ToggleRow v-model="form.care" label="How careful?" :options="CARES" />
        <p v-if="put.problem.value && !Object.keys(put.problem.value.fields).length" class="field-error" role="alert">
          {{ put.problem.value.message }}
        </p>
        <div class="row">
          <Button type="submit" label="It's on the frame" :loading="put.pending.value" />
          <Button label="Leave it" text @click="((putting = false), draft.drop())" />
        </div>
      </form>
      <ul>
        <li v-for="q in quilts" :key="q.name">
          <button type="button" :aria-pressed="q.name === name" @click="name = q.name">
            <strong>{{ q.name }}</strong>
            <span class="soft">{{ fixed(q.hours, 1) }} h · {{ day(q.last) }}</span>
          </button>
        </li>
      </ul>
      <p v-if="quilts?.length === 0" class="verdict">No quilt has a name yet. Name the one you're quilting.</p>
    </section>
    <section v-if="quilt" class="panel stack" aria-live="polite">
      <p class="soft">{{ onNow ? "On now" : "A quilt" }}{{ quilt.for_whom ? `, for ${quilt.for_whom}` : "" }}</p>
      <p class="answer" data-answer>
        {{ quilt.name }} <small>{{ fixed(quilt.hours, 1) }} h</small>
      </p>
      <p v-if="quilt.note">{{ quilt.note }}</p>
      <dl>
        <template v-for="[label, says] in FACTS" :key="label">
          <dt>{{ label }}</dt>
          <dd>{{ says }}</dd>
        </template>
      </dl>
      <template v-if="quilt.settings.length">
        <h2>As it was set</h2>
        <ol>
          <li v-for="s in quilt.settings" :key="`${s.machine}${s.top}${s.bobbin}${s.needle}`">
            <strong>{{ s.set_to }}</strong> {{ s.top }} over {{ s.bobbin || "–" }}, {{ s.needle || "–" }}
            <span class="soft line"
              >{{ s.look }}<template v-if="s.bobbin_mn != null"> · bobbin {{ pull(s.bobbin_mn) }}</template> ·
              {{ s.machine }}, {{ day(s.at) }}<template v-if="s.kept"> · saved as {{ s.kept }}</template></span
            >
          </li>
        </ol>
      </template>
      <p v-if="quilt.cloths.length">
        Test cloths:
        <RouterLink
          v-for="c in quilt.cloths"
          :key="c.id"
          class="onward"
          :to="{ name: 'balance', params: { machine: c.machine_id }, query: { part: 'cloths', cloth: c.id } }"
          >{{ c.number }}</RouterLink
        >
      </p>
      <template v-if="quilt.threads.length">
        <h2>Threads</h2>
        <ul class="threads">
          <li v-for="t in quilt.threads" :key="`${t.id}${t.below}`">
            <ColorDot :color="t.color" :size="26" />
            {{ t.name }}
            <span class="soft">{{ t.words }}{{ t.below ? ", below" : "" }} · {{ fixed(t.hours, 1) }} h</span>
          </li>
        </ul>
      </template>
      <template v-if="quilt.notes.length">
        <h2>Notes</h2>
        <p v-for="(n, i) in quilt.notes" :key="i">{{ n }}</p>
      </template>
      <div class="row">
        <RouterLink :to="{ name: 'log', params: { machine }, query: { quilt: quilt.name } }" class="step-link">{{
          quilt.records === 1 ? "Its one record" : `All ${quilt.records} records`
        }}</RouterLink>
        <RouterLink :to="{ query: { part: 'plan', ...(plan ? { plan: plan.id } : {}) } }" class="step-link">{{
          plan ? "Its plan" : "Plans"
        }}</RouterLink>
        <a :href="pdf" class="step-link">Print this page</a>
        <AsTable path="/api/quilt.csv" :filter="{ name: quilt.name }" />
        <Button label="Who it's for, notes" text @click="describe" />
      </div>
    </section>
  </div>
</template>

<style scoped>
.quilts {
  display: grid;
  grid-template-columns: minmax(15rem, 1fr) minmax(0, 2fr);
  gap: 1rem;
  align-items: start;
}
ul,
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
ul button {
  overflow-wrap: anywhere;
  width: 100%;
  min-height: 52px;
  display: grid;
  text-align: left;
  border: 0;
  border-top: 1px solid var(--rule);
  background: none;
  padding: 0.3rem 0.6rem;
}
ul button[aria-pressed="true"] {
  background: var(--amber-wash);
}
ol li {
  border-top: 1px solid var(--rule);
  padding: 0.4rem 0;
}
ol strong {
  font-size: var(--type-head);
  margin-right: 0.4rem;
}
.line {
  display: block;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 0.2rem 1rem;
  margin: 0;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  font-weight: 600;
}
.threads li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.6rem;
  min-height: 36px;
}
@media (max-width: 900px) {
  .quilts {
    grid-template-columns: minmax(0, 1fr);
  }
  /* What is asked for comes first; the others are below it. */
  .quilts > section:last-child {
    order: -1;
  }
}
</style>
