<script setup lang="ts">
import Button from "primevue/button";
import { computed, reactive, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useMachines } from "../../api/queries";
import { useJob } from "../../composables/job";
import { useMachineId } from "../../composables/machine";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import JobLine from "../../parts/JobLine.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { spoken, zone } from "../../units";
import { counted } from "../../words";
import RowsToSave from "./RowsToSave.vue";
import WhereInFile from "./WhereInFile.vue";

/** A table that was given: what it holds, which column is what, and each row as it would be kept. */
type Kind = Schemas["TableKind"];
type Only = "all" | "good" | "doubles" | "problems" | "asides";
const props = defineProps<{ file: Schemas["SeenFile"]; table: Schemas["SeenTable"]; elsewhere?: string }>();
const emit = defineEmits<{
  brought: [what: Schemas["BroughtIn"]];
  look: [where: Schemas["WhereItStands"]];
  leave: [];
}>();

const KINDS: Kind[] = ["threads", "needles", "runs", "readings", "recipes", "upkeep"];
const NONE = -1;
/** The columns of a table with this head were chosen so last time. */
const memory = `weftonos.columns ${props.table.columns.join("|")}`.slice(0, 400);
interface Remembered {
  kind: Kind;
  columns: Record<string, number>;
}
function remembered(): Remembered | null {
  try {
    return JSON.parse(localStorage.getItem(memory) ?? "null") as Remembered | null;
  } catch {
    return null;
  }
}
const before = remembered();
const kind = ref<Kind>(before?.kind ?? props.table.likely);
const machine = useMachineId();
const { data: machines } = useMachines();
const open = reactive({
  machine: machine.value,
  decimalComma: props.table.decimal_comma,
  dayFirst: props.table.day_first ?? spoken.lengths !== "inch",
  twins: false,
  likeliest: false,
  /** Which reading of a label is meant, where it has several. */
  answers: {} as Record<string, number>,
});
function meant(row: Schemas["ShownRow"], reading: number) {
  open.answers[row.cells[chosen.label!]!] = reading;
}
const wanted = computed(() => props.table.kinds.find((k) => k.kind === kind.value)?.columns ?? []);
const chosen = reactive<Record<string, number>>({});
watch(
  kind,
  () => {
    for (const c of wanted.value)
      chosen[c.field] = (before?.kind === kind.value ? before.columns[c.field] : c.column) ?? NONE;
  },
  { immediate: true },
);
const choices = computed(() => [
  { value: NONE, name: "not in the table" },
  ...props.table.columns.map((name, value) => ({ value, name })),
]);
/** What was found in the table, and what is needed; the rest on request. */
const every = ref(false);
const shown = computed(() =>
  wanted.value.filter((c) => every.value || c.needed || chosen[c.field] !== NONE || c.column !== null),
);
const unused = computed(() => {
  const used = new Set(wanted.value.map((c) => chosen[c.field]));
  return props.table.columns.filter((_, n) => !used.has(n));
});
const ofMachine = computed(() => wanted.value.some((c) => c.field === "machine"));
const dated = computed(() => wanted.value.some((c) => c.field === "at"));

const checked = ref<Schemas["CheckedTable"] | null>(null);
const rows = ref<Schemas["ShownRow"][]>([]);
const only = ref<Only>("all");
let chosenByHand = false;
function show(which: Only) {
  chosenByHand = true;
  only.value = which;
}
const PAGE = 50;
const left = `/api/exchange/files/${props.file.token}/left.csv`;
const path = { params: { path: { token: props.file.token } } };
const check = useJob((done) => {
  checked.value = done.checked ?? null;
  // What is wrong stands first, until somebody chose what to see.
  if (!chosenByHand) only.value = done.checked?.problems ? "problems" : "all";
  void more(true);
});
function columns() {
  const mine = wanted.value.map((c) => [c.field, chosen[c.field] ?? NONE] as const);
  return Object.fromEntries(mine.filter(([, column]) => column !== NONE));
}
function look() {
  checked.value = null;
  rows.value = [];
  localStorage.setItem(memory, JSON.stringify({ kind: kind.value, columns: { ...chosen } } satisfies Remembered));
  const body = {
    kind: kind.value,
    columns: columns(),
    machine: open.machine,
    decimal_comma: open.decimalComma,
    day_first: open.dayFirst,
    zone: zone(),
    unit: spoken.force,
    lengths: spoken.lengths,
    keep_twins: open.twins,
    answers: open.answers,
    likeliest: open.likeliest,
  };
  void check.start(() => answer(client.POST("/api/exchange/files/{token}/check", { ...path, body })));
}
/** The question that is asked last is the one whose answer counts. */
let latest = 0;
async function more(fromTop = false) {
  const mine = ++latest;
  const query = { only: only.value, after: fromTop ? 0 : (rows.value.at(-1)?.number ?? 0), limit: PAGE };
  const params = { ...path.params, query };
  const found = await answer(client.GET("/api/exchange/files/{token}/rows", { params }));
  if (mine === latest) rows.value = fromTop ? found : [...rows.value, ...found];
}
const ready = computed(() => wanted.value.every((c) => !c.needed || chosen[c.field] !== NONE));
const asked = computed(() => JSON.stringify([kind.value, chosen, open]));
/** Whatever is chosen anew is looked at anew. */
watch(asked, () => (ready.value ? look() : (checked.value = null)), { immediate: true, flush: "post" });
watch(only, () => checked.value && void more(true));
const ofThese = computed(() => {
  const found = checked.value;
  return found ? (only.value === "all" ? found.rows : found[only.value]) : 0;
});
const FILTERS = computed(() => {
  const found = checked.value;
  if (!found) return [];
  const all: { value: Only; name: string }[] = [
    { value: "all", name: `all ${found.rows}` },
    { value: "good", name: `${found.good} new` },
    { value: "doubles", name: `${found.doubles} here already` },
    { value: "asides", name: counted(found.asides, "total or heading", "totals or headings") },
    { value: "problems", name: `${found.problems} with a problem` },
  ];
  return all.filter((f) => f.value === "all" || found[f.value]);
});
const keeping = useJob((done) => done.brought && emit("brought", done.brought));
const keep = () =>
  keeping.start(() =>
    answer(
      client.POST("/api/exchange/files/{token}/keep", {
        ...path,
        body: { leave_out: !!checked.value?.problems, differing: "keep" },
      }),
    ),
  );
const label = computed(() => {
  const found = checked.value;
  if (!found) return "";
  const left = found.problems ? `, leave ${found.problems} out` : "";
  return `Save ${counted(found.good, "row")}${left}`;
});
</script>

<template>
  <div class="station">
    <div>
      <section class="panel stack" aria-live="polite">
        <p class="soft">{{ file.name }}, {{ counted(table.rows, "row") }}</p>
        <p class="answer ask" data-answer>
          <template v-if="checked">{{ checked.good }} can be saved</template>
          <template v-else>What is in it?</template>
        </p>
        <p v-if="checked" class="verdict">{{ checked.problems }} with a problem, {{ checked.doubles }} here already.</p>
        <JobLine :job="check.job.value" @stop="check.breakOff" />
        <p v-if="check.problem.value" class="field-error" role="alert">{{ check.problem.value }}</p>
        <JobLine :job="keeping.job.value" @stop="keeping.breakOff" />
        <p v-if="keeping.problem.value" class="field-error" role="alert">{{ keeping.problem.value }}</p>
        <ToggleRow
          v-if="checked && (checked.twins || open.twins)"
          v-model="open.twins"
          label="Rows that say the same"
          :options="[
            { value: false, name: 'save one of them' },
            { value: true, name: 'save them all' },
          ]" />
        <div class="row">
          <Button
            v-if="checked?.good"
            size="large"
            :label="label"
            :loading="keeping.job.value?.state === 'running'"
            @click="keep" />
          <Button
            v-if="checked?.asked"
            label="Take each label's first reading"
            outlined
            @click="open.likeliest = true" />
          <a v-if="checked?.problems" :href="left" download>Save the rows with a problem, to mend them</a>
          <Button label="Leave it" text @click="$emit('leave')" />
        </div>
      </section>
      <section class="panel stack" aria-labelledby="columns-title">
        <h2 id="columns-title">What it holds</h2>
        <WhereInFile :table="table" @look="emit('look', $event)" />
        <p v-if="elsewhere" class="field-error" role="alert">{{ elsewhere }}</p>
        <ToggleRow v-model="kind" label="The rows are" :options="KINDS.map((value) => ({ value, name: value }))" />
        <div class="columns">
          <ChoiceBox
            v-for="c in shown"
            :key="`${kind} ${c.field}`"
            v-model="chosen[c.field]!"
            :label="c.needed ? `${c.name} (needed)` : c.name"
            :options="choices" />
          <ChoiceBox
            v-if="ofMachine && machines"
            v-model="open.machine"
            label="Rows without a machine belong to"
            :options="machines.map((m) => ({ value: m.id, name: m.spec.nickname }))" />
        </div>
        <Button
          v-if="shown.length < wanted.length"
          :label="`${wanted.length - shown.length} more columns`"
          text
          class="low"
          @click="every = true" />
        <p v-if="unused.length" class="soft">
          {{ unused.length === 1 ? "Column" : "Columns" }} not used: {{ unused.join(", ") }}
        </p>
        <div class="row">
          <ToggleRow
            v-model="open.decimalComma"
            label="How numbers are written"
            :options="[
              { value: false, name: '12.5' },
              { value: true, name: '12,5' },
            ]" />
          <ToggleRow
            v-if="dated"
            v-model="open.dayFirst"
            label="3/5/2026 is"
            :options="[
              { value: true, name: '3 May' },
              { value: false, name: 'March 5' },
            ]" />
        </div>
      </section>
    </div>
    <section class="panel stack" aria-labelledby="rows-title">
      <h2 id="rows-title">Each row as it would be saved</h2>
      <template v-if="checked">
        <ToggleRow :model-value="only" label="Shown" :options="FILTERS" @update:model-value="show" />
        <RowsToSave :rows="rows" @meant="meant" />
        <Button v-if="rows.length < ofThese" label="More rows" text class="low" @click="more()" />
      </template>
      <p v-else class="soft">Choose the columns that are needed, and each row is shown here.</p>
    </section>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0.7rem;
}
.low {
  justify-self: start;
}
</style>
