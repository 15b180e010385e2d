<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, reactive, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useChangeMinutes, useMachines, useQuilts, useWords } from "../../api/queries";
import { useDraft } from "../../composables/draft";
import { numberIn, optionalNumber } from "../../composables/fields";
import { useHere, useMachineId } from "../../composables/machine";
import { useNote } from "../../composables/send";
import { ifMatch } from "../../composables/seen";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import DraftNote from "../../parts/DraftNote.vue";
import FieldBox from "../../parts/FieldBox.vue";
import { begins, sideTyped, sideUnit } from "../../units";
import { choices, figure } from "../../words";
import PassForm from "./PassForm.vue";
import { emptyPass, toForm, toPass, type PassFields } from "./passFields";

/** A quilt planned by taps: its name and size, its passes, and when it is sewn. What isn't said gets a usual value. */
const props = defineProps<{ page?: Schemas["PlanPage"]; others?: Schemas["PlanItem"][] }>();
const emit = defineEmits<{ done: [id: number]; leave: [] }>();
const machine = useMachineId();
const here = useHere();
const { data: words } = useWords();
const { data: machines } = useMachines();
const { data: quilts } = useQuilts();
/** The machine that the plan is of, whichever is on the line. */
const ofPlan = computed(() => props.page?.machine_id ?? machine.value);
const { data: changes } = useChangeMinutes(ofPlan);
type Change = keyof Required<Schemas["ChangeMinutes"]>;
const CHANGES: Record<Change, string> = {
  thread: "Another thread",
  bobbin: "Another bobbin",
  needle: "Another needle",
  screw: "Screw and reading",
  test_line: "Test line",
  roll_back: "Rolling a frame back",
  cleaning: "Cleaning",
  guide_holes: "Guide holes",
  other_machine: "To the other machine",
};
const NEEDS: Partial<Record<Change, Schemas["Feature"]>> = {
  screw: "case",
  roll_back: "frame",
  guide_holes: "hole_guide",
};
type Loft = NonNullable<Schemas["Sandwich"]["loft"]>;
const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const form = reactive({
  quilt: "",
  width: "",
  height: "",
  loft: "medium" as Loft,
  passes: [] as PassFields[],
  evening: "",
  days: [] as number[],
  starts: "",
  rules: [] as Schemas["ComesFirst"][],
  minutes: {} as Record<Change, string>,
});
const draft = useDraft(props.page ? `plan ${props.page.id}` : `plan new ${machine.value}`, form);
function take(plan: Schemas["QuiltPlanned"], name: string, dated: boolean) {
  Object.assign(form, {
    quilt: name,
    width: plan.width_m ? begins.side(plan.width_m) : "",
    height: plan.height_m ? begins.side(plan.height_m) : "",
    loft: plan.sandwich?.loft ?? "medium",
    passes: plan.passes.map(toForm),
    evening: plan.evening_h ? String(plan.evening_h) : "",
    days: [...(plan.days ?? [])],
    starts: dated ? (plan.starts ?? "") : "",
    rules: [...(plan.rules ?? [])],
    minutes: Object.fromEntries(
      Object.entries(plan.minutes ?? {}).flatMap(([what, n]) => (n === null ? [] : [[what, String(n)]])),
    ),
  });
}
if (props.page && !draft.state.restored) take(props.page.plan, props.page.plan.quilt, true);
const names = computed(() => {
  const planned = new Set(props.others?.map((p) => p.quilt));
  return (quilts.value ?? []).map((q) => q.name).filter((name) => !planned.has(name));
});
const open = ref(form.passes[0]?.key ?? 0);
const nextKey = () => Math.max(0, ...form.passes.map((p) => p.key)) + 1;
type Kind = Schemas["PassKind"];
function add(what: Kind) {
  const before = form.passes.at(-1);
  const pass = emptyPass(nextKey(), what);
  // Most passes are sewn with what the one before was.
  if (before) Object.assign(pass, { top: before.top, below: before.below });
  form.passes.push(pass);
  open.value = pass.key;
}
const remove = (key: number) => (form.passes = form.passes.filter((p) => p.key !== key));
const sizes = computed(() => words.value?.quilt_sizes ?? []);
const size = (name: string) => {
  const one = sizes.value.find((s) => s.name === name);
  if (one) Object.assign(form, { width: begins.side(one.width_m), height: begins.side(one.height_m) });
};
const isSize = (s: Schemas["QuiltSizeWord"]) =>
  form.width === begins.side(s.width_m) && form.height === begins.side(s.height_m);
const toggleDay = (n: number) =>
  (form.days = form.days.includes(n) ? form.days.filter((d) => d !== n) : [...form.days, n].sort());
const from = ref(0);
watch(from, async (id) => {
  if (!id) return;
  const page = await answer(client.GET("/api/plans/{plan_id}", { params: { path: { plan_id: id } } })).catch(
    () => null,
  );
  if (page) take(page.plan, form.quilt, false);
});
/** The changes that there can be on the machines of the plan, each as it is called there. */
const changesHere = computed(() => {
  const all = machines.value ?? [];
  const used = new Set([ofPlan.value, ...form.passes.map((p) => p.machine)]);
  const has = (what: Schemas["Feature"]) => all.some((m) => used.has(m.id) && m.features.includes(what));
  const can = (what: Change) => (what === "other_machine" ? all.length > 1 : !NEEDS[what] || has(NEEDS[what]));
  const named = { ...CHANGES, ...(has("gauge") ? {} : { screw: "Screw and test by hand" }) };
  return (Object.keys(CHANGES) as Change[]).filter(can).map((what) => [what, named[what]] as const);
});
/** The minutes that were typed; what is left empty is counted as the machine's records have it, or as usual. */
function minutes() {
  const typed = (Object.keys(CHANGES) as Change[]).filter((what) => form.minutes[what]?.trim());
  return Object.fromEntries(typed.map((what) => [what, numberIn(`minutes.${what}`, form.minutes[what])]));
}
const usual = (what: Change) => {
  const takes = changes.value?.minutes[what];
  return takes === undefined ? "" : figure(+takes.toFixed(1));
};
const ownMinutes = computed(() => changes.value?.own.map((what) => CHANGES[what as Change].toLowerCase()).join(", "));
const passNames = computed(() =>
  form.passes.map((p) => ({
    value: p.key,
    name: p.name || (words.value?.passes.find((w) => w.value === p.what)?.name ?? ""),
  })),
);
function addRule() {
  const [first, then] = form.passes;
  if (first && then) form.rules.push({ first: first.key, then: then.key, why: "" });
}
function body() {
  const before = props.page?.plan;
  return {
    note: before?.note ?? "",
    quilt: form.quilt,
    width_m: form.width.trim() ? sideTyped("width_m", form.width) : null,
    height_m: form.height.trim() ? sideTyped("height_m", form.height) : null,
    sandwich: { ...before?.sandwich, loft: form.loft },
    passes: form.passes.map(toPass),
    rules: form.rules.filter((r) => [r.first, r.then].every((k) => form.passes.some((p) => p.key === k))),
    minutes: minutes(),
    evening_h: optionalNumber("evening_h", form.evening),
    days: form.days,
    starts: form.starts || null,
    kind: "quilt_planned" as const,
  } as Schemas["QuiltPlanned"];
}
const save = useNote(
  () =>
    props.page
      ? answer(
          client.PUT("/api/plans/{plan_id}", {
            params: { path: { plan_id: props.page.id }, header: ifMatch(props.page.version) },
            body: body(),
          }),
        )
      : answer(client.POST("/api/machines/{machine_id}/plans", { ...here(), body: body() })),
  {
    waits: false,
    then: (noted) => {
      draft.drop();
      emit("done", noted.id);
    },
  },
);
function leave() {
  draft.drop();
  emit("leave");
}
</script>

<template>
  <form class="panel stack" aria-label="Plan a quilt" @submit.prevent="save.go()">
    <DraftNote :shown="draft.state.restored" @drop="draft.drop()" />
    <div class="row first">
      <FieldBox :name="form.quilt" label="The quilt's name" :error="save.error('quilt')">
        <InputText v-model="form.quilt" list="plan-names" :autofocus="!page" />
      </FieldBox>
      <datalist id="plan-names"><option v-for="n in names" :key="n" :value="n" /></datalist>
      <FieldBox :label="`Width, ${sideUnit()}`" :error="save.error('width_m')"
        ><InputText v-model="form.width" inputmode="decimal" class="short"
      /></FieldBox>
      <FieldBox :label="`Height, ${sideUnit()}`" :error="save.error('height_m')"
        ><InputText v-model="form.height" inputmode="decimal" class="short"
      /></FieldBox>
    </div>
    <div class="row" role="group" aria-label="Its size">
      <button
        v-for="s in sizes"
        :key="s.name"
        type="button"
        class="toggle"
        :aria-pressed="isSize(s)"
        @click="size(s.name)">
        {{ s.name }}
      </button>
    </div>
    <h2>How will you quilt it?</h2>
    <PassForm
      v-for="(p, i) in form.passes"
      :key="p.key"
      v-model="form.passes[i] as PassFields"
      :open="open === p.key"
      :machines="machines ?? []"
      @open="open = open === p.key ? 0 : p.key"
      @remove="remove(p.key)" />
    <div class="row" role="group" aria-label="Add a pass">
      <span class="soft">Add:</span>
      <button v-for="w in words?.passes" :key="w.value" type="button" class="toggle" @click="add(w.value)">
        {{ w.name }}
      </button>
    </div>
    <p v-if="save.error('passes')" class="field-error" role="alert">{{ save.error("passes") }}</p>
    <p v-if="save.error('rules')" class="field-error" role="alert">{{ save.error("rules") }}</p>
    <!-- Until it is known whether there are others, their place is kept: a form that grows under a tap loses the tap. -->
    <ChoiceBox
      v-if="!page && others?.length !== 0"
      v-model="from"
      label="Or take the passes of an earlier plan"
      :options="[{ value: 0, name: 'None' }, ...(others ?? []).map((o) => ({ value: o.id, name: o.quilt }))]" />
    <details>
      <summary>Batting, evenings, first day</summary>
      <div class="pairs">
        <ChoiceBox v-model="form.loft" label="Loft of the batting" :options="choices<Loft>(words?.lofts)" />
        <FieldBox label="Hours an evening" :error="save.error('evening_h')"
          ><InputText v-model="form.evening" inputmode="decimal" placeholder="2"
        /></FieldBox>
        <FieldBox label="First evening" :error="save.error('starts')"
          ><input v-model="form.starts" type="date" class="plain-input"
        /></FieldBox>
        <div class="row" role="group" aria-label="Days you sew">
          <button
            v-for="(name, n) in DAYS"
            :key="name"
            type="button"
            class="toggle"
            :aria-pressed="form.days.includes(n)"
            @click="toggleDay(n)">
            {{ name }}
          </button>
        </div>
      </div>
    </details>
    <details v-if="form.passes.length > 1">
      <summary>What must come first, and how long changes take you</summary>
      <div class="stack">
        <p class="soft">In the ditch and outlines come before fills, motifs before the fill, the binding last.</p>
        <div v-for="(r, i) in form.rules" :key="i" class="pairs">
          <ChoiceBox v-model="r.first" label="First" :options="passNames" />
          <ChoiceBox v-model="r.then" label="Then" :options="passNames" />
          <FieldBox label="Because"><InputText v-model="r.why" /></FieldBox>
          <Button label="Remove this rule" text @click="form.rules.splice(i, 1)" />
        </div>
        <div class="row"><Button label="Add a rule" outlined @click="addRule" /></div>
        <p class="soft">
          Each change counts with these minutes. Where they aren't yours, type your own.
          <template v-if="ownMinutes">By your records: {{ ownMinutes }}.</template>
        </p>
        <div class="minutes">
          <FieldBox v-for="[what, name] in changesHere" :key="what" :label="name" :error="save.error(`minutes.${what}`)"
            ><InputText v-model="form.minutes[what]" inputmode="decimal" :placeholder="usual(what)"
          /></FieldBox>
        </div>
      </div>
    </details>
    <p v-if="save.problem.value && !Object.keys(save.problem.value.fields).length" class="field-error" role="alert">
      {{ save.problem.value.message }}
    </p>
    <div class="row">
      <Button type="submit" :label="page ? 'Save the change' : 'Save the plan'" :loading="save.pending.value" />
      <Button label="Leave it" text @click="leave" />
    </div>
  </form>
</template>

<style scoped>
.first {
  align-items: start;
}
.first > :first-child {
  flex: 1 1 12rem;
}
.short {
  width: 6rem;
}
.minutes {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(9rem, 1fr));
  gap: 0.6rem;
  align-items: end;
}
</style>
