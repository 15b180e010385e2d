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
  <details class="panel" :class="{ hand: open }" :open="open">
    <summary>{{ open ? "By hand" : "Without a gauge" }}</summary>
    <div class="stack">
      <section v-for="test in ['hang', 'palm'] as const" :key="test">
        <h3>{{ test === "hang" ? "Hang test, by eye" : "Palm test" }}</h3>
        <div class="feels">
          <button v-for="f in FEELS" :key="f.feel" type="button" @click="look.go({ test, feel: f.feel })">
            <strong>{{ f.feel }}</strong> {{ f[test] }}
          </button>
        </div>
      </section>
      <p v-if="look.problem.value" class="field-error" role="alert">{{ look.problem.value.message }}</p>
      <section>
        <h3>Hang test, weighed</h3>
        <p class="soft">
          Weigh case and bobbin on a kitchen scale. Add small weights until it creeps: the pull equals the weight.
        </p>
        <form class="row" @submit.prevent="hang.go()">
          <FieldBox label="Case, bobbin and weights when it just creeps, g" :error="hang.problem.value?.message">
            <InputText v-model="grams" inputmode="decimal" />
          </FieldBox>
          <Button type="submit" label="Save it as a number" outlined class="low" />
        </form>
      </section>
    </div>
  </details>
</template>

<style scoped>
h3 {
  margin-bottom: 0.35rem;
}
form {
  margin-top: 0.5rem;
}
.low {
  align-self: end;
}
/* Three to a line, or one: a third one below two others reads as if it were something else. */
.feels {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 0.5rem;
}
@media (max-width: 600px) {
  .feels {
    grid-template-columns: minmax(0, 1fr);
  }
}
.feels > button {
  min-height: 60px;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
  text-align: left;
  padding: 0.3rem 0.7rem;
}
.feels > button strong {
  display: block;
}
</style>
