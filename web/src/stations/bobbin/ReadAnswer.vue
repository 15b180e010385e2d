<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { useHas } from "../../composables/features";
import { useHere } from "../../composables/machine";
import { useNote } from "../../composables/send";
import CaseScrew from "../../diagrams/CaseScrew.vue";
import GaugeFace from "../../diagrams/GaugeFace.vue";
import WordNote from "../../parts/WordNote.vue";
import { pull, pullBeside, pullFigure, pulls, forceUnit } from "../../units";
import { counted, fixed, moment, percent } from "../../words";
import { useReading, VERDICTS, type Unit } from "./reading";
import UnreadNote from "./UnreadNote.vue";

const props = defineProps<{
  station: Schemas["BobbinStation"];
  shown: Schemas["GaugeAnswer"] | null;
  /** There is more than one case to choose. */
  several: boolean;
}>();
/** How still the gauge stood, before the share by which a pull differed. */
const STEADY: Record<Schemas["Calmness"], string> = {
  calm: "steady within",
  watch: "unsteady by",
  fault: "jumps by",
  unknown: "",
};
const has = useHas();
const reading = useReading();
const here = useHere();
const { data: known } = useWords();
const perUnit = computed(() => known.value?.mn_per as Record<Unit, number> | undefined);
const last = computed(() => props.station.setup.reading);
/** Another thread went below, and it is known what that does: turn before the first pull. */
const first = computed(() =>
  props.shown || props.station.setup.felt || props.station.turned ? null : props.station.turn_first,
);
const turn = computed(() => props.shown?.advice ?? first.value?.advice);
const turned = useNote(
  (minutes: number) =>
    answer(
      client.POST("/api/machines/{machine_id}/screw", { ...here(), body: { case: reading.caseId || null, minutes } }),
    ),
  { says: (done) => `${done.text}. Now ${has("gauge") ? "pull" : "feel it"} again.` },
);
async function noteTurn() {
  if (!turn.value) return;
  if (reading.taking.length) await reading.submit();
  const minutes = turn.value.direction === "tighten" ? turn.value.minutes : -turn.value.minutes;
  await turned.go(minutes);
  reading.field?.focus();
}
/** What the screw took from the thread before to this one, where the bobbin is felt. */
const byHand = computed(() => (props.shown || props.station.turned ? null : props.station.turn_by_hand));
const felt = computed(() => (props.shown ? null : props.station.setup.felt));
const target = computed(() => props.station.target ?? null);
</script>

<template>
  <section class="panel lead" aria-live="polite">
    <template v-if="shown && has('case')">
      <p v-if="reading.judged" class="soft">Not saved yet</p>
      <p v-else-if="last" class="soft">Last reading of this bobbin, {{ moment(last.read_at) }}</p>
      <p class="answer" data-answer>
        {{ pullFigure(shown.mean_mn) }} <small>{{ forceUnit() }}</small>{{ " " }}
        <small class="soft">{{ pullBeside(shown.mean_mn) }}</small>
      </p>
      <p class="verdict gauge-verdict" :class="shown.verdict">
        {{ VERDICTS[shown.verdict]
        }}<template v-if="shown.swing !== null">
          · <WordNote term="steady" :says="STEADY[shown.calmness]" /> {{ percent(shown.swing) }}</template
        >
      </p>
      <p class="text">{{ shown.text }}</p>
      <p v-if="!reading.judged && station.go_back" class="caution">{{ station.go_back }}</p>
      <p v-if="!reading.judged && station.taken_otherwise" class="caution">{{ station.taken_otherwise }}</p>
      <p v-if="shown.repeatability != null" class="soft beside">
        The pulls repeat to {{ fixed(shown.repeatability * 100, 1) }}%.
      </p>
    </template>
    <template v-else>
      <UnreadNote :station="station" />
      <Button
        v-if="felt && station.felt_off?.then === 'turn'"
        :label="`I ${felt.feel === 'loose' ? 'tightened' : 'loosened'} it five minutes`"
        outlined
        class="turned"
        :loading="turned.pending.value"
        @click="turned.go(felt.feel === 'loose' ? 5 : -5)" />
      <Button
        v-if="byHand?.minutes"
        :label="`I turned it ${counted(Math.abs(byHand.minutes), 'minute')}`"
        outlined
        class="turned"
        :loading="turned.pending.value"
        @click="turned.go(byHand.minutes)" />
    </template>
    <template v-if="turn && has('case')">
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
      <p v-if="!reading.caseId && several" class="soft">Choose the case: each screw answers in its own way.</p>
    </template>
    <GaugeFace
      v-else-if="perUnit && (shown || has('gauge')) && has('case') && !(felt && !shown)"
      :unit="reading.unit ?? 'mN'"
      :per-unit="perUnit[reading.unit ?? 'mN']"
      :mean="shown?.mean_mn"
      :swing="shown?.swing"
      :target="target"
      :words="shown ? `Gauge at ${pull(shown.mean_mn)}` : 'Gauge at rest'" />
    <p class="soft target-line" :class="{ beside: shown }">
      <template v-if="target">Target {{ pulls(target.low, target.high) }}: {{ target.origin }}.</template>
      <template v-else-if="has('case')">{{ station.no_number }}</template>
      <template v-if="station.usual && target?.origin !== station.usual.origin">
        {{ " " }}Usual for this throat: {{ pulls(station.usual.low, station.usual.high) }}.</template
      >
    </p>
    <p v-if="!shown && station.second_case" class="soft">{{ station.second_case }}</p>
    <p v-if="station.hand" class="soft">{{ station.hand }}</p>
  </section>
</template>

<style scoped>
.lead :deep(.text) {
  font-size: var(--type-lead);
  line-height: 1.35;
  margin-top: 0.3rem;
}
.caution {
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.5rem 0.8rem;
  margin-top: 0.4rem;
}
@media (max-width: 900px) {
  /* The number says it: what is tapped next stays in the first screen. */
  .lead :deep(.gauge) {
    display: none;
  }
}
@media (max-width: 600px) {
  .lead :deep(.text) {
    font-size: 1rem;
  }
  .target-line {
    font-size: var(--type-small);
    text-align: left;
  }
  /* Said again under "What it should read" and "Why": the pad comes into the first screen. */
  .beside {
    display: none;
  }
}
.turned {
  width: 100%;
  margin: 0.5rem 0;
}
.target-line {
  text-align: center;
}
</style>
