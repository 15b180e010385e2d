<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { reactive, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { numberIn, optionalNumber } from "../../composables/fields";
import { useHere } from "../../composables/machine";
import { useNote } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";
import { stretch } from "../../units";

/** A thread of the plan: whether it lasts, and what is on its cone, noted with one tap or weighed. */
const props = defineProps<{ thread: Schemas["ThreadOfPlan"] }>();
const here = useHere();
const weighing = ref(false);
const form = reactive({ grams: "", empty_g: "" });
type Cone = Omit<Schemas["ConeNoted"], "kind" | "thread">;
/** What the scale shows; what is no number is said at its field. */
const weighed = (): Cone => ({
  says: "weighed",
  grams: numberIn("grams", form.grams),
  empty_g: optionalNumber("empty_g", form.empty_g),
});
const note = useNote(
  (cone: Cone | "weighed") =>
    answer(
      client.POST("/api/machines/{machine_id}/cones", {
        ...here(),
        body: {
          cones: 1,
          lot: "",
          ...(cone === "weighed" ? weighed() : cone),
          thread: props.thread.id,
          kind: "cone_noted" as const,
        },
      }),
    ),
  {
    then: () => {
      weighing.value = false;
      Object.assign(form, { grams: "", empty_g: "" });
    },
  },
);
</script>

<template>
  <div class="cone">
    <svg viewBox="0 0 24 24" width="28" height="28" aria-hidden="true">
      <path d="M8 3h8l3 18H5Z" :fill="thread.color" class="swatch" />
    </svg>
    <div>
      <p>
        <strong dir="auto">{{ thread.name }}</strong>{{ " "
        }}<span class="soft">needs {{ stretch(thread.needs_m.likely) }}</span>
      </p>
      <p :class="{ short: thread.lasts.enough === false }">
        <span v-if="thread.lasts.enough === false" aria-hidden="true">▲ </span>{{ thread.lasts.text }}
      </p>
      <p v-if="thread.stock && !thread.stock.overdrawn" class="soft">
        On the cone: {{ stretch(thread.stock.left_m.likely) }}, {{ thread.stock.says }}
      </p>
    </div>
    <div class="row">
      <Button label="Weigh it" outlined :aria-expanded="weighing" @click="weighing = !weighing" />
      <Button label="⅓ left" text @click="note.go({ says: 'share', share: 1 / 3 })" />
      <Button label="It ended" text @click="note.go({ says: 'ended' })" />
      <Button label="New cone" text @click="note.go({ says: 'new' })" />
    </div>
    <form v-if="weighing" class="pairs wide" @submit.prevent="note.go('weighed')">
      <FieldBox label="Cone with thread, grams" :error="note.error('grams')"
        ><InputText v-model="form.grams" inputmode="decimal" autofocus
      /></FieldBox>
      <FieldBox label="Empty cone, grams" :error="note.error('empty_g')"
        ><InputText v-model="form.empty_g" inputmode="decimal"
      /></FieldBox>
      <Button type="submit" label="Save the weight" :loading="note.pending.value" />
    </form>
    <p v-if="note.problem.value && !note.error('grams', 'empty_g')" class="field-error wide" role="alert">
      {{ note.problem.value.message }}
    </p>
  </div>
</template>

<style scoped>
.cone {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 0.4rem 0.8rem;
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 0.4rem 0;
}
.row {
  gap: 0.2rem;
}
.wide {
  grid-column: 1 / -1;
}
.short {
  color: var(--vermilion);
  font-weight: 600;
}
@media (max-width: 1100px) {
  .cone > .row {
    grid-column: 1 / -1;
  }
}
</style>
