<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../../api/client";
import StitchPicture from "../../diagrams/StitchPicture.vue";
import { drawnPair } from "../../drawn";

/** The five looks, front and back, in the combination's own colors; one is picked. */
const props = defineProps<{
  grades: readonly Schemas["GradeFacts"][];
  top?: Schemas["ThreadTag"];
  bobbin?: Schemas["ThreadTag"] | null;
  /** A tap was taken: none is until it is done. */
  busy?: boolean;
}>();
/** From too loose on top to too tight, as the strip and the board have them. */
const inOrder = computed(() => [...props.grades].sort((a, b) => b.grade - a.grade));
const drawn = computed(() => drawnPair(props.top, props.bobbin));
const grade = defineModel<number | null>({ required: true });
</script>

<template>
  <div class="looks">
    <div class="head" aria-hidden="true"><span>front</span><span>back</span></div>
    <button
      v-for="g in inOrder"
      :key="g.grade"
      type="button"
      class="look"
      :aria-pressed="grade === g.grade"
      :disabled="busy"
      :aria-label="`${g.name}. Front: ${g.front}. Back: ${g.back}.`"
      @click="grade = g.grade">
      <StitchPicture
        side="front"
        :grade="g.grade"
        :top="drawn.top"
        :bobbin="drawn.bobbin"
        :top-mm="top?.diameter_mm"
        :bobbin-mm="bobbin?.diameter_mm" />
      <StitchPicture
        side="back"
        :grade="g.grade"
        :top="drawn.top"
        :bobbin="drawn.bobbin"
        :top-mm="top?.diameter_mm"
        :bobbin-mm="bobbin?.diameter_mm" />
      <span class="name">{{ g.name }}</span>
    </button>
  </div>
</template>

<style scoped>
.looks {
  display: grid;
  gap: 0.2rem;
  margin-top: 0.2rem;
}
.head {
  display: grid;
  grid-template-columns: 1fr 1fr 9.5rem;
  gap: 0.7rem;
  padding: 0 0.6rem;
  color: var(--ink-soft);
  font-size: var(--type-small);
}
.look {
  display: grid;
  grid-template-columns: 1fr 1fr 9.5rem;
  gap: 0.7rem;
  align-items: center;
  padding: 0.2rem 0.5rem;
  border: 3px solid transparent;
  border-radius: 4px;
  background: none;
  text-align: left;
}
.look svg {
  height: 52px;
}
.look[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
@media (max-width: 600px) {
  .head,
  .look {
    grid-template-columns: 1fr 1fr 7.2rem;
    gap: 0.5rem;
  }
  .looks {
    gap: 0;
    margin: 0;
  }
  .look {
    min-height: 46px;
    padding: 0.1rem 0.3rem;
    border-width: 2px;
  }
  .look svg {
    height: 38px;
  }
}
.name {
  font-weight: 620;
  line-height: 1.2;
}
</style>
