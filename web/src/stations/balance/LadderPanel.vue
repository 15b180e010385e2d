<script setup lang="ts">
import { useDraft } from "../../composables/draft";
import DraftNote from "../../parts/DraftNote.vue";
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import Button from "primevue/button";
import { computed, reactive, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { useHere, useMachineId } from "../../composables/machine";
import { useSend, useTakeBack } from "../../composables/send";
import SeenMark from "../../diagrams/SeenMark.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { PAPER_SAYS, papers } from "../../locale";
import { printed } from "../../units";
import { counted, MOTION_SAYS } from "../../words";

/**
 * A whole ladder at once: a column a step, looser to tighter, and one tap where the stitch looks so. Steps go between
 * others, the range moves and stretches; a row for each motion; its strip prints true to size.
 */
const props = defineProps<{ motion: Schemas["Motion"]; scale: Schemas["TopScale"]; top: string; bobbin: string }>();
type Plan = Exclude<Schemas["LadderPlan"], "fewest">;
const PLANS: { value: Plan; name: string }[] = [
  { value: "half", name: "six steps" },
  { value: "full", name: "whole scale" },
];
/** What is looked for, from too loose on top to too tight, as one goes down the board. */
const GRADES = [2, 1, 0, -1, -2];
const machine = useMachineId();
const here = useHere();
const { data: words } = useWords();
const plan = ref<Plan>("half");
const { data, isPlaceholderData } = useQuery({
  queryKey: computed(() => ["ladder", machine.value, plan.value, props.motion]),
  queryFn: () =>
    answer(
      client.POST("/api/machines/{machine_id}/ladder", {
        ...here(),
        body: { plan: plan.value, motion: props.motion },
      }),
    ),
  placeholderData: keepPreviousData,
});

const snap = (setting: number) => {
  const { low, high, step } = props.scale;
  return +Math.min(high, Math.max(low, low + Math.round((setting - low) / step) * step)).toFixed(6);
};
interface Row {
  /** The plan it was laid by; a draft kept before this was noted has none, and is laid again. */
  plan?: Plan;
  settings: number[];
  graded: Record<string, number>;
}
const rows = reactive<Partial<Record<Schemas["Motion"], Row>>>({});
const draft = useDraft(`ladder ${machine.value}`, rows);
const row = computed(() => rows[props.motion]);
const hasGraded = (motion: Schemas["Motion"]) => Object.keys(rows[motion]?.graded ?? {}).length;
/** Steps that are graded stay, wherever the range goes. */
function lay(settings: number[]) {
  const graded = row.value?.graded ?? {};
  const all = [...settings.map(snap), ...Object.keys(graded).map(Number)];
  rows[props.motion] = { plan: plan.value, settings: [...new Set(all)].sort((a, b) => a - b), graded };
}
/** The steps planned for just this motion and plan; what stands in while they are on their way is not laid. */
const planned = computed(() => (isPlaceholderData.value ? undefined : data.value?.settings));
watch(
  () => [plan.value, props.motion, planned.value?.join()],
  () => {
    if (!planned.value) return;
    if (row.value?.plan !== plan.value || !hasGraded(props.motion)) lay(planned.value);
  },
  { immediate: true },
);
const settings = computed(() => row.value?.settings ?? []);
const apart = computed(() => {
  const gaps = settings.value.slice(1).map((s, i) => s - (settings.value[i] ?? s));
  return gaps.length ? Math.max(...gaps) : props.scale.step;
});
function move(by: number) {
  lay(settings.value.map((s) => s + by * apart.value));
}
function stretch(by: number) {
  const middle = ((settings.value[0] ?? 0) + (settings.value.at(-1) ?? 0)) / 2;
  lay(settings.value.map((s) => middle + (s - middle) * by));
}
const between = (i: number) => {
  const [a, b] = [settings.value[i] ?? 0, settings.value[i + 1] ?? 0];
  const middle = snap((a + b) / 2);
  return middle > a && middle < b ? middle : null;
};
function tap(setting: number, grade: number) {
  const graded = row.value?.graded;
  if (!graded) return;
  if (graded[setting] === grade) delete graded[setting];
  else graded[setting] = grade;
}
const filled = computed(() =>
  (Object.keys(MOTION_SAYS) as Schemas["Motion"][]).filter(hasGraded).map((motion) => ({
    motion,
    steps: Object.entries(rows[motion]?.graded ?? {}).map(([setting, grade]) => ({ setting: +setting, grade })),
  })),
);
const others = computed(() => filled.value.filter((r) => r.motion !== props.motion));
function empty() {
  Object.values(rows).forEach((one) => (one.graded = {}));
  draft.drop();
}
const takeBack = useTakeBack();
const keep = useSend(
  () => answer(client.POST("/api/machines/{machine_id}/ladders", { ...here(), body: { rows: filled.value } })),
  {
    says: (kept) => `Saved: ${counted(kept.length, "test line")}.`,
    undo: (kept) => () => void takeBack.go(kept.map((entry) => entry.id)),
    waits: true,
    then: empty,
  },
);
const named = (setting: number) =>
  data.value?.words[data.value.settings.indexOf(setting)] ?? String(+setting.toFixed(3));
const nameOf = (grade: number) => words.value?.grades.find((g) => g.grade === grade)?.name ?? "";
const strip = (form: string, paper: string) =>
  `/api/machines/${machine.value}/strip.${form}?plan=${plan.value}&motion=${props.motion}&paper=${paper}&${printed()}`;
</script>

<template>
  <section class="panel stack" aria-labelledby="ladder-title">
    <DraftNote :shown="draft.state.restored && filled.length > 0" @drop="empty" />
    <h2 id="ladder-title">A whole test strip on one cloth, {{ MOTION_SAYS[motion] }}</h2>
    <p v-if="data" class="soft">
      Sew on {{ data.cloth }}. Then tap, step by step, what you see<template v-if="others.length"
        >; also judged: {{ others.map((r) => `${MOTION_SAYS[r.motion]} (${r.steps.length})`).join(", ") }}</template
      >.
    </p>
    <div class="row tools">
      <ToggleRow v-model="plan" label="Steps" :options="PLANS" />
      <div class="range" role="group" aria-label="The range">
        <button type="button" aria-label="The whole range looser" @click="move(-1)">← looser</button>
        <button type="button" aria-label="The whole range tighter" @click="move(1)">tighter →</button>
        <button type="button" @click="stretch(1.5)">wider</button>
        <button type="button" @click="stretch(1 / 1.5)">closer</button>
      </div>
    </div>
    <div v-if="row" class="board">
      <table>
        <thead>
          <tr>
            <th scope="col"><span class="sr">What you see</span></th>
            <th v-for="(s, i) in settings" :key="s" scope="col">
              {{ named(s) }}
              <button
                v-if="i < settings.length - 1 && between(i) !== null"
                type="button"
                class="between"
                :aria-label="`A step between ${named(s)} and ${named(settings[i + 1] ?? s)}`"
                @click="lay([...settings, between(i) ?? s])">
                +
              </button>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="g in GRADES" :key="g">
            <th scope="row">{{ nameOf(g) }}</th>
            <td v-for="s in settings" :key="s">
              <button
                type="button"
                class="cell"
                :class="{ balanced: g === 0 }"
                :aria-pressed="row.graded[s] === g"
                :aria-label="`${named(s)}: ${nameOf(g)}`"
                @click="tap(s, g)">
                <SeenMark :grade="g" :top="top" :bobbin="bobbin" :faint="row.graded[s] !== g" />
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="keep.problem.value" class="field-error" role="alert">{{ keep.problem.value.message }}</p>
    <div class="row">
      <Button
        :label="
          filled.length
            ? `Save ${counted(
                filled.reduce((n, r) => n + r.steps.length, 0),
                'line',
              )}`
            : 'Save strip'
        "
        :disabled="!filled.length"
        :loading="keep.pending.value"
        @click="keep.go()" />
      <p class="links">
        A strip to lay beside the cloth:
        <a v-for="size in papers" :key="size" :href="strip('pdf', size)" target="_blank"
          >Print on {{ PAPER_SAYS[size] }}</a
        >
        <a :href="strip('svg', papers[0])" target="_blank">SVG</a>
      </p>
    </div>
  </section>
</template>

<style scoped>
.tools {
  align-items: end;
}
.range {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
}
.range button {
  min-height: 48px;
  border: 2px solid var(--rule);
  background: var(--panel);
  border-radius: 4px;
  padding: 0 0.7rem;
}
.board {
  overflow-x: auto;
  background: var(--cloth);
  border-radius: 4px;
  padding: 0.4rem 0.6rem 0.6rem;
}
table {
  border-collapse: collapse;
  width: 100%;
}
thead th {
  position: relative;
  font-weight: 700;
  padding: 0 0 0.2rem;
  min-width: 48px;
}
th[scope="row"] {
  text-align: left;
  font-weight: 560;
  font-size: 0.9rem;
  line-height: 1.1;
  padding-right: 0.5rem;
  min-width: 6.5rem;
}
.between {
  position: absolute;
  z-index: 1;
  right: -22px;
  top: -10px;
  min-width: 44px;
  min-height: 44px;
  border: 0;
  background: none;
  color: var(--ink-soft);
  font-weight: 700;
  font-size: 1.1rem;
}
td {
  padding: 1px;
  text-align: center;
}
.cell {
  width: 100%;
  min-width: 46px;
  min-height: 46px;
  border: 2px solid transparent;
  border-radius: 4px;
  background: none;
  padding: 0;
}
.cell.balanced {
  background: color-mix(in srgb, var(--panel) 55%, transparent);
}
.cell[aria-pressed="true"] {
  border-color: var(--ink);
  background: var(--panel);
}
.links a {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  min-height: 44px;
  min-width: 44px;
  padding: 0 0.4rem;
  color: var(--ink);
}
</style>
