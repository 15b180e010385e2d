<script setup lang="ts">
import { computed, ref } from "vue";
import { useRoute } from "vue-router";
import { useBobbin } from "../../api/queries";
import { useHas } from "../../composables/features";
import { useMachine, useMachineId } from "../../composables/machine";
import SegmentBar from "../../parts/SegmentBar.vue";
import LivePanel from "./LivePanel.vue";
import RackPanel from "./RackPanel.vue";
import ReadPanel from "./ReadPanel.vue";
import WindingPanel from "./WindingPanel.vue";

type Part = "read" | "live" | "rack" | "wind";
const PARTS: Part[] = ["read", "live", "rack", "wind"];
const machine = useMachineId();
const { data } = useBobbin(machine);
const has = useHas();
/** Which parts there are depends on the machine: they are drawn once it is known, so that nothing moves. */
const item = useMachine();
const segments = computed(() => {
  const read = has("gauge") ? "Read it" : has("case") ? "Feel it" : "Judge it";
  const names: Record<Part, string> = { read, live: "Live gauge", rack: "The rack", wind: "Winding" };
  return PARTS.filter((p) => p !== "live" || has("gauge")).map((value) => ({ value, name: names[value] }));
});
const route = useRoute();
const part = ref<Part>(PARTS.find((p) => p === route.query.part) ?? "read");
</script>

<template>
  <div v-if="data && item">
    <SegmentBar v-model="part" :segments="segments" label="Parts of the Bobbin station" class="segments" />
    <ReadPanel v-if="part === 'read'" :station="data" />
    <LivePanel v-else-if="part === 'live'" :station="data" />
    <RackPanel v-else-if="part === 'rack'" :station="data" />
    <WindingPanel v-else :station="data" />
  </div>
</template>

<style scoped>
.segments {
  margin: 0.8rem 1.25rem 0;
}
</style>
