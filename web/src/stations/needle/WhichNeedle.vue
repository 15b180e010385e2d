<script setup lang="ts">
import InTurn from "../../parts/InTurn.vue";
import Button from "primevue/button";
import { computed } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useNeedleDrawer, useWords } from "../../api/queries";
import { useSend } from "../../composables/send";
import GrooveSection from "../../diagrams/GrooveSection.vue";
import NeedleTip from "../../diagrams/NeedleTip.vue";
import SizeLadder from "../../diagrams/SizeLadder.vue";
import { useHere, useMachineId } from "../../composables/machine";
import FiguresNote from "../../parts/FiguresNote.vue";
import ReasonList from "../../parts/ReasonList.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import WordNote from "../../parts/WordNote.vue";
import { choices, fixed, percent } from "../../words";
import { useMachineChange } from "../../composables/send";
import OwnSays from "../../parts/OwnSays.vue";

const props = defineProps<{ station: Schemas["NeedleStation"] }>();
const emit = defineEmits<{ fit: [] }>();
const metric = defineModel<number>("metric", { required: true });
const point = defineModel<Schemas["Point"]>("point", { required: true });

const machine = useMachineId();
const { data: words } = useWords();
const { data: drawer } = useNeedleDrawer(machine);
const pairing = computed(() => props.station.pairing);
const setup = computed(() => props.station.setup);
const size = computed(() => pairing.value?.sizes.find((s) => s.metric === metric.value));
const pointFacts = computed(() => words.value?.points.find((p) => p.value === point.value));
const state = computed(() => size.value?.states[point.value] ?? "rides");
/** How far each point in this size is from its best, in a word. */
const FITS: Record<Schemas["Judgment"], string> = {
  best: "✓",
  goes: "goes",
  stretches: "a stretch",
  "won't": "won't do",
};
const shown = computed(() => props.station.distances[point.value]?.[String(metric.value)]);
/** Play in the groove is no matter for this thread: the cloth judges. */
const byEye = computed(
  () =>
    !!pairing.value?.by_eye &&
    state.value === "rides" &&
    (size.value?.nominal_fill ?? 1) < (words.value?.slack_below ?? 0),
);
const judged = (of: Schemas["Point"]) => {
  const advised = pairing.value?.recommended;
  if (of === advised?.point && metric.value === advised.metric) return FITS.best;
  const found = props.station.distances[of]?.[String(metric.value)];
  return !found ? "" : found.made ? FITS[found.judgment] : "not made";
};
const isBest = computed(
  () => metric.value === pairing.value?.recommended.metric && point.value === pairing.value.recommended.point,
);
/** What is in the machine, where it is another one, and what is advised or looked at, side by side. */
const beside = computed(() => {
  const found = [];
  const fitted = setup.value.needle;
  if (fitted && (fitted.metric !== metric.value || fitted.point !== point.value)) {
    const size = pairing.value?.sizes.find((s) => s.metric === fitted.metric);
    const facts = words.value?.points.find((p) => p.value === fitted.point);
    if (size && facts) found.push({ title: "In the machine", size, point: facts });
  }
  if (size.value && pointFacts.value)
    found.push({ title: isBest.value ? "Advised" : "You look at", size: size.value, point: pointFacts.value });
  return found;
});
const color = computed(() => setup.value.top?.[0]?.color ?? "#888888");
const strands = computed(() => (setup.value.top ?? []).map((t) => ({ color: t.color, diameterMm: t.diameter_mm })));
const stocked = computed(() =>
  (drawer.value?.packets ?? []).filter((p) => p.left > 0 && p.fits).map((p) => p.spec.metric),
);
const inDrawer = computed(() =>
  (drawer.value?.packets ?? [])
    .filter((p) => p.spec.metric === metric.value && p.spec.point === point.value && p.fits)
    .reduce((n, p) => n + p.left, 0),
);

const here = useHere();
const change = useMachineChange(machine);
const school = computed({
  get: () => pairing.value?.recommended.school ?? "home",
  set: (value) => void change.go({ school: value }),
});
const lay = useSend(
  (sandwich: Schemas["Sandwich"]) =>
    answer(client.POST("/api/machines/{machine_id}/sandwich", { ...here(), body: sandwich })),
  { waits: true },
);
const sandwich = computed(() => setup.value.sandwich ?? {});
const weave = computed({
  get: () => sandwich.value.weave ?? "ordinary",
  set: (v) => void lay.go({ ...sandwich.value, weave: v }),
});
const loft = computed({
  get: () => sandwich.value.loft ?? "medium",
  set: (v) => void lay.go({ ...sandwich.value, loft: v }),
});
const layers = computed({
  get: () => sandwich.value.layers ?? 3,
  set: (v) => void lay.go({ ...sandwich.value, layers: v }),
});
const adhesive = computed({
  get: () => sandwich.value.adhesive ?? false,
  set: (v) => void lay.go({ ...sandwich.value, adhesive: v }),
});
</script>

<template>
  <div v-if="!pairing" class="station">
    <section class="panel stack">
      <p class="verdict">Choose a top thread first. The needle follows from it.</p>
      <RouterLink :to="{ name: 'thread', params: { machine } }">Go to Thread</RouterLink>
    </section>
  </div>
  <div v-else-if="size && words && pointFacts" class="station">
    <div>
      <section class="panel" aria-live="polite">
        <p class="soft">
          {{ isBest ? `For ${(setup.top ?? []).map((t) => t.name).join(" + ")}` : "You are looking at" }}
        </p>
        <template v-if="!pairing.through_a_needle">
          <p class="answer" data-answer>No needle</p>
          <p class="verdict rubs">{{ pairing.reasons[0]?.text }}</p>
        </template>
        <template v-else>
          <p class="answer" data-answer>
            {{ size.metric }}/{{ size.american }} <small>{{ point }}</small>
          </p>
          <p class="verdict" :class="state">
            {{ words.fit_verdicts[state] }}: the thread fills {{ percent(size.nominal_fill) }} of the
            <WordNote term="groove" />.
          </p>
          <p v-if="state === 'slack' || state === 'rubs'">The thread {{ words.fit_says[state] }}.</p>
          <p v-if="byEye">{{ pairing.by_eye }}</p>
          <p v-if="station.maker" class="maker">
            {{ station.maker.text }}
            <button
              v-if="station.maker.metric && station.maker.point && isBest"
              type="button"
              class="link"
              @click="[metric, point] = [station.maker.metric, station.maker.point]">
              See it
            </button>
          </p>
          <p v-if="shown && !isBest">{{ shown.text }}</p>
          <p v-if="station.one_in && isBest" class="in-machine">{{ station.one_in }}</p>
        </template>
        <div v-if="pairing.through_a_needle" class="row fit">
          <Button label="Fit this one" size="large" @click="emit('fit')" />
          <span class="soft">{{ inDrawer ? `${inDrawer} in the drawer` : "none noted in the drawer" }}</span>
        </div>
        <div v-if="pairing.through_a_needle" class="cut" :class="{ two: beside.length > 1 }">
          <figure v-for="n in beside" :key="n.title" class="needle">
            <figcaption>
              <span class="soft">{{ n.title }}</span><strong
                >{{ n.size.metric }}/{{ n.size.american }} {{ n.point.value }}</strong
              >
            </figcaption>
            <GrooveSection
              :metric="n.size.metric"
              :groove-mm="n.size.groove_mm"
              :limit="n.point.limit"
              :threads="strands"
              :diameter-mm="pairing.diameter_mm"
              :words="`Needle ${n.size.metric}/${n.size.american} cut across, to scale: the thread of ${fixed(pairing.diameter_mm, 2)} mm ${words.fit_says[n.size.states[n.point.value] ?? 'rides']}.`" />
            <NeedleTip
              :metric="n.size.metric"
              :groove-mm="n.size.groove_mm"
              :eye="n.point.eye"
              :tip="n.point.tip"
              :diameter-mm="pairing.diameter_mm"
              :color="color"
              :words="`The end of a ${n.point.value} ${n.size.metric}/${n.size.american}: an eye of about ${fixed((n.point.eye * n.size.metric) / 100, 1)} mm, a ${n.point.tip} point, drawn to scale by our estimate.`" />
          </figure>
          <ul class="points" aria-label="Point">
            <li v-for="p in words.points" :key="p.value">
              <button
                type="button"
                :aria-pressed="p.value === point"
                :class="[size.states[p.value]]"
                @click="point = p.value">
                {{ p.name }} <span class="fits">{{ judged(p.value) }}</span>
              </button>
            </li>
          </ul>
        </div>
        <p v-if="pairing.through_a_needle" class="soft">
          {{ pointFacts.name }}: {{ pointFacts.note }}. Cut, eye and point are our model, to scale.
        </p>
      </section>
      <section class="panel stack">
        <h2>Why</h2>
        <ReasonList :reasons="pairing.reasons" />
        <FiguresNote subject="needle" />
      </section>
      <InTurn><OwnSays station="needle" feeds /></InTurn>
    </div>
    <div>
      <section v-if="pairing.through_a_needle" class="panel">
        <h2>Every size with this thread</h2>
        <InTurn>
          <SizeLadder
            v-model="metric"
            :sizes="pairing.sizes"
            :point="point"
            :limit="pointFacts.limit"
            :slack-below="pairing.by_eye ? 0 : words.slack_below"
            :picks="pairing.school_picks"
            :fitted="setup.needle?.metric"
            :stocked="stocked"
            :says="words.fit_says"
            :color="color" />
        </InTurn>
        <p class="soft">
          Metric over American. ▲ is in the machine, underlined sizes are in the drawer. Tap a size to see it.
        </p>
      </section>
      <section class="panel stack">
        <ToggleRow
          v-model="school"
          label="Whose chart"
          :options="[
            { value: 'home', name: 'home machines: fuller groove' },
            { value: 'longarm', name: 'longarms: stiffer needle' },
          ]" />
        <ToggleRow
          v-model="loft"
          label="Batting"
          :options="choices<NonNullable<Schemas['Sandwich']['loft']>>(words.lofts)" />
        <ToggleRow
          v-model="weave"
          label="Fabric"
          :options="choices<NonNullable<Schemas['Sandwich']['weave']>>(words.weaves)" />
        <ToggleRow
          v-model="layers"
          label="Layers"
          :options="[
            { value: 3, name: 'a quilt sandwich' },
            { value: 1, name: 'one layer' },
          ]" />
        <ToggleRow
          v-model="adhesive"
          label="Adhesive"
          :options="[
            { value: false, name: 'none' },
            { value: true, name: 'sprayed or fused' },
          ]" />
        <p v-if="adhesive" class="soft">Ventilate when spraying adhesive.</p>
      </section>
      <section v-if="pairing.alternatives.length && pairing.through_a_needle" class="panel">
        <h2>Instead</h2>
        <ul class="others">
          <li v-for="a in pairing.alternatives" :key="`${a.metric}${a.point}`">
            <button type="button" @click="[metric, point] = [a.metric, a.point]">
              <strong>{{ a.metric }}/{{ a.american }} {{ a.point }}</strong>
            </button>
            <span class="soft"
              ><template v-if="a.school">By the {{ a.school }} chart. </template>{{ a.why }}</span
            >
          </li>
        </ul>
      </section>
    </div>
  </div>
</template>

<style scoped>
.verdict.rubs {
  color: var(--vermilion);
}
.verdict.slack,
.verdict.tight {
  color: var(--amber);
}
.verdict.rides {
  color: var(--teal);
}
.link {
  min-height: 44px;
  border: 0;
  background: none;
  font-weight: 620;
  text-decoration: underline;
  text-underline-offset: 4px;
}
.cut {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 11rem;
  gap: 1rem;
  align-items: center;
}
.cut.two {
  grid-template-columns: repeat(2, minmax(0, 1fr)) 11rem;
}
.needle {
  margin: 0;
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 1fr);
  gap: 0.4rem;
  align-items: start;
}
.two .needle :deep(svg) {
  max-height: 15rem;
}
.needle figcaption {
  grid-column: 1 / -1;
  display: grid;
  line-height: 1.25;
}
.points,
.others {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 0.3rem;
}
.points button {
  width: 100%;
  min-height: 44px;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
  text-align: left;
  padding: 0 0.7rem;
}
.points button {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.fits {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.points .rubs .fits {
  color: var(--vermilion);
}
.points .tight .fits,
.points .slack .fits {
  color: var(--amber);
}
.points button[aria-pressed="true"] {
  border-color: var(--marigold);
  font-weight: 700;
}
.fit {
  margin-top: 0.7rem;
}
.others button {
  min-height: 44px;
  border: 0;
  background: none;
  text-decoration: underline;
  text-underline-offset: 4px;
  padding: 0;
}
.others li {
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.8rem;
  align-items: center;
}
@media (max-width: 500px) {
  /* The drawing keeps its width: the points go below it. */
  .cut {
    grid-template-columns: minmax(0, 1fr);
  }
  .two .needle :deep(svg) {
    height: auto;
  }
  .cut.two {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
  .points {
    grid-column: 1 / -1;
    grid-template-columns: 1fr 1fr;
  }
}
@media (max-width: 360px) {
  .points {
    grid-template-columns: 1fr;
  }
}
</style>
