<script setup lang="ts">
import Button from "primevue/button";
import { computed, nextTick, ref, watch } from "vue";
import type { Schemas } from "../api/client";
import CautionList from "./CautionList.vue";

/** A procedure walked point by point: what to do now is the largest thing, what proves it below. */
const props = defineProps<{ walk: Schemas["Walk"] }>();
const at = ref(0);
watch(
  () => props.walk.id,
  () => (at.value = 0),
);
const step = computed(() => props.walk.steps[at.value]);
const nextButton = ref<{ $el: HTMLElement }>();
async function go(by: number) {
  at.value = Math.max(0, Math.min(props.walk.steps.length, at.value + by));
  await nextTick();
  nextButton.value?.$el.focus();
}
</script>

<template>
  <section class="panel stack" aria-live="polite">
    <template v-if="step">
      <p class="soft">{{ walk.name }}, {{ at + 1 }} of {{ walk.steps.length }}</p>
      <p class="answer" data-answer>{{ step.name }}</p>
      <p class="how">{{ step.how }}</p>
      <p v-if="step.proof" class="verdict proof">Prove it: {{ step.proof }}</p>
    </template>
    <template v-else>
      <p class="answer" data-answer>Done</p>
      <p class="how">All {{ walk.steps.length }} points walked.</p>
    </template>
    <div class="row buttons">
      <Button label="Back" outlined size="large" :disabled="at === 0" @click="go(-1)" />
      <Button
        ref="nextButton"
        size="large"
        :label="step ? 'Done, next' : 'Walk it again'"
        @click="step ? go(1) : (at = 0)" />
    </div>
    <CautionList :cautions="walk.cautions" />
  </section>
</template>

<style scoped>
.how {
  font-size: 1.5rem;
  line-height: 1.3;
  min-height: 4rem;
}
.proof {
  color: var(--teal);
}
.buttons > * {
  flex: 1;
  min-height: 64px;
  font-size: 1.2rem;
}
</style>
