<script setup lang="ts">
import { ref } from "vue";
import { useRoute } from "vue-router";
import SegmentBar from "../../parts/SegmentBar.vue";
import PracticeLink from "../../parts/PracticeLink.vue";
import InAndOut from "./InAndOut.vue";
import KeepingPart from "./KeepingPart.vue";

/** The workshop: its machines and its file, and what goes in and out of it. */
type Part = "workshop" | "exchange";
const SEGMENTS: { value: Part; name: string }[] = [
  { value: "workshop", name: "The workshop" },
  { value: "exchange", name: "In and out" },
];
const part = ref<Part>(SEGMENTS.find((s) => s.value === useRoute().query.part)?.value ?? "workshop");
</script>

<template>
  <div>
    <div class="parts"><SegmentBar v-model="part" :segments="SEGMENTS" label="Parts of the workshop" /></div>
    <PracticeLink says="Practice: read the cloth, pull evenly, find the fault" class="to-practice" />
    <KeepingPart v-if="part === 'workshop'" />
    <InAndOut v-else />
  </div>
</template>

<style scoped>
.to-practice {
  margin-top: 0.8rem;
}
</style>
