<script setup lang="ts">
import { ref } from "vue";
import { useRoute } from "vue-router";
import { useBobbin } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import SegmentBar from "../../parts/SegmentBar.vue";
import LivePanel from "./LivePanel.vue";
import RackPanel from "./RackPanel.vue";
import ReadPanel from "./ReadPanel.vue";
import WindingPanel from "./WindingPanel.vue";

type Part = "read" | "live" | "rack" | "wind";
const SEGMENTS: { value: Part; name: string }[] = [
  { value: "read", name: "Read it" },
  { value: "live", name: "Live gauge" },
  { value: "rack", name: "The rack" },
  { value: "wind", name: "Winding" },
];
const route = useRoute();
const part = ref<Part>(SEGMENTS.find((s) => s.value === route.query.part)?.value ?? "read");
const machine = useMachineId();
const { data } = useBobbin(machine);
</script>

<template>
  <div v-if="data">
    <SegmentBar v-model="part" :segments="SEGMENTS" label="Parts of the Bobbin station" class="segments" />
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
