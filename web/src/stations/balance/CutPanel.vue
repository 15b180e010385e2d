<script setup lang="ts">
import { drawnPair } from "../../drawn";
import { computed, ref } from "vue";
import type { Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import SandwichCut from "../../diagrams/SandwichCut.vue";
import StitchPicture from "../../diagrams/StitchPicture.vue";

/** The sandwich cut: where the lock sits at any setting, moved with a slider. A model, and labeled so. */
const props = defineProps<{ station: Schemas["BalanceStation"] }>();
const { data: words } = useWords();
const nearest = computed(() => {
  const distances = props.station.cut.map((c) => Math.abs(c.setting - props.station.estimate.present));
  return distances.indexOf(Math.min(...distances));
});
const moved = ref<number | null>(null);
const place = computed({ get: () => moved.value ?? nearest.value, set: (v: number) => (moved.value = Number(v)) });
const at = computed(() => props.station.cut[place.value] ?? props.station.cut[0]);
const grade = computed(() => words.value?.grades.find((g) => g.grade === at.value?.lock.grade));
const drawn = computed(() => drawnPair(props.station.setup.top?.[0], props.station.setup.bobbin));
const top = computed(() => drawn.value.top);
const bobbin = computed(() => drawn.value.bobbin);
</script>

<template>
  <div v-if="at" class="station">
    <div>
      <section class="panel stack" aria-live="polite">
        <p class="answer" data-answer>{{ at.words }}</p>
        <p class="verdict">{{ grade?.name }}: front {{ grade?.front }}, back {{ grade?.back }}.</p>
        <SandwichCut
          :depth="at.lock.depth"
          :top="top"
          :bobbin="bobbin"
          :loft="station.setup.sandwich?.loft ?? 'medium'"
          :words="`The lock lies ${Math.round(at.lock.depth * 100)}% of the way from front to back.`" />
        <label class="field">
          <span>Top tension, looser to tighter</span>
          <input
            v-model="place"
            type="range"
            min="0"
            :max="station.cut.length - 1"
            step="1"
            :aria-valuetext="at.words" />
        </label>
        <p class="soft">A picture from the estimate, to help you see it. Your cloth has the last word.</p>
      </section>
    </div>
    <div>
      <section class="panel stack">
        <h2>How it would look</h2>
        <p class="soft">front</p>
        <StitchPicture side="front" :grade="at.lock.grade" :top="top" :bobbin="bobbin" />
        <p class="soft">back</p>
        <StitchPicture side="back" :grade="at.lock.grade" :top="top" :bobbin="bobbin" />
      </section>
    </div>
  </div>
</template>

<style scoped>
input[type="range"] {
  width: 100%;
  height: 48px;
  accent-color: var(--marigold);
}
</style>
