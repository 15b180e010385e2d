<script setup lang="ts">
import { ref } from "vue";
import { useRoute } from "vue-router";
import { useLine } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import SegmentBar from "../../parts/SegmentBar.vue";
import CarePanel from "./CarePanel.vue";
import DrawerPanel from "./DrawerPanel.vue";
import OnMachine from "./OnMachine.vue";
import PathPanel from "./PathPanel.vue";
import WishPanel from "./WishPanel.vue";

type Part = "drawer" | "look" | "care" | "path";
const SEGMENTS: { value: Part; name: string }[] = [
  { value: "drawer", name: "The drawer" },
  { value: "look", name: "What do you want to see?" },
  { value: "care", name: "Handle it so" },
  { value: "path", name: "Thread path" },
];
const route = useRoute();
const part = ref<Part>(SEGMENTS.find((s) => s.value === route.query.part)?.value ?? "drawer");
const machine = useMachineId();
const { data: line } = useLine(machine);
</script>

<template>
  <div class="thread-station">
    <OnMachine v-if="line" :setup="line.setup" />
    <SegmentBar v-model="part" :segments="SEGMENTS" label="Parts of the Thread station" />
    <DrawerPanel v-if="part === 'drawer'" />
    <WishPanel v-else-if="part === 'look'" />
    <CarePanel v-else-if="part === 'care'" />
    <PathPanel v-else />
  </div>
</template>

<style scoped>
.thread-station {
  display: grid;
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
