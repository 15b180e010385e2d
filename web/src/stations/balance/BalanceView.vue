<script setup lang="ts">
import { ref, watch } from "vue";
import { useRoute } from "vue-router";
import type { Schemas } from "../../api/client";
import { useBalance } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import SegmentBar from "../../parts/SegmentBar.vue";
import PracticeLink from "../../parts/PracticeLink.vue";
import ClothsPanel from "./ClothsPanel.vue";
import CutPanel from "./CutPanel.vue";
import FindPanel from "./FindPanel.vue";
import RecipeBook from "./RecipeBook.vue";

type Part = "find" | "cut" | "cloths" | "recipes";
const SEGMENTS: { value: Part; name: string }[] = [
  { value: "find", name: "Find the balance" },
  { value: "cut", name: "In the sandwich" },
  { value: "cloths", name: "Test cloths" },
  { value: "recipes", name: "Recipe book" },
];
const route = useRoute();
const asked = () => SEGMENTS.find((s) => s.value === route.query.part)?.value;
const part = ref<Part>(asked() ?? "find");
// A link to a cloth leads to it also from this page.
watch(
  () => route.query.part,
  () => (part.value = asked() ?? part.value),
);
const machine = useMachineId();
const motion = ref<Schemas["Motion"]>("free_motion");
const { data } = useBalance(machine, motion);
</script>

<template>
  <div v-if="data">
    <SegmentBar v-model="part" :segments="SEGMENTS" label="Parts of the Balance station" class="segments" />
    <FindPanel v-if="part === 'find'" v-model:motion="motion" :station="data" />
    <CutPanel v-else-if="part === 'cut'" :station="data" />
    <ClothsPanel v-else-if="part === 'cloths'" />
    <RecipeBook v-else />
    <PracticeLink exercise="cloth" says="Practice reading the cloth" />
  </div>
</template>

<style scoped>
.segments {
  margin: 0.8rem 1.25rem 0;
}
</style>
