<script setup lang="ts">
import { useDraft } from "../../composables/draft";
import DraftNote from "../../parts/DraftNote.vue";
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import Button from "primevue/button";
import { computed, reactive, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useHere, useMachineId } from "../../composables/machine";
import { useSend, useTakeBack } from "../../composables/send";
import ToggleRow from "../../parts/ToggleRow.vue";
import { PAPER_SAYS, papers } from "../../locale";
import { onPaper } from "../../units";
import { counted, figure, MOTION_SAYS } from "../../words";
import ClothOnMachine from "./ClothOnMachine.vue";
import GradeBoard from "./GradeBoard.vue";

/**
 * A whole ladder at once: a column a step, looser to tighter, and one tap where the stitch looks so. Steps go between
 * others, the range moves and stretches; a row for each motion; its strip prints true to size.
 */
const props = defineProps<{
  motion: Schemas["Motion"];
  station: Schemas["BalanceStation"];
  top: string;
  bobbin: string;
}>();
const scale = computed(() => props.station.scale);
type Plan = Exclude<Schemas["LadderPlan"], "fewest">;
const PLANS: { value: Plan; name: string }[] = [
  { value: "half", name: "six steps" },
  { value: "full", name: "whole scale" },
];
const machine = useMachineId();
const here = useHere();
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
  const { low, high, step } = scale.value;
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
  return gaps.length ? Math.max(...gaps) : scale.value.step;
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
  data.value?.words[data.value.settings.indexOf(setting)] ?? figure(+setting.toFixed(3));
const strip = (form: string, paper: string) => {
  const cloth = props.station.cloth ? `&cloth=${props.station.cloth.id}` : "";
  return `/api/machines/${machine.value}/strip.${form}?plan=${plan.value}&motion=${props.motion}${cloth}&${onPaper(paper)}`;
};
</script>

<template>
  <section class="panel stack" aria-labelledby="ladder-title">
    <DraftNote :shown="draft.state.restored && filled.length > 0" @drop="empty" />
    <h2 id="ladder-title">A whole test strip on one cloth, {{ MOTION_SAYS[motion] }}</h2>
    <ClothOnMachine :station="station" />
    <p v-if="data" class="soft">
      Sew on {{ data.cloth }}. Then tap, step by step, what you see.
      <template v-if="others.length"
        >Also judged: {{ others.map((r) => `${MOTION_SAYS[r.motion]} (${r.steps.length})`).join(", ") }}.</template
      >
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
    <GradeBoard
      v-if="row"
      :settings="settings"
      :graded="row.graded"
      :named="named"
      :top="top"
      :bobbin="bobbin"
      :between="between"
      @tap="tap"
      @insert="lay([...settings, $event])" />
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
