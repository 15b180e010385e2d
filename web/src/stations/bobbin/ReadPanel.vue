<script setup lang="ts">
import WordNote from "../../parts/WordNote.vue";
import { useDraft } from "../../composables/draft";
import DraftNote from "../../parts/DraftNote.vue";
import { pull, pullBeside, pullFigure, pulls, spoken } from "../../units";
import Button from "primevue/button";
import { computed, reactive, ref, watch } from "vue";
import { answer, client, Problem, type Schemas } from "../../api/client";
import { useRack, useWords } from "../../api/queries";
import CaseScrew from "../../diagrams/CaseScrew.vue";
import GaugeFace from "../../diagrams/GaugeFace.vue";
import { useHere, useMachineId } from "../../composables/machine";
import CautionList from "../../parts/CautionList.vue";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FiguresNote from "../../parts/FiguresNote.vue";
import NumberPad from "../../parts/NumberPad.vue";
import ReasonList from "../../parts/ReasonList.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { day, percent, time } from "../../words";
import ByHand from "./ByHand.vue";
import NumberPanel from "./NumberPanel.vue";
import SwapPanel from "./SwapPanel.vue";
import UnreadNote from "./UnreadNote.vue";
import { useNote } from "../../composables/send";
import { numberIn, numbersIn } from "../../composables/fields";
import OwnSays from "../../parts/OwnSays.vue";

type Unit = Schemas["ForceUnit"];
const UNITS: Unit[] = ["mN", "gf", "cN"];
const HEAD: Record<Schemas["Verdict"], string> = {
  on_target: "On target",
  low: "Low",
  high: "High",
  fluttering: "It flutters",
  check_unit: "Check the unit",
  no_target: "No target yet",
};

const props = defineProps<{ station: Schemas["BobbinStation"] }>();
const machine = useMachineId();
const { data: rack } = useRack(machine);
const unit = ref<Unit>(props.station.unit);
const caseId = ref(props.station.setup.case?.id ?? 0);
watch(
  () => props.station.setup.case?.id,
  (id) => (caseId.value = id ?? caseId.value),
);
const cases = computed(() => [
  { value: 0, name: "no case noted" },
  ...(rack.value?.cases ?? []).map((c) => ({ value: c.id, name: `${c.spec.label}${c.fault ? ` (${c.fault})` : ""}` })),
]);
const conditions = reactive<Schemas["ReadingConditions"]>({ full_bobbin: null, lying_flat: null, phase: null });

const both = ref(false);
const entry = ref("");
const low = ref("");
const taking = ref<Schemas["Pull"][]>([]);
const draft = useDraft(`reading ${machine.value}`, reactive({ entry, low, taking }));
const field = ref<HTMLInputElement>();
const refused = ref("");
// Ready for the first number, without pulling the answer out of sight.
watch(field, (input) => input?.focus({ preventScroll: true }));

const body = computed(() => ({
  unit: unit.value,
  pulls: taking.value,
  case: caseId.value || null,
  conditions: { ...conditions },
}));
const judged = ref<Schemas["GaugeAnswer"] | null>(null);
const here = useHere();
const { data: known } = useWords();
const perUnit = computed(() => known.value?.mn_per as Record<Unit, number> | undefined);
const judge = (question: typeof body.value) =>
  answer(client.POST("/api/machines/{machine_id}/readings/judge", { ...here(), body: question }));
watch(body, async (question) => {
  refused.value = "";
  judged.value = question.pulls.length ? await judge(question).catch(() => null) : null;
});

/** Pulls are taken one after another; who keeps the reading waits for the last of them. */
let taken: Promise<void> = Promise.resolve();
/** Adds the typed pull once the server has taken it as one; what it refuses goes back into the field. */
function add() {
  if (both.value && !low.value) {
    [low.value, entry.value] = [entry.value, ""];
    return taken;
  }
  // The field is free at once: a quick hand types the next pull before this one is answered.
  const typed = { low: low.value, high: entry.value };
  entry.value = low.value = "";
  field.value?.focus({ preventScroll: true });
  return (taken = taken.then(() => take(typed)));
}
async function take(typed: { low: string; high: string }) {
  refused.value = "";
  try {
    const one = both.value ? numbersIn(typed) : { value: numberIn("value", typed.high) };
    judged.value = await judge({ ...body.value, pulls: [...taking.value, one] });
    taking.value = [...taking.value, one];
  } catch (problem) {
    refused.value = (problem as Problem).message;
    if (!entry.value) [low.value, entry.value] = [typed.low, typed.high];
  }
}
const keep = useNote(
  () => answer(client.POST("/api/machines/{machine_id}/readings", { ...here(), body: body.value })),
  { says: (kept) => `Kept: ${kept.text}.`, then: () => draft.drop() },
);
async function submit() {
  refused.value = "";
  // A number that still stands in the field counts.
  if (entry.value) await add();
  await taken;
  // What was refused is in the field again.
  if (entry.value) return;
  await keep.go();
  refused.value = keep.problem.value?.message ?? "";
}

const shown = computed(() => judged.value ?? props.station.last ?? null);
const last = computed(() => props.station.setup.reading);
/** Another thread went below, and it is known what that does: turn before the first pull. */
const first = computed(() =>
  shown.value || props.station.setup.felt || props.station.turned ? null : props.station.turn_first,
);
const turn = computed(() => shown.value?.advice ?? first.value?.advice);
const turned = useNote(
  (minutes: number) =>
    answer(
      client.POST("/api/machines/{machine_id}/screw", { ...here(), body: { case: caseId.value || null, minutes } }),
    ),
  { says: (done) => `${done.text}. Now pull again.` },
);
async function noteTurn() {
  if (!turn.value) return;
  if (taking.value.length) await submit();
  const minutes = turn.value.direction === "tighten" ? turn.value.minutes : -turn.value.minutes;
  await turned.go(minutes);
  field.value?.focus();
}
const words = (p: Schemas["Pull"]) => (p.value != null ? `${p.value}` : `${p.low} – ${p.high}`);
const felt = computed(() => (shown.value ? null : props.station.setup.felt));
const target = computed(() => props.station.target ?? null);
const prompt = computed(() => {
  const which = `Pull ${taking.value.length + 1}`;
  if (!both.value) return which;
  return low.value ? `${which}: highest (lowest was ${low.value})` : `${which}: lowest`;
});
</script>

<template>
  <div class="station together">
    <div>
      <section class="panel lead" aria-live="polite">
        <template v-if="shown">
          <p v-if="judged" class="soft">Not saved yet</p>
          <p v-else-if="last" class="soft">
            Last reading of this bobbin, {{ day(last.read_at) }} {{ time(last.read_at) }}
          </p>
          <p class="answer" data-answer>
            {{ pullFigure(shown.mean_mn) }} <small>{{ spoken.force }}</small>{{ " " }}
            <small class="soft">{{ pullBeside(shown.mean_mn) }}</small>
          </p>
          <p class="verdict state" :class="shown.verdict">
            {{ HEAD[shown.verdict]
            }}<template v-if="shown.swing !== null">
              · <WordNote term="swing" says="wavers" />{{ " " }}{{ percent(shown.swing)
              }}{{ shown.calmness === "fault" ? ": something is wrong" : `, ${shown.calmness}` }}</template
            >
          </p>
          <p class="text">{{ shown.text }}</p>
          <p v-if="!judged && station.go_back" class="caution">{{ station.go_back }}</p>
          <p v-if="!judged && station.taken_otherwise" class="caution">{{ station.taken_otherwise }}</p>
          <p v-if="shown.repeatability != null" class="soft">
            The pulls repeat to {{ (shown.repeatability * 100).toFixed(1) }}%.
          </p>
        </template>
        <template v-else>
          <UnreadNote :station="station" />
          <Button
            v-if="felt && felt.feel !== 'right' && !station.feel_again"
            :label="`I ${felt.feel === 'loose' ? 'tightened' : 'loosened'} it five minutes`"
            outlined
            class="turned"
            :loading="turned.pending.value"
            @click="turned.go(felt.feel === 'loose' ? 5 : -5)" />
        </template>
        <template v-if="turn">
          <CaseScrew
            :minutes="turn.minutes"
            :tighten="turn.direction === 'tighten'"
            :words="`The case from its screw side: ${turn.text}`" />
          <p class="soft">
            The larger screw, in <WordNote term="minutes" />. Expect
            {{ pulls(turn.expected_low_mn, turn.expected_high_mn) }} after it.
          </p>
          <Button
            class="turned"
            :label="`I turned it ${turn.minutes} minute${turn.minutes > 1 ? 's' : ''}`"
            outlined
            :loading="turned.pending.value"
            @click="noteTurn" />
          <p v-if="!caseId && cases.length > 2" class="soft">Choose the case: each screw answers in its own way.</p>
        </template>
        <GaugeFace
          v-else-if="perUnit && (shown || station.has_gauge !== false) && !station.drops_in && !(felt && !shown)"
          :unit="unit"
          :per-unit="perUnit[unit]"
          :mean="shown?.mean_mn"
          :swing="shown?.swing"
          :target="target"
          :words="shown ? `Gauge at ${pull(shown.mean_mn)}` : 'Gauge at rest'" />
        <p class="soft target-line">
          <template v-if="target">Target {{ pulls(target.low, target.high) }}: {{ target.origin }}.</template>
          <template v-else-if="!station.drops_in">{{ station.no_number }}</template>
          <template v-if="station.usual && target?.origin !== station.usual.origin">
            {{ " " }}One school's for this throat: {{ pulls(station.usual.low, station.usual.high) }}.</template
          >
        </p>
        <p v-if="station.hand" class="soft">{{ station.hand }}</p>
      </section>
      <NumberPanel v-if="!station.drops_in" :station="station" />
      <OwnSays station="bobbin" />
      <SwapPanel v-if="shown?.verdict === 'fluttering'" :case-id="caseId" :item="0" />
      <section v-if="shown" class="panel stack">
        <h2>Why</h2>
        <ReasonList :reasons="shown.reasons" />
        <CautionList :cautions="shown.cautions" />
        <FiguresNote subject="bobbin" />
      </section>
    </div>
    <div>
      <ByHand v-if="station.has_gauge === false && !station.drops_in" :case-id="caseId" open />
      <section v-if="!station.drops_in" class="panel stack hand">
        <DraftNote :shown="draft.state.restored" @drop="draft.drop()" />
        <p v-if="judged" class="at-pad state" :class="judged.verdict" aria-hidden="true">
          {{ pull(judged.mean_mn) }} · {{ HEAD[judged.verdict] }} · not saved yet
        </p>
        <div class="row units" role="group" aria-label="The gauge is marked in">
          <button v-for="u in UNITS" :key="u" type="button" class="toggle" :aria-pressed="u === unit" @click="unit = u">
            {{ u }}
          </button>
          <button type="button" class="toggle" :aria-pressed="both" @click="((both = !both), (low = ''))">
            low and high
          </button>
        </div>
        <label class="field">
          <span>{{ prompt }}, {{ unit }}</span>
          <input
            ref="field"
            v-model="entry"
            class="plain-input reading"
            inputmode="decimal"
            autocomplete="off"
            :aria-invalid="!!refused"
            @keydown.enter.prevent="entry && add()" />
        </label>
        <p v-if="refused" class="field-error" role="alert">{{ refused }}</p>
        <NumberPad
          v-model="entry"
          :enter-label="both && !low ? 'That is the lowest' : 'Add this pull'"
          :can-enter="!!entry"
          @enter="add" />
        <ol v-if="taking.length" class="pulls" aria-label="Pulls">
          <li v-for="(p, i) in taking" :key="i">
            <strong>{{ words(p) }}</strong> {{ unit }}
            <button
              type="button"
              :aria-label="`Remove pull ${i + 1}`"
              @click="taking = taking.filter((_, n) => n !== i)">
              ✕
            </button>
          </li>
        </ol>
        <Button
          data-new
          label="Keep this reading"
          size="large"
          :disabled="!taking.length && !entry"
          :loading="keep.pending.value"
          @click="submit" />
        <ChoiceBox v-model="caseId" label="Case" :options="cases" />
        <details>
          <summary>Conditions</summary>
          <div class="stack">
            <ToggleRow
              v-model="conditions.full_bobbin"
              label="Bobbin"
              :options="[
                { value: null, name: 'not noted' },
                { value: true, name: 'full' },
                { value: false, name: 'part' },
              ]" />
            <ToggleRow
              v-model="conditions.lying_flat"
              label="Gauge"
              :options="[
                { value: null, name: 'not noted' },
                { value: true, name: 'lying flat' },
                { value: false, name: 'held' },
              ]" />
            <ToggleRow
              v-model="conditions.phase"
              label="Change of thread"
              :options="[
                { value: null, name: 'none' },
                { value: 'before_change', name: 'before it' },
                { value: 'after_change', name: 'after it' },
              ]" />
          </div>
        </details>
      </section>
      <ByHand v-if="station.has_gauge !== false && !station.drops_in" :case-id="caseId" />
      <section v-if="station.conditions.length" class="panel">
        <h2>How it is read makes a difference</h2>
        <p v-for="c in station.conditions" :key="c.what">{{ c.text }}</p>
      </section>
      <section v-if="station.recent.length" class="panel">
        <h2>Before</h2>
        <table>
          <tbody>
            <tr v-for="r in station.recent.filter((e) => !e.struck_at).slice(0, 6)" :key="r.id">
              <td class="soft">{{ day(r.at) }}</td>
              <td>{{ r.setup.bobbin?.name }}</td>
              <td>{{ r.text }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
  </div>
</template>

<style scoped>
.lead :deep(.text) {
  font-size: 1.15rem;
  line-height: 1.35;
  margin-top: 0.3rem;
}
.caution {
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.5rem 0.8rem;
  margin-top: 0.4rem;
}
/* Beside the pad, where the hand is: on a narrow screen the large answer is scrolled away. */
.at-pad {
  display: none;
  font-size: 1.5rem;
  font-weight: 700;
}
@media (max-width: 900px) {
  .at-pad {
    display: block;
  }
  .lead :deep(.gauge) {
    max-height: 190px;
  }
}
.turned {
  width: 100%;
  margin: 0.5rem 0;
}
.state::before {
  display: inline-block;
  width: 1.5em;
  font-weight: 800;
}
.state.on_target {
  color: var(--teal);
}
.state.on_target::before {
  content: "●";
}
.state.low,
.state.high,
.state.check_unit {
  color: var(--amber);
}
.state.low::before {
  content: "▼";
}
.state.high::before {
  content: "▲";
}
.state.check_unit::before {
  content: "◆";
}
.state.fluttering {
  color: var(--vermilion);
}
.state.fluttering::before {
  content: "✕";
}
.target-line {
  text-align: center;
}
.toggle {
  min-height: 48px;
  min-width: 64px;
  border: 2px solid var(--rule);
  background: var(--panel);
  border-radius: 4px;
  padding: 0 0.9rem;
  font-weight: 600;
}
.toggle[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
.units .toggle:last-child {
  margin-left: auto;
}
.reading {
  font-size: 2rem;
  font-weight: 700;
  text-align: right;
}
.pulls {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
}
.pulls li {
  display: flex;
  align-items: center;
  gap: 0.4rem;
  border: 2px solid var(--rule);
  border-radius: 4px;
  padding-left: 0.8rem;
  font-size: 1.15rem;
}
.pulls button {
  min-width: 44px;
  min-height: 44px;
  border: 0;
  background: none;
}
table {
  width: 100%;
  border-collapse: collapse;
}
td {
  padding: 0.35rem 0.4rem 0.35rem 0;
  border-top: 1px solid var(--rule);
}
</style>
