<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useHere } from "../../composables/machine";
import FieldBox from "../../parts/FieldBox.vue";
import { useNote } from "../../composables/send";
import { numberIn } from "../../composables/fields";

/** Without a gauge: the hang test weighed on a kitchen scale, and the plain hang and palm tests as looks. */
const props = defineProps<{ caseId: number; open?: boolean }>();
const grams = ref("");
const here = useHere();
const hang = useNote(
  async () =>
    answer(
      client.POST("/api/machines/{machine_id}/hang-test", {
        ...here(),
        body: { grams: numberIn("grams", grams.value), case: props.caseId || null },
      }),
    ),
  { then: () => (grams.value = "") },
);
const look = useNote((body: { test: Schemas["HandLook"]; feel: Schemas["Feel"] }) =>
  answer(
    client.POST("/api/machines/{machine_id}/hand-looks", { ...here(), body: { ...body, case: props.caseId || null } }),
  ),
);
const FEELS: { feel: Schemas["Feel"]; hang: string; palm: string }[] = [
  { feel: "right", hang: "stays, drops a little at a jerk", palm: "stands up, does not lift off" },
  { feel: "loose", hang: "slides down by itself", palm: "stays lying" },
  { feel: "tight", hang: "does not move at a jerk", palm: "lifts off the palm" },
];
</script>

<template>
  <details class="panel by-hand" :open="open">
    <summary>Without a gauge</summary>
    <form class="row" @submit.prevent="hang.go()">
      <FieldBox label="Hang test: case, bobbin and weights when it just creeps, g" :error="hang.problem.value?.message">
        <InputText v-model="grams" inputmode="decimal" />
      </FieldBox>
      <Button type="submit" label="Save it as a number" outlined class="low" />
    </form>
    <p class="soft">
      Weigh case and bobbin on a kitchen scale. Add small weights until it creeps: the pull equals the weight.
    </p>
    <div v-for="test in ['hang', 'palm'] as const" :key="test">
      <h3>{{ test === "hang" ? "Hang test, by eye" : "Palm test" }}</h3>
      <div class="row">
        <button v-for="f in FEELS" :key="f.feel" type="button" @click="look.go({ test, feel: f.feel })">
          <strong>{{ f.feel }}</strong> {{ f[test] }}
        </button>
      </div>
    </div>
    <p v-if="look.problem.value" class="field-error" role="alert">{{ look.problem.value.message }}</p>
  </details>
</template>

<style scoped>
.by-hand[open] {
  display: grid;
  gap: 0.8rem;
}
.low {
  align-self: end;
}
.row > button {
  flex: 1 1 8rem;
  min-height: 60px;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
  text-align: left;
  padding: 0.3rem 0.7rem;
}
.row > button strong {
  display: block;
}
</style>
