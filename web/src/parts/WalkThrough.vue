<script setup lang="ts">
import Button from "primevue/button";
import { computed, nextTick, ref } from "vue";

/** Points walked one after another: what to do now is the largest thing, what proves it below. */
const props = defineProps<{
  steps: readonly { name: string; how: string; proof?: string }[];
  /** What is counted: "Point", or the name of what is walked. */
  counted: string;
  /** What is said when all are walked. */
  done: string;
  says: string;
}>();
const at = defineModel<number>({ default: 0 });
const step = computed(() => props.steps[at.value]);
const nextButton = ref<{ $el: HTMLElement }>();
async function go(by: number) {
  at.value = Math.max(0, Math.min(props.steps.length, at.value + by));
  await nextTick();
  nextButton.value?.$el.focus();
}
</script>

<template>
  <section class="panel stack walk" aria-live="polite">
    <p v-if="step" class="soft">{{ counted }} {{ at + 1 }} of {{ steps.length }}</p>
    <p class="answer" data-answer>{{ step?.name ?? done }}</p>
    <p class="how">{{ step?.how ?? says }}</p>
    <p v-if="step?.proof" class="verdict proof">Check: {{ step.proof }}</p>
    <div class="row buttons">
      <Button label="Back" outlined size="large" :disabled="at === 0" @click="go(-1)" />
      <Button
        ref="nextButton"
        size="large"
        :label="step ? 'Done, next' : 'Walk it again'"
        @click="step ? go(1) : (at = 0)" />
    </div>
    <slot v-if="!step" name="end" />
    <slot />
  </section>
</template>

<style scoped>
.how {
  font-size: var(--type-head);
  line-height: 1.25;
  min-height: 4.2rem;
}
.proof {
  color: var(--teal);
}
.buttons > * {
  flex: 1;
  min-height: 64px;
  font-size: var(--type-lead);
}
</style>
