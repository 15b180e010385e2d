<script setup lang="ts">
import InTurn from "../../parts/InTurn.vue";
import { stretch } from "../../units";
import { counted, percent } from "../../words";
import { computed, defineAsyncComponent, ref, watch } from "vue";
import { useRoute } from "vue-router";
import { useLine, usePlanNow, useRun } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import ClockPanel from "../../parts/ClockPanel.vue";
import FiguresNote from "../../parts/FiguresNote.vue";
import SegmentBar from "../../parts/SegmentBar.vue";
import NeedleLeft from "../../diagrams/NeedleLeft.vue";
import BreakPanel from "./BreakPanel.vue";
import WalksPanel from "./WalksPanel.vue";
import QuiltsPanel from "./QuiltsPanel.vue";
import NextInPlan from "../../parts/NextInPlan.vue";
import OnBobbin from "../../parts/OnBobbin.vue";
import OwnSays from "../../parts/OwnSays.vue";

/** While it is quilted: the clock, how far the bobbin still goes, and what wants seeing to first. */
type Part = "now" | "plan" | "quilts" | "walks";
const SEGMENTS: { value: Part; name: string }[] = [
  { value: "now", name: "At the machine" },
  { value: "plan", name: "Plan" },
  { value: "quilts", name: "Quilts" },
  { value: "walks", name: "Set-up and care, step by step" },
];
const route = useRoute();
const PlanPanel = defineAsyncComponent(() => import("../plan/PlanPanel.vue"));
const asked = () => SEGMENTS.find((s) => s.value === route.query.part)?.value ?? "now";
const part = ref<Part>(asked());
watch(
  () => route.query.part,
  () => (part.value = asked()),
);
const machine = useMachineId();
const { data } = useRun(machine, ref(undefined));
const { data: line } = useLine(machine);
const { data: plan } = usePlanNow(machine);
const first = computed(() =>
  (line.value?.knots ?? []).filter(
    (k) => !["run", "log"].includes(k.station) && (k.state === "trouble" || k.state === "caution"),
  ),
);
</script>

<template>
  <div>
    <div class="run-station">
      <SegmentBar v-model="part" :segments="SEGMENTS" label="Parts of the Run station" />
      <PlanPanel v-if="part === 'plan'" />
      <QuiltsPanel v-else-if="part === 'quilts'" />
      <WalksPanel v-else-if="part === 'walks'" />
    </div>
    <div v-if="data && part === 'now'" class="station together">
      <div>
        <section v-if="first.length" class="panel stack lead">
          <h2>See to this before you go on</h2>
          <RouterLink
            v-for="k in first"
            :key="k.station"
            :to="{ name: k.station, params: { machine } }"
            class="first"
            :class="k.state">
            <strong>{{ k.station }}</strong><span>{{ k.fact }}. {{ k.why }}</span>
          </RouterLink>
        </section>
        <InTurn><ClockPanel main /></InTurn>
        <section v-if="plan" class="panel stack" aria-label="The plan">
          <p class="verdict">{{ plan.words }}, {{ percent(plan.share) }}</p>
          <p v-if="plan.way">{{ plan.way.text }}</p>
          <RouterLink :to="{ query: { part: 'plan' } }" class="onward">Done, or so far: the plan</RouterLink>
        </section>
        <NextInPlan />
      </div>
      <div>
        <InTurn><BreakPanel class="hand" /></InTurn>
        <InTurn><OnBobbin /></InTurn>
        <section class="panel stack">
          <h2>The needle</h2>
          <p class="verdict">{{ data.needle?.text ?? "No needle is on record." }}</p>
          <NeedleLeft
            v-if="data.needle?.life_hours"
            :hours="data.needle.hours"
            :life="data.needle.life_hours"
            :due="data.needle.due !== 'fresh'"
            :words="data.needle.text" />
          <p v-if="data.pace" class="soft">
            Your pace on this machine: {{ stretch(data.pace.meters_per_hour) }} an hour, from
            {{ counted(data.pace.runs, "run") }} with a length.
          </p>
          <FiguresNote subject="bobbin" />
        </section>
        <InTurn><OwnSays station="run" /></InTurn>
      </div>
    </div>
  </div>
</template>

<style scoped>
.run-station {
  display: grid;
  gap: 1rem;
  padding: 1.25rem 1.25rem 0;
  max-width: 1500px;
  margin: 0 auto;
}
@media (max-width: 900px) {
  .run-station {
    padding: 0.9rem 0.9rem 0;
  }
}
.first {
  display: grid;
  grid-template-columns: 6rem 1fr;
  gap: 0.6rem;
  min-height: 48px;
  align-items: center;
  text-decoration: none;
  color: var(--ink);
  border: 2px solid var(--marigold);
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.5rem 0.8rem;
}
@media (max-width: 600px) {
  .first {
    grid-template-columns: 4.6rem 1fr;
    padding: 0.25rem 0.5rem;
  }
}
.first strong,
.first span::first-letter {
  text-transform: capitalize;
}
.first.trouble {
  border-color: var(--vermilion);
  background: var(--vermilion-wash);
}
</style>
