<script setup lang="ts">
import { ref, watch } from "vue";
import { useRoute } from "vue-router";
import type { Schemas } from "../../api/client";
import { useNeedle } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import SegmentBar from "../../parts/SegmentBar.vue";
import NextInPlan from "../../parts/NextInPlan.vue";
import InMachine from "./InMachine.vue";
import NeedleDrawer from "./NeedleDrawer.vue";
import WhichNeedle from "./WhichNeedle.vue";

type Part = "which" | "in" | "drawer";
const SEGMENTS: { value: Part; name: string }[] = [
  { value: "which", name: "Which needle" },
  { value: "in", name: "In the machine" },
  { value: "drawer", name: "Needles in the drawer" },
];
const route = useRoute();
const part = ref<Part>(SEGMENTS.find((s) => s.value === route.query.part)?.value ?? "which");
const machine = useMachineId();
const { data } = useNeedle(machine);
/** A needle that another station sends the hand here to fit. */
const wanted = Number(route.query.metric ?? 0);

/** The size and point on show; they start with the answer and go with the hand into fitting. */
const metric = ref(wanted);
const point = ref<Schemas["Point"]>((wanted && (route.query.point as Schemas["Point"])) || "topstitch");
watch(
  () => data.value?.pairing?.recommended,
  (best, before) => {
    if (wanted && !before) return;
    if (best && (best.metric !== before?.metric || best.point !== before.point))
      [metric.value, point.value] = [best.metric, best.point];
  },
  { immediate: true },
);
watch(
  () => data.value?.setup.needle,
  (needle) => {
    if (needle && !metric.value) [metric.value, point.value] = [needle.metric, needle.point];
  },
  { immediate: true },
);
</script>

<template>
  <div v-if="data">
    <SegmentBar v-model="part" :segments="SEGMENTS" label="Parts of the Needle station" class="segments" />
    <div class="segments"><NextInPlan /></div>
    <WhichNeedle
      v-if="part === 'which'"
      v-model:metric="metric"
      v-model:point="point"
      :station="data"
      @fit="part = 'in'" />
    <InMachine v-else-if="part === 'in'" v-model:metric="metric" v-model:point="point" :station="data" />
    <NeedleDrawer v-else />
  </div>
</template>

<style scoped>
.segments {
  margin: 0.8rem 1.25rem 0;
}
</style>
