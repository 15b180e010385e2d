<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import type { Schemas } from "../../api/client";
import CautionList from "../../parts/CautionList.vue";
import EndForm from "./EndForm.vue";
import { useBack } from "./incident";
import { onPaper } from "../../units";

/** Nothing the hand can check is left: what to print for the telephone, and the ways on. */
const props = defineProps<{ station: Schemas["MendStation"]; thorough: boolean }>();
const emit = defineEmits<{ thorough: []; see: [] }>();
const id = computed(() => props.station.incident?.id ?? 0);
const back = useBack(id);
const waiting = computed(() => props.station.steps.at(-1)?.kind === "incident_outcome");
const unsure = computed(() => (props.station.diagnosis?.causes ?? []).filter((c) => c.answer === "cannot_tell"));
</script>

<template>
  <div class="station">
    <section class="panel stack" aria-live="polite">
      <p class="answer ask" data-answer>{{ station.text }}</p>
      <CautionList :cautions="station.cautions" />
      <p class="verdict">The sheet says what was seen and checked, with the numbers the technician will ask for.</p>
      <a class="go" :href="`/api/incidents/${id}/report.pdf?${onPaper()}`" target="_blank">Print the sheet</a>
      <p v-if="unsure.length">Couldn't be answered: {{ unsure.map((c) => c.name.toLowerCase()).join(", ") }}.</p>
      <div class="row">
        <Button label="Back" outlined :disabled="back.isPending.value" @click="back.mutate(undefined)" />
        <Button v-if="!thorough && !waiting" label="Check the unlikely ones" outlined @click="emit('thorough')" />
        <Button label="Correct what I see or what changed" text @click="emit('see')" />
      </div>
    </section>
    <div>
      <section class="panel">
        <h2>Checked, in this order</h2>
        <ol class="steps">
          <li v-for="s in station.steps" :key="s.id">{{ s.text }}</li>
        </ol>
      </section>
      <EndForm :incident="id" :causes="station.others" />
    </div>
  </div>
</template>

<style scoped>
.ask {
  font-size: var(--type-large);
  line-height: 1.1;
}
.go {
  display: inline-flex;
  align-items: center;
  min-height: 60px;
  padding: 0 1.2rem;
  background: var(--indigo);
  color: #fff;
  border-radius: 4px;
  font-weight: 650;
  font-size: var(--type-lead);
  text-decoration: none;
  justify-self: start;
}
.steps {
  padding-left: 1.4rem;
  display: grid;
  gap: 0.25rem;
}
</style>
