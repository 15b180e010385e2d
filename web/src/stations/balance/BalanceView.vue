<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useBalance, useChange, useStrike, useWords } from "../../api/queries";
import { useMachineId } from "../../machine";
import { say } from "../../notices";
import FieldBox from "../../parts/FieldBox.vue";
import { day, time, typed } from "../../words";
import GradePicker from "./GradePicker.vue";

const MOTIONS: { value: Schemas["Motion"]; name: string }[] = [
  { value: "free_motion", name: "free-motion" },
  { value: "straight", name: "straight" },
  { value: "decorative", name: "decorative" },
];
const machine = useMachineId();
const { data } = useBalance(machine);
const { data: words } = useWords();
const grades = computed(() => words.value?.grades ?? []);
const path = () => ({ path: { machine_id: machine.value } });

const setting = ref("");
const grade = ref<number | null>(null);
const motion = ref<Schemas["Motion"]>("free_motion");
const name = ref("");
const scale = computed(() => data.value?.scale);
const look = computed(() => data.value?.setup.look);
const SCALE_SAYS = { dial: "dial number", turns: "turns from the mark, + is in", readout: "readout" };

watch(
  data,
  (station) => {
    if (!station || setting.value) return;
    const { low, high, step } = station.scale;
    const from = station.setup.look?.setting ?? startOn(station);
    setting.value = String(Math.min(high, Math.max(low, Math.round(from / step) * step)));
  },
  { immediate: true },
);
/** Where to start on this machine's own scale: the schools' value, or the bobbin's number on a readout. */
function startOn(station: Schemas["BalanceStation"]): number {
  if (station.start?.kind === station.scale.kind) return station.start.centre;
  if (station.scale.kind === "readout") return station.setup.reading?.mean_mn ?? station.scale.low;
  return (station.scale.low + station.scale.high) / 2;
}
function turn(steps: number) {
  if (!scale.value) return;
  const { low, high, step } = scale.value;
  const next = Number(setting.value.replace(",", ".")) + steps * step;
  if (!Number.isNaN(next)) setting.value = String(+Math.min(high, Math.max(low, next)).toFixed(4));
}
const keepLook = useChange(() =>
  answer(
    client.POST("/api/machines/{machine_id}/looks", {
      params: path(),
      body: { setting: typed(setting.value), grade: grade.value as number, motion: motion.value },
    }),
  ),
);
const keepAll = useChange(() =>
  answer(client.POST("/api/machines/{machine_id}/recipes", { params: path(), body: { name: name.value } })),
);
const undo = useStrike();
const lookError = (field: string) => keepLook.error.value?.fields[field];
async function submitLook() {
  const kept = await keepLook.mutateAsync(undefined).catch(() => null);
  if (!kept) return;
  say(`Kept: ${kept.text}.`, () => undo.mutate(kept.id));
  grade.value = null;
}
async function submitAll() {
  const kept = await keepAll.mutateAsync(undefined).catch(() => null);
  if (!kept) return;
  say(`${name.value} is in the log.`, () => undo.mutate(kept.id));
  name.value = "";
}
const top = computed(() => data.value?.setup.top?.[0]);
const gradeOf = (value: number) => grades.value.find((g) => g.grade === value);
const looks = computed(() => data.value?.recent.filter((r) => !r.struck_at).slice(0, 6) ?? []);
</script>

<template>
  <div v-if="data && scale" class="station">
    <div>
      <section class="panel stack">
        <div class="setting">
          <label class="field">
            <span>Top tension it was sewn at: {{ SCALE_SAYS[scale.kind] }}, {{ scale.low }} to {{ scale.high }}</span>
            <span class="dial">
              <button type="button" aria-label="Looser, one step" @click="turn(-1)">−</button>
              <input v-model="setting" class="plain-input" inputmode="decimal" autocomplete="off" :aria-invalid="!!lookError('setting')" aria-label="Top tension setting" />
              <button type="button" aria-label="Tighter, one step" @click="turn(1)">+</button>
            </span>
          </label>
          <p v-if="data.start && !look" class="soft">Start: {{ data.start.text }}</p>
          <p v-if="lookError('setting')" class="field-error" role="alert">{{ lookError("setting") }}</p>
        </div>
        <div class="row" role="group" aria-label="How it was sewn">
          <button v-for="m in MOTIONS" :key="m.value" type="button" class="toggle" :aria-pressed="motion === m.value" @click="motion = m.value">{{ m.name }}</button>
        </div>
      </section>
      <section class="panel">
        <h2>Which one looks like your stitch?</h2>
        <GradePicker v-model="grade" :grades="grades" :top="top" :bobbin="data.setup.bobbin" />
        <p v-if="grade === 2" class="verdict caution">A sudden nest is nearly always a thread outside the discs. Seat it and stitch again before you turn anything.</p>
        <p v-if="lookError('grade')" class="field-error" role="alert">{{ lookError("grade") }}</p>
        <p v-if="keepLook.error.value?.lost" class="field-error">{{ keepLook.error.value.message }}</p>
        <Button data-new class="keep" label="Keep this look" size="large" :disabled="grade === null" :loading="keepLook.isPending.value" @click="submitLook" />
      </section>
    </div>
    <div>
      <section class="panel stack" aria-live="polite">
        <template v-if="look">
          <p class="soft">Last look, {{ day(look.stitched_at) }} {{ time(look.stitched_at) }}</p>
          <p class="answer" data-answer>{{ looks[0]?.text.split(",")[0] ?? look.setting }}</p>
          <p class="verdict">{{ gradeOf(look.grade)?.name }}</p>
        </template>
        <template v-else>
          <p class="answer ask">Stitch a test</p>
          <p>On a scrap of the same sandwich. Nothing has been looked at since threads or needle changed.</p>
        </template>
      </section>
      <section class="panel stack" aria-labelledby="keep-title">
        <h2 id="keep-title">Keep this combination</h2>
        <p v-if="data.missing.length" class="soft">It still needs {{ data.missing.join(", ") }}.</p>
        <form class="stack" @submit.prevent="submitAll">
          <FieldBox label="Name, for instance the quilt" :error="keepAll.error.value?.fields.name"><InputText v-model="name" /></FieldBox>
          <p v-if="keepAll.error.value?.lost" class="field-error">{{ keepAll.error.value.message }}</p>
          <Button type="submit" label="Keep this combination" :loading="keepAll.isPending.value" />
        </form>
      </section>
      <section v-if="looks.length" class="panel">
        <h2>Looks on this machine</h2>
        <ul class="looks">
          <li v-for="r in looks" :key="r.id">
            <span class="soft">{{ day(r.at) }}</span>
            <span>{{ (r.setup.top ?? []).map((t) => t.name).join(" + ") || "–" }}</span>
            <strong>{{ r.text }}</strong>
          </li>
        </ul>
      </section>
    </div>
  </div>
</template>

<style scoped>
.dial { display: grid; grid-template-columns: 72px 1fr 72px; gap: 0.5rem; }
.dial button { font-size: 2rem; font-weight: 700; border: 2px solid var(--rule); background: var(--linen); border-radius: 4px; min-height: 60px; }
.dial input { font-size: 2.2rem; padding: 0; font-weight: 720; text-align: center; }
.toggle { min-height: 48px; border: 2px solid var(--rule); background: var(--panel); border-radius: 4px; padding: 0 1rem; font-weight: 600; }
.toggle[aria-pressed="true"] { border-color: var(--marigold); background: var(--amber-wash); }
.keep { width: 100%; margin-top: 0.5rem; }
.caution { color: var(--amber); margin-top: 0.7rem; }
.ask { font-size: 2.4rem; }
.looks { list-style: none; margin: 0; padding: 0; }
.looks li { display: grid; grid-template-columns: 7rem 1fr 1.4fr; gap: 0.6rem; padding: 0.4rem 0; border-top: 1px solid var(--rule); }
.looks strong { font-weight: 600; }
</style>
