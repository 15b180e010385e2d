<script setup lang="ts">
import { ref, watch } from "vue";
import { useRoute } from "vue-router";
import SegmentBar from "../../parts/SegmentBar.vue";
import EvidencePanel from "./EvidencePanel.vue";
import LogPanel from "./LogPanel.vue";

/** The log, record by record, and what all of it says. */
type Part = "log" | "evidence";
const SEGMENTS: { value: Part; name: string }[] = [
  { value: "log", name: "Every record" },
  { value: "evidence", name: "What your records say" },
];
const route = useRoute();
const asked = () => SEGMENTS.find((s) => s.value === route.query.part)?.value ?? "log";
const part = ref<Part>(asked());
watch(
  () => route.query.part,
  () => (part.value = asked()),
);
</script>

<template>
  <div>
    <div class="parts"><SegmentBar v-model="part" :segments="SEGMENTS" label="Parts of the Log" /></div>
    <LogPanel v-if="part === 'log'" />
    <EvidencePanel v-else />
  </div>
</template>
