<script setup lang="ts">
import { useDraft } from "../../composables/draft";
import DraftNote from "../../parts/DraftNote.vue";
import { begins, optionalMetres, stretchUnit } from "../../units";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, nextTick, reactive, ref, watch } from "vue";
import { answer, client, Problem, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import ConflictNote from "../../parts/ConflictNote.vue";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { choices, fixed } from "../../words";
import HandTests from "./HandTests.vue";
import LabelLine from "./LabelLine.vue";
import NoLabel from "./NoLabel.vue";
import { useSeen } from "../../composables/seen";
import { useSend } from "../../composables/send";
import { numbersIn, optionalNumber } from "../../composables/fields";

type Item = Schemas["ThreadItem"];
/** `copied`: a thread that another colour is made of. */
const props = defineProps<{ thread: Item | null; copied?: Item | null }>();
const emit = defineEmits<{ saved: [thread: Item, another: boolean]; close: []; strike: [thread: Item] }>();

const { data: words } = useWords();
const EMPTY = {
  name: "",
  fibre: "polyester" as Schemas["Fibre"],
  construction: "multifilament" as Schemas["Construction"],
  value: "",
  system: "wt" as Schemas["WeightSystem"],
  strands: "1",
  perStrand: null as boolean | null,
  finish: "plain" as Schemas["ThreadFinish"],
  form: "cone" as Schemas["Form"],
  plies: "",
  colour: "#8fa3b5",
  bought: "",
  note: "",
  line: "",
  label: "",
  variegated: false,
  metres: "",
  price: "",
  rating: null as number | null,
  needle: "",
  holes: null as number | null,
  tests: [] as Schemas["HandTest"][],
};
const form = reactive({ ...EMPTY });
const RATINGS = [
  { value: null as number | null, name: "none" },
  ...[1, 2, 3, 4, 5].map((n) => ({ value: n, name: `${n}` })),
];
const HOLES = [
  { value: null as number | null, name: "as usual" },
  ...[1, 2, 3].map((n) => ({ value: n, name: `${n}` })),
];
const text = (n?: number | null) => (n == null ? "" : String(n));
/** Fills the form from a thread: one of the drawer, or one that a label's line names. */
function fill({ thread, ...rest }: Schemas["DrawerThread"]) {
  Object.assign(form, {
    name: rest.name,
    colour: rest.colour ?? form.colour,
    finish: rest.finish ?? "plain",
    form: rest.form ?? "cone",
    note: rest.note ?? "",
    line: rest.line ?? "",
    label: rest.label_text ?? "",
    variegated: rest.variegated ?? false,
    bought: rest.bought ?? "",
    plies: text(rest.plies),
    metres: rest.length_m == null ? "" : begins.stretch(rest.length_m),
    price: text(rest.price),
    rating: rest.rating ?? null,
    needle: rest.needle_named ?? "",
    holes: rest.holes ?? null,
    tests: [...(rest.hand_tests ?? [])],
    fibre: thread.fibre,
    construction: thread.construction,
    value: String(thread.value),
    system: thread.system,
    strands: String(thread.strands),
    perStrand: thread.per_strand ?? null,
  });
}
const line = ref("");
const namedByHand = ref(false);
const draft = props.thread || props.copied ? null : useDraft("label", reactive({ form, line, namedByHand }));
/** What stands beside a label, and what the label read last said of it. */
const BESIDE = ["note", "line", "bought", "metres", "price", "rating", "needle", "holes"] as const;
let said: Partial<typeof form> = {};
function readFrom(spec: Schemas["DrawerThread"] | null) {
  if (!spec) {
    form.value = "";
    return;
  }
  // What was put in by hand stays: a label is still being read while one types on.
  const byHand = BESIDE.filter((field) => form[field] && form[field] !== said[field]);
  const typed = Object.fromEntries([...byHand, "tests" as const].map((field) => [field, form[field]]));
  fill({ ...spec, colour: form.colour, name: namedByHand.value ? form.name : spec.name });
  said = { ...form };
  Object.assign(form, typed);
}
const seen = useSeen(undefined);
watch(
  // What is being typed stays when the drawer is read again.
  () => props.thread?.id,
  () => {
    const item = props.thread;
    seen.look(item?.version);
    if (item) fill(item.spec);
    else if (props.copied) {
      const { spec } = props.copied;
      fill({ ...spec, line: spec.line || spec.name, hand_tests: [], bought: null, note: "", name: "" });
    }
  },
  { immediate: true },
);
const labelled = () => ({
  fibre: form.fibre,
  construction: form.construction,
  ...numbersIn({ value: form.value, strands: form.strands }),
  system: form.system,
  per_strand: form.perStrand,
});
const written = computed(() => [form.fibre, form.construction, form.value, form.system, form.strands, form.perStrand]);

/** The label read in every system while it is being typed. */
const read = ref<Schemas["Density"] | null>(null);
const unread = ref<Problem | null>(null);
let asked = 0;
watch(
  written,
  async () => {
    const mine = ++asked;
    if (!form.value) {
      read.value = unread.value = null;
      return;
    }
    try {
      const density = await answer(client.POST("/api/compute/linear-density", { body: labelled() }));
      if (mine === asked) [read.value, unread.value] = [density, null];
    } catch (problem) {
      if (mine === asked) [read.value, unread.value] = [null, problem as Problem];
    }
  },
  { immediate: true },
);
function measured(tex: number) {
  Object.assign(form, { value: tex.toFixed(1), system: "tex", strands: "1", perStrand: null });
  opened.value = true;
}

const filled = () => ({
  name: form.name,
  thread: labelled(),
  colour: form.colour,
  finish: form.finish,
  form: form.form,
  note: form.note,
  line: form.line,
  plies: optionalNumber("plies", form.plies),
  bought: form.bought || null,
  hand_tests: form.tests,
  label_text: form.label,
  variegated: form.variegated,
  price: optionalNumber("price", form.price),
  length_m: optionalMetres("length_m", form.metres),
  rating: form.rating,
  needle_named: form.needle,
  holes: form.holes,
});
const save = useSend(
  async (keep: "correction" | "new" | "and another") => {
    if (!props.thread && !props.copied && !line.value.trim() && !form.value)
      throw new Problem("", { label_text: "Write what the label says, with its number: 40 wt, Tex 30, 120d x 2." });
    const body = filled();
    if (!props.thread || keep !== "correction") return answer(client.POST("/api/threads", { body }));
    const params = { path: { thread_id: props.thread.id }, header: seen.header() };
    return answer(client.PUT("/api/threads/{thread_id}", { params, body }));
  },
  {
    then: (thread) => {
      const again = more.value;
      draft?.drop();
      if (again) {
        void nextTick(() => top.value?.querySelector("input")?.focus());
      }
      more.value = false;
      emit("saved", thread, again);
    },
  },
);
const more = ref(false);
const top = ref<HTMLElement>();
function keep(how: "correction" | "new" | "and another") {
  more.value = how === "and another";
  return save.go(how);
}
function leave() {
  draft?.drop();
  emit("close");
}
// What was refused of a label is no matter once another is typed.
watch(line, () => save.reset());
function writeOver() {
  seen.writeOver(save.problem.value);
  void keep("correction");
}
/** What is wrong with a field that is folded away opens it. */
const opened = ref(false);
watch(
  () => save.problem.value?.fields,
  (fields) => {
    if (Object.keys(fields ?? {}).some((field) => !["name", "colour", "label_text"].includes(field)))
      opened.value = true;
  },
);
const error = (field: string) => save.error(field) ?? unread.value?.fields[field];
</script>

<template>
  <section ref="top" class="panel stack" aria-labelledby="label-title">
    <h2 id="label-title">
      {{
        thread
          ? `Edit ${thread.spec.name}`
          : copied
            ? `${copied.spec.name} in another colour`
            : "A thread for the drawer"
      }}
    </h2>
    <form class="stack" @submit.prevent="keep(thread ? 'correction' : 'new')">
      <DraftNote :shown="!!draft?.state.restored" @drop="draft?.drop()" />
      <LabelLine v-if="!thread && !copied" v-model="line" :error="save.error('label_text')" @read="readFrom" />
      <div class="first">
        <FieldBox label="Name" :error="error('name')"
          ><InputText v-model="form.name" :invalid="!!error('name')" @input="namedByHand = true"
        /></FieldBox>
        <FieldBox label="Colour" :error="error('colour')"
          ><input v-model="form.colour" type="color" class="plain-input"
        /></FieldBox>
        <ToggleRow
          v-model="form.variegated"
          label="It is"
          :options="[
            { value: false, name: 'of one colour' },
            { value: true, name: 'variegated' },
          ]" />
      </div>
      <details :open="!!thread || opened">
        <summary>{{ thread ? "What it is" : "Anything else of it, or what was understood wrongly" }}</summary>
        <div class="grid">
          <ChoiceBox v-model="form.fibre" label="Fibre" :options="choices(words?.fibres)" :error="error('fibre')" />
          <ChoiceBox
            v-model="form.construction"
            label="Construction"
            :options="choices(words?.constructions)"
            :error="error('construction')" />
          <ChoiceBox v-model="form.finish" label="Finish" :options="choices(words?.finishes)" />
          <ChoiceBox v-model="form.form" label="Form" :options="choices(words?.forms)" />
          <FieldBox label="Number on the label" :error="error('value')"
            ><InputText v-model="form.value" inputmode="decimal" :invalid="!!error('value')"
          /></FieldBox>
          <ChoiceBox v-model="form.system" label="System" :options="choices(words?.systems)" :error="error('system')" />
          <FieldBox label="Strands" :error="error('strands')"
            ><InputText v-model="form.strands" inputmode="numeric" @input="form.perStrand = null"
          /></FieldBox>
          <FieldBox label="Plies" :error="error('plies')"
            ><InputText v-model="form.plies" inputmode="numeric"
          /></FieldBox>
          <div class="all read" aria-live="polite">
            <p v-if="read">
              <strong>{{ fixed(read.tex, 1) }} tex</strong> · {{ fixed(read.wt, 1) }} wt ·
              {{ fixed(read.denier) }} denier · {{ fixed(read.dtex) }} dtex · Ne {{ fixed(read.ne, 1) }}
              <template v-if="read.diameter_mm"> · {{ fixed(read.diameter_mm, 2) }} mm thick</template>
            </p>
            <div v-if="read?.ask || form.perStrand !== null" class="ask">
              <span>{{ read?.ask || "The number is that of" }}</span>
              <button type="button" :aria-pressed="form.perStrand === false" @click="form.perStrand = false">
                the whole thread
              </button>
              <button type="button" :aria-pressed="form.perStrand === true" @click="form.perStrand = true">
                one strand
              </button>
            </div>
          </div>
          <FieldBox :label="`On it when new, ${stretchUnit()}`" :error="error('length_m')"
            ><InputText v-model="form.metres" inputmode="decimal"
          /></FieldBox>
          <FieldBox label="Price" :error="error('price')"
            ><InputText v-model="form.price" inputmode="decimal"
          /></FieldBox>
          <FieldBox label="Bought" :error="error('bought')"
            ><input v-model="form.bought" type="date" class="plain-input"
          /></FieldBox>
          <FieldBox label="Needle its maker names" :error="error('needle_named')"
            ><InputText v-model="form.needle" placeholder="90/14 topstitch"
          /></FieldBox>
          <ToggleRow v-model="form.rating" label="Your rating" :options="RATINGS" class="half" />
          <ToggleRow v-model="form.holes" label="Guide holes that do, by trial" :options="HOLES" class="half" />
          <FieldBox label="Colour of, if you own several colours of it" :error="error('line')" class="half"
            ><InputText v-model="form.line" placeholder="the thread's name without the colour"
          /></FieldBox>
          <FieldBox label="Note" :error="error('note')" class="half"><InputText v-model="form.note" /></FieldBox>
          <HandTests v-model="form.tests" class="all" />
          <p v-if="thread" class="soft all">
            A correction reaches every record of this thread. Colours of one thread share its looks, readings and
            recipes, when each says what it is a colour of.
          </p>
        </div>
      </details>
      <details v-if="!thread && !copied">
        <summary>No label: measure it</summary>
        <div class="grid">
          <ChoiceBox v-model="form.fibre" label="Fibre" :options="choices(words?.fibres)" />
          <ChoiceBox v-model="form.construction" label="Construction" :options="choices(words?.constructions)" />
        </div>
        <NoLabel :fibre="form.fibre" :construction="form.construction" @measured="measured" />
      </details>
      <ConflictNote
        v-if="save.problem.value?.conflict"
        :problem="save.problem.value"
        :mine="filled()"
        @over="writeOver"
        @leave="emit('close')" />
      <p v-else-if="save.problem.value && !Object.keys(save.problem.value.fields).length" class="field-error">
        {{ save.problem.value.message }}
      </p>
      <div class="row acts">
        <Button
          v-if="thread"
          label="Strike out"
          text
          type="button"
          severity="secondary"
          @click="emit('strike', thread)" />
        <Button label="Leave it" text type="button" @click="leave" />
        <Button
          v-if="thread"
          type="button"
          label="Add as another"
          outlined
          :loading="save.pending.value"
          @click="keep('new')" />
        <Button
          v-else-if="!copied"
          type="button"
          label="Keep and add another"
          outlined
          :loading="save.pending.value"
          @click="keep('and another')" />
        <Button
          type="submit"
          :label="thread ? 'Keep the correction' : 'Put it in the drawer'"
          :loading="save.pending.value" />
      </div>
    </form>
  </section>
</template>

<style scoped>
.first {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(5rem, 0.6fr) auto;
  gap: 0.9rem;
  align-items: start;
}
.grid {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 0.9rem;
  align-items: start;
  padding-top: 0.6rem;
}
.half {
  grid-column: span 2;
}
.all {
  grid-column: 1 / -1;
}
.read {
  font-size: 1.1rem;
  min-height: 1.6rem;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem;
  align-items: center;
  color: var(--amber);
  font-weight: 600;
}
.ask button {
  min-height: 44px;
  border: 2px solid var(--rule);
  background: var(--panel);
  border-radius: 4px;
  padding: 0 0.9rem;
  color: var(--ink);
}
.ask button[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
.acts {
  justify-content: flex-end;
}
input[type="color"] {
  padding: 0.2rem;
}
@media (max-width: 900px) {
  .grid {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
@media (max-width: 560px) {
  .first {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
