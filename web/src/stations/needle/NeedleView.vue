<script setup lang="ts">
import { computed, ref, watch } from "vue";
import type { Schemas } from "../../api/client";
import { useNeedle, useWords } from "../../api/queries";
import GrooveSection from "../../diagrams/GrooveSection.vue";
import SizeLadder from "../../diagrams/SizeLadder.vue";
import { useMachineId } from "../../machine";
import CautionList from "../../parts/CautionList.vue";
import ReasonList from "../../parts/ReasonList.vue";
import { day, percent } from "../../words";
import FittingForm from "./FittingForm.vue";

const SAYS = { slack: "has play, can snap", rides: "lies in the groove", tight: "only just lies in the groove", rubs: "stands proud and rubs" };
const machine = useMachineId();
const { data } = useNeedle(machine);
const { data: words } = useWords();
const metric = ref(0);
const point = ref<Schemas["Point"]>("topstitch");

const pairing = computed(() => data.value?.pairing);
const setup = computed(() => data.value?.setup);
watch(
  () => pairing.value?.recommended,
  (best) => {
    if (best) [metric.value, point.value] = [best.metric, best.point];
  },
  { immediate: true },
);
const size = computed(() => pairing.value?.sizes.find((s) => s.metric === metric.value));
const pointFacts = computed(() => words.value?.points.find((p) => p.value === point.value));
const state = computed(() => size.value?.states[point.value] ?? "rides");
const isBest = computed(() => metric.value === pairing.value?.recommended.metric && point.value === pairing.value.recommended.point);
const colour = computed(() => setup.value?.top?.[0]?.colour ?? "#888888");
const strands = computed(() => (setup.value?.top ?? []).map((t) => ({ colour: t.colour, diameterMm: t.diameter_mm })));
</script>

<template>
  <div v-if="data && !pairing" class="station">
    <section class="panel stack">
      <p class="verdict">Choose a top thread first; the needle follows from it.</p>
      <RouterLink :to="{ name: 'thread', params: { machine } }">Go to Thread</RouterLink>
    </section>
  </div>
  <div v-else-if="pairing && size && setup" class="station">
    <div>
      <section class="panel" aria-live="polite">
        <p class="soft">{{ isBest ? "For this thread" : "You are looking at" }}</p>
        <p class="answer" data-answer>{{ size.metric }}/{{ size.american }} <small>{{ point }}</small></p>
        <p class="verdict" :class="state">The thread {{ SAYS[state] }}: {{ percent(size.nominal_fill) }} full.</p>
        <div class="cut">
          <GrooveSection
            :metric="size.metric"
            :groove-mm="size.groove_mm"
            :limit="pointFacts?.limit ?? 0.62"
            :threads="strands"
            :diameter-mm="pairing.diameter_mm"
            :words="`Needle ${size.metric}/${size.american} cut across, to scale: the thread of ${pairing.diameter_mm.toFixed(2)} mm ${SAYS[state]}.`"
          />
          <ul class="points" aria-label="Point">
            <li v-for="p in words?.points" :key="p.value">
              <button type="button" :aria-pressed="p.value === point" :class="[size.states[p.value]]" @click="point = p.value">{{ p.name }}</button>
            </li>
          </ul>
        </div>
        <p class="soft">{{ pointFacts?.name }}: {{ pointFacts?.note }}. Drawn from our model, to scale.</p>
      </section>
      <section class="panel">
        <h2>Why</h2>
        <ReasonList :reasons="pairing.reasons" />
      </section>
    </div>
    <div>
      <section class="panel">
        <h2>Every size with this thread</h2>
        <SizeLadder
          v-model="metric"
          :sizes="pairing.sizes"
          :point="point"
          :limit="pointFacts?.limit ?? 0.62"
          :slack-below="words?.slack_below ?? 0.27"
          :picks="pairing.school_picks"
          :fitted="setup.needle?.metric"
          :colour="colour"
        />
        <p class="soft">Metric over American size. ▲ is in the machine. Tap a size to see it.</p>
      </section>
      <section class="panel stack">
        <h2>In the machine</h2>
        <p v-if="setup.needle" class="verdict">
          {{ setup.needle.metric }}/{{ setup.needle.american }} {{ setup.needle.point }}, since {{ day(setup.needle.fitted_at) }}
          <span v-if="data?.fitted_fit" class="soft">· this thread {{ SAYS[data.fitted_fit.state] }}</span>
        </p>
        <p v-else class="verdict">Not on record. Look at the needle and note it.</p>
        <CautionList :cautions="pairing.cautions" />
        <FittingForm :metric="metric" :point="point" @size="(m) => (metric = m)" @point="(p) => (point = p)" />
      </section>
      <section v-if="pairing.alternatives.length" class="panel">
        <h2>Instead</h2>
        <ul class="others">
          <li v-for="a in pairing.alternatives" :key="`${a.metric}${a.point}`">
            <button type="button" @click="([metric, point] = [a.metric, a.point])"><strong>{{ a.metric }}/{{ a.american }} {{ a.point }}</strong></button>
            <span class="soft"><template v-if="a.school">{{ a.school }} school. </template>{{ a.why }}</span>
          </li>
        </ul>
      </section>
    </div>
  </div>
</template>

<style scoped>
.verdict.rubs { color: var(--vermilion); }
.verdict.slack, .verdict.tight { color: var(--amber); }
.verdict.rides { color: var(--teal); }
.cut { display: grid; grid-template-columns: 1fr 11rem; gap: 1rem; align-items: center; }
.points, .others { list-style: none; margin: 0; padding: 0; display: grid; gap: 0.35rem; }
.points button { width: 100%; min-height: 44px; border: 2px solid var(--rule); border-left: 10px solid var(--teal); border-radius: 4px; background: var(--panel); text-align: left; padding: 0 0.7rem; }
.points button.rubs { border-left: 10px double var(--vermilion); }
.points button.slack, .points button.tight { border-left: 10px dashed var(--amber); }
.points button[aria-pressed="true"] { border-color: var(--marigold); font-weight: 700; }
.others button { min-height: 44px; border: 0; background: none; text-decoration: underline; text-underline-offset: 4px; padding: 0; }
.others li { display: flex; flex-wrap: wrap; gap: 0.1rem 0.8rem; align-items: center; }
</style>
