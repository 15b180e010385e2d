<script setup lang="ts">
import InTurn from "../../parts/InTurn.vue";
import { ref, watch } from "vue";
import { useRoute } from "vue-router";
import { useLine, useThreadStation } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import OtherCase from "../../parts/OtherCase.vue";
import SegmentBar from "../../parts/SegmentBar.vue";
import CarePanel from "./CarePanel.vue";
import DrawerPanel from "./DrawerPanel.vue";
import NextSteps from "./NextSteps.vue";
import NewCombination from "./NewCombination.vue";
import OnMachine from "./OnMachine.vue";
import PathPanel from "./PathPanel.vue";
import SheetPanel from "./SheetPanel.vue";
import WishPanel from "./WishPanel.vue";

type Part = "drawer" | "look" | "new" | "care" | "path" | "sheet";
const SEGMENTS: { value: Part; name: string }[] = [
  { value: "drawer", name: "The drawer" },
  { value: "look", name: "What do you want to see?" },
  { value: "new", name: "New combination" },
  { value: "care", name: "Care" },
  { value: "path", name: "Thread path" },
  { value: "sheet", name: "All on one page" },
];
const route = useRoute();
const asked = () => SEGMENTS.find((s) => s.value === route.query.part)?.value;
const part = ref<Part>(asked() ?? "drawer");
// A link from one part to another.
watch(
  () => route.query,
  () => (part.value = asked() ?? part.value),
);
const machine = useMachineId();
const { data: line } = useLine(machine);
const { data } = useThreadStation(machine);
</script>

<template>
  <!-- Both are waited for, so that nothing moves. -->
  <div v-if="line && data" class="thread-station">
    <InTurn
      ><OnMachine :setup="line.setup" :top-mm="data.top_mm" :before="part === 'drawer' ? data.before : []"
    /></InTurn>
    <OtherCase v-if="data.other_case" :advice="data.other_case" :setup="data.setup" />
    <InTurn><NextSteps :line="line" /></InTurn>
    <SegmentBar v-model="part" :segments="SEGMENTS" label="Parts of the Thread station" />
    <DrawerPanel v-if="part === 'drawer'" />
    <WishPanel v-else-if="part === 'look'" />
    <CarePanel v-else-if="part === 'care'" />
    <NewCombination v-else-if="part === 'new'" />
    <SheetPanel v-else-if="part === 'sheet'" />
    <PathPanel v-else />
  </div>
</template>

<style scoped>
.thread-station {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 1rem;
  padding: 1.25rem;
  max-width: 1500px;
  margin: 0 auto;
}
@media (max-width: 900px) {
  .thread-station {
    padding: 0.9rem;
  }
}
</style>
