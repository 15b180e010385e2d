<script setup lang="ts">
import Button from "primevue/button";
import { computed, onUnmounted, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import CheckDrawing from "../../diagrams/CheckDrawing.vue";
import CautionList from "../../parts/CautionList.vue";
import SymptomPicture from "../../diagrams/SymptomPicture.vue";
import ReasonList from "../../parts/ReasonList.vue";
import { counted, listed, percent } from "../../words";
import CauseBars from "./CauseBars.vue";
import EndForm from "./EndForm.vue";
import { useSend } from "../../composables/send";
import { useBack, useEnd } from "./incident";

/** One question or one check at a time, with its reason; everything behind it one tap away. */
const props = defineProps<{ station: Schemas["MendStation"] }>();
const own = defineModel<boolean>("own", { required: true });
const emit = defineEmits<{ see: [] }>();
const id = computed(() => props.station.incident?.id ?? 0);
const found = computed(() => props.station.diagnosis);
const next = computed(() => found.value?.next);
const question = computed(() => found.value?.question);
const params = () => ({ params: { path: { incident_id: id.value } } });
const setup = computed(() => props.station.incident?.setup);

// What comes next says enough: no notice beside it. While the server is away the answer waits.
const quietly = { says: () => "", waits: true };
const say = useSend(
  ({ finding, present }: { finding: string; present: boolean | null }) =>
    answer(client.POST("/api/incidents/{incident_id}/answers", { ...params(), body: { finding, present } })),
  quietly,
);
const check = useSend(
  (result: Schemas["CheckAnswer"]) =>
    answer(
      client.POST("/api/incidents/{incident_id}/checks", {
        ...params(),
        body: { cause: next.value?.cause ?? "", answer: result, again: next.value?.again ?? false },
      }),
    ),
  quietly,
);
const back = useBack(id);
/** A second tap that comes late would answer what is asked next: that takes no answer until it has been seen. */
const SEEN_AFTER_MS = 800;
const unseen = ref(false);
let timer = 0;
watch(
  () => question.value?.finding ?? `${next.value?.cause} ${next.value?.again}`,
  () => {
    unseen.value = true;
    window.clearTimeout(timer);
    timer = window.setTimeout(() => (unseen.value = false), SEEN_AFTER_MS);
  },
);
onUnmounted(() => window.clearTimeout(timer));
const sending = computed(() => say.pending.value || check.pending.value || back.isPending.value);
const busy = computed(() => unseen.value || sending.value);
const problem = computed(() => say.problem.value ?? check.problem.value ?? back.error.value);
/** Several checks found nothing: what is seen is asked about once before the next. */
const goneOn = ref(-1);
const cureTried = computed(() => props.station.steps.at(-1)?.kind === "incident_outcome");
const lookAgain = computed(() => props.station.look_again && goneOn.value !== props.station.steps.length);
function seeAgain() {
  goneOn.value = props.station.steps.length;
  emit("see");
}
const end = useEnd(id);
const sewsWell = () => end.go({ outcome: "left", cleared: true });
const symptoms = computed(() =>
  props.station.incident?.payload?.kind === "incident" ? props.station.incident.payload.symptoms : [],
);
const made = computed(() => props.station.steps.length);
const minutes = (m: number) => (m === 0.5 ? "half a minute" : m === 1 ? "1 minute" : `${m} minutes`);
function goBack() {
  if (made.value) back.mutate(undefined);
  else emit("see");
}
</script>

<template>
  <div v-if="found && next" class="station">
    <section v-if="lookAgain" class="panel stack" aria-live="polite">
      <p class="soft">{{ cureTried ? "That cure changed nothing" : "The last checks found nothing" }}</p>
      <p class="answer ask" data-answer>Sew six inches. Is this still what you see?</p>
      <div class="pictures">
        <SymptomPicture v-for="s in symptoms" :key="s" :symptom="s" />
      </div>
      <p class="verdict">{{ station.seen.join(" · ") }}</p>
      <div class="answers">
        <Button label="Yes, go on" size="large" @click="goneOn = station.steps.length" />
        <Button label="It sews well now" size="large" :loading="end.pending.value" @click="sewsWell" />
        <Button label="It looks different" size="large" outlined @click="seeAgain" />
      </div>
      <p v-if="end.problem.value" class="field-error" role="alert">{{ end.problem.value.message }}</p>
      <p class="soft">
        Two faults can look alike, and some come and go. If it comes back within half an hour, what you checked still
        counts.
      </p>
    </section>
    <section v-else-if="question" class="panel stack" aria-live="polite">
      <p class="soft">
        A question first, it saves about
        {{ question.saves_minutes < 0.75 ? "half a minute" : minutes(Math.round(question.saves_minutes)) }}
      </p>
      <p class="answer ask" data-answer>{{ question.question }}</p>
      <div class="answers">
        <Button
          label="Yes"
          size="large"
          :disabled="busy"
          @click="say.go({ finding: question.finding, present: true })" />
        <Button
          label="No"
          size="large"
          :disabled="busy"
          @click="say.go({ finding: question.finding, present: false })" />
        <Button
          label="Can't tell"
          size="large"
          outlined
          :disabled="busy"
          @click="say.go({ finding: question.finding, present: null })" />
      </div>
      <Button label="Back" text class="back" :disabled="sending" @click="goBack" />
      <p v-if="problem" class="field-error" role="alert">{{ problem.message }}</p>
    </section>
    <section v-else class="panel stack check" aria-live="polite">
      <p class="soft">
        {{ next.again ? "Check once more" : made ? "Check next" : "Check first" }}, {{ minutes(next.minutes) }}
      </p>
      <CautionList :cautions="next.cautions" />
      <p class="answer ask" data-answer>{{ next.check }}</p>
      <p class="how">{{ next.how }}</p>
      <CheckDrawing
        :drawing="next.drawing ?? ''"
        :words="next.how"
        :path="station.path"
        :at="station.path_point"
        :top="setup?.top?.[0]?.color"
        :bobbin="setup?.bobbin?.color" />
      <div class="answers">
        <Button label="Found it" size="large" :disabled="busy" @click="check.go('found')" />
        <Button label="Not it" size="large" :disabled="busy" @click="check.go('not_it')" />
        <Button label="Can't tell" size="large" outlined :disabled="busy" @click="check.go('cannot_tell')" />
      </div>
      <div class="row">
        <Button label="Back" text :disabled="sending" @click="goBack" />
        <Button label="Skip, later" text :disabled="busy" @click="check.go('skipped')" />
      </div>
      <p v-if="problem" class="field-error" role="alert">{{ problem.message }}</p>
    </section>
    <div>
      <section class="panel stack">
        <p class="verdict">{{ station.seen.join(" · ") }}</p>
        <p v-if="found.most_minutes" class="soft">
          About {{ minutes(Math.max(1, Math.round(found.most_minutes))) }} of checks are left.
        </p>
        <Button label="Correct what I see or what changed" text class="left" @click="emit('see')" />
        <template v-if="!question && !lookAgain">
          <h2>Why this next</h2>
          <ReasonList :reasons="found.reasons" />
        </template>
        <details>
          <summary>
            What it may be: {{ found.causes[0]?.name.toLowerCase() }}, {{ percent(found.causes[0]?.probability ?? 0) }},
            and others
          </summary>
          <CauseBars :causes="found.causes" />
          <p v-if="station.known.length" class="soft">From the records: {{ listed(station.known) }}.</p>
          <label v-if="station.own_troubles" class="own"
            ><input v-model="own" type="checkbox" /> let your own
            {{ counted(station.own_troubles, "mended trouble") }} count</label
          >
        </details>
        <details v-if="!question && found.questions?.length">
          <summary>Tell it more</summary>
          <div v-for="q in found.questions" :key="q.finding" class="more">
            <span>{{ q.question }}</span>
            <Button
              label="Yes"
              outlined
              :aria-label="`Yes: ${q.question}`"
              :disabled="busy"
              @click="say.go({ finding: q.finding, present: true })" />
            <Button
              label="No"
              outlined
              :aria-label="`No: ${q.question}`"
              :disabled="busy"
              @click="say.go({ finding: q.finding, present: false })" />
          </div>
        </details>
        <p v-if="station.lately?.length" class="soft">
          Checked a moment ago: {{ station.lately.join(" · ").toLowerCase() }}
        </p>
        <details v-if="made" :open="made < 5">
          <summary>Checked so far: {{ made }}</summary>
          <ol class="steps">
            <li v-for="s in station.steps" :key="s.id">{{ s.text }}</li>
          </ol>
        </details>
      </section>
      <EndForm :incident="id" :causes="station.others" />
    </div>
  </div>
</template>

<style scoped>
.ask {
  font-size: var(--type-large);
  line-height: 1.08;
}
.check {
  gap: 0.5rem;
}
.check :deep(svg[role="img"]) {
  max-height: 150px;
}
.how {
  font-size: var(--type-lead);
  line-height: 1.3;
}
.answers {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(5.6rem, 1fr));
  gap: 0.6rem;
}
.answers > * {
  padding-inline: 0.4rem;
  min-height: 68px;
  font-size: var(--type-lead);
}
.pictures {
  display: flex;
  gap: 1rem;
}
.pictures :deep(svg) {
  height: 110px;
}
.left,
.back {
  justify-self: start;
  padding-left: 0;
}
.steps {
  margin: 0;
  padding-left: 1.4rem;
  display: grid;
  gap: 0.25rem;
}
.more {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 0.5rem;
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 0.35rem 0;
}
.own {
  display: flex;
  gap: 0.6rem;
  align-items: center;
  min-height: 44px;
}
.own input {
  width: 24px;
  height: 24px;
  accent-color: var(--marigold);
}
</style>
