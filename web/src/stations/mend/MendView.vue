<script setup lang="ts">
import { ref, watch } from "vue";
import { useRoute } from "vue-router";
import SegmentBar from "../../parts/SegmentBar.vue";
import PracticeLink from "../../parts/PracticeLink.vue";
import NowPanel from "./NowPanel.vue";
import PastPanel from "./PastPanel.vue";
import PreflightPanel from "./PreflightPanel.vue";
import UpkeepPanel from "./UpkeepPanel.vue";

type Part = "now" | "preflight" | "upkeep" | "past";
const SEGMENTS: { value: Part; name: string }[] = [
  { value: "now", name: "It went wrong" },
  { value: "preflight", name: "Before a quilt" },
  { value: "upkeep", name: "Upkeep" },
  { value: "past", name: "Past troubles" },
];
const route = useRoute();
const part = ref<Part>("now");
// "It went wrong" leads here from the other parts of this station as well.
watch(
  () => route.query.part,
  (wanted) => (part.value = SEGMENTS.find((s) => s.value === wanted)?.value ?? "now"),
  { immediate: true },
);
</script>

<template>
  <div>
    <SegmentBar v-model="part" :segments="SEGMENTS" label="Parts of the Mend station" class="segments" />
    <NowPanel v-if="part === 'now'" />
    <PreflightPanel v-else-if="part === 'preflight'" />
    <UpkeepPanel v-else-if="part === 'upkeep'" />
    <PastPanel v-else />
    <PracticeLink exercise="fault" says="Practice finding a fault" />
  </div>
</template>

<style scoped>
.segments {
  margin: 0.8rem 1.25rem 0;
}
</style>
