<script setup lang="ts">
import Button from "primevue/button";
import { answer, client, type Schemas } from "../api/client";
import { useHere } from "../composables/machine";
import { useNote } from "../composables/send";

/** Which case is kept for the bobbin thread, and what speaks against the one that is in. */
const props = defineProps<{ advice: Schemas["CaseAdvice"]; setup: Schemas["Setup"] }>();
const here = useHere();
const take = useNote(() =>
  answer(
    client.POST("/api/machines/{machine_id}/bobbin", {
      ...here(),
      body: {
        bobbin: props.setup.bobbin?.id ?? 0,
        bobbin_work: props.setup.bobbin_work ?? false,
        case: props.advice.case,
      },
    }),
  ),
);
</script>

<template>
  <section class="panel other" :class="{ wrong: advice.wrong }" aria-label="Which case">
    <p>{{ advice.text }}</p>
    <Button
      v-if="advice.case"
      :label="`It's in case ${advice.label}`"
      outlined
      :loading="take.pending.value"
      @click="take.go()" />
    <p v-if="take.problem.value" class="field-error" role="alert">{{ take.problem.value.message }}</p>
  </section>
</template>

<style scoped>
.other {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 1rem;
  align-items: center;
  justify-content: space-between;
}
.wrong {
  background: var(--amber-wash);
}
</style>
