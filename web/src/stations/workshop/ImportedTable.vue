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
import { spoken } from "../../units";

/** A table that was given: what it holds, which column is what, and each row as it would be kept. */
type Kind = Schemas["TableKind"];
type Only = "all" | "good" | "doubles" | "problems";
const props = defineProps<{ file: Schemas["SeenFile"]; table: Schemas["SeenTable"] }>();
const emit = defineEmits<{ brought: [what: Schemas["BroughtIn"]]; leave: [] }>();

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
});
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
const ofMachine = computed(() => wanted.value.some((c) => c.field === "machine"));
const dated = computed(() => wanted.value.some((c) => c.field === "at"));

const checked = ref<Schemas["CheckedTable"] | null>(null);
const rows = ref<Schemas["ShownRow"][]>([]);
const only = ref<Only>("all");
const PAGE = 50;
const path = { params: { path: { token: props.file.token } } };
const check = useJob((done) => {
  checked.value = done.checked ?? null;
  only.value = done.checked?.problems ? "problems" : "all";
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
    zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    unit: spoken.force,
    lengths: spoken.lengths,
  };
  void check.start(() => answer(client.POST("/api/exchange/files/{token}/check", { ...path, body })));
}
async function more(fromTop = false) {
  if (fromTop) rows.value = [];
  const query = { only: only.value, after: rows.value.at(-1)?.number ?? 0, limit: PAGE };
  const params = { ...path.params, query };
  rows.value.push(...(await answer(client.GET("/api/exchange/files/{token}/rows", { params }))));
}
watch(only, () => checked.value && void more(true));
const ofThese = computed(() => {
  const found = checked.value;
  return found
    ? { all: found.rows, good: found.good, doubles: found.doubles, problems: found.problems }[only.value]
    : 0;
});
const FILTERS = computed(() => {
  const found = checked.value;
  if (!found) return [];
  const all: { value: Only; name: string }[] = [
    { value: "all", name: `all ${found.rows}` },
    { value: "good", name: `${found.good} new` },
    { value: "doubles", name: `${found.doubles} here already` },
    { value: "problems", name: `${found.problems} with a problem` },
  ];
  return all.filter((f) => f.value === "all" || found[f.value as "good" | "doubles" | "problems"]);
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
  return `Keep ${found.good} row${found.good === 1 ? "" : "s"}${left}`;
});
</script>

<template>
  <p class="verdict">{{ file.name }}: {{ table.rows }} rows.</p>
  <ToggleRow v-model="kind" label="They are" :options="KINDS.map((value) => ({ value, name: value }))" />
  <div class="columns">
    <ChoiceBox
      v-for="c in wanted"
      :key="`${kind} ${c.field}`"
      v-model="chosen[c.field]!"
      :label="c.needed ? `${c.name} (needed)` : c.name"
      :options="choices" />
    <ChoiceBox
      v-if="ofMachine && machines"
      v-model="open.machine"
      label="Rows that name no machine are of"
      :options="machines.map((m) => ({ value: m.id, name: m.spec.nickname }))" />
  </div>
  <div class="row">
    <ToggleRow
      v-model="open.decimalComma"
      label="Numbers are written"
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
  <div class="row">
    <Button :label="checked ? 'Look again' : 'See each row as it would be kept'" outlined @click="look" />
    <Button label="Leave it" text @click="$emit('leave')" />
  </div>
  <JobLine :job="check.job.value" @stop="check.breakOff" />
  <p v-if="check.problem.value" class="field-error" role="alert">{{ check.problem.value }}</p>
  <template v-if="checked">
    <ToggleRow v-model="only" label="Rows" :options="FILTERS" />
    <div class="scroll" tabindex="0" role="region" aria-label="Rows as they would be kept">
      <table>
        <thead>
          <tr>
            <th scope="col">Row</th>
            <th scope="col">As it would be kept</th>
            <th scope="col">In the file</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.number">
            <th scope="row">{{ r.number }}</th>
            <td>
              <span v-if="r.problem" class="field-error">{{ r.problem }}</span>
              <template v-else
                >{{ r.text }}<span v-if="r.double" class="soft"> · here already, left out</span></template
              >
            </td>
            <td class="soft">{{ r.cells.filter(Boolean).join(" · ") }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <Button v-if="rows.length < ofThese" label="More rows" text class="low" @click="more()" />
    <JobLine :job="keeping.job.value" @stop="keeping.breakOff" />
    <p v-if="keeping.problem.value" class="field-error" role="alert">{{ keeping.problem.value }}</p>
    <Button
      v-if="checked.good"
      class="low"
      size="large"
      :label="label"
      :loading="keeping.job.value?.state === 'running'"
      @click="keep" />
    <p v-else class="soft">There is nothing new in it.</p>
  </template>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0.7rem;
}
.scroll {
  max-height: 24rem;
  overflow: auto;
  border-top: 1px solid var(--rule);
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 0.4rem 0.6rem 0.4rem 0;
  border-bottom: 1px solid var(--rule);
}
tbody th {
  font-weight: 500;
}
.low {
  justify-self: start;
}
</style>
