<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, reactive } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { numberIn } from "../../composables/fields";
import { useHere } from "../../composables/machine";
import { useNote } from "../../composables/send";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FieldBox from "../../parts/FieldBox.vue";
import MomentBox from "../../parts/MomentBox.vue";
import ThreadChoice from "../../parts/ThreadChoice.vue";

/** A cloth that was stitched before the log knew of it: what is written on it. */
const props = defineProps<{ next: number }>();
const emit = defineEmits<{ noted: [id: number]; leave: [] }>();
const { data: words } = useWords();
const NONE = "";
const form = reactive({
  number: String(props.next),
  at: undefined as string | undefined,
  top: 0,
  below: 0,
  size: NONE,
  point: NONE as Schemas["Point"] | "",
  batting: "",
  note: "",
});
const sizes = computed(() => [
  { value: NONE, name: "not on it" },
  ...(words.value?.sizes ?? []).map((s) => ({
    value: `${s.metric}/${s.american}`,
    name: `${s.metric}/${s.american}`,
  })),
]);
const points = computed(() => [
  { value: NONE as Schemas["Point"] | "", name: "not on it" },
  ...(words.value?.points ?? []).map((p) => ({ value: p.value, name: p.name })),
]);
const here = useHere();
const note = useNote(
  async () => {
    const [metric, american] = form.size.split("/").map(Number);
    return answer(
      client.POST("/api/machines/{machine_id}/cloths", {
        ...here(),
        body: {
          number: numberIn("number", form.number),
          at: form.at,
          on_top: form.top ? [form.top] : [],
          below: form.below || null,
          metric: metric || null,
          american: american || null,
          point: form.point || null,
          batting: form.batting,
          note: form.note,
        },
      }),
    );
  },
  { then: (cloth) => emit("noted", cloth.id) },
);
</script>

<template>
  <section class="panel stack" aria-labelledby="box-title">
    <h2 id="box-title">A cloth from the box</h2>
    <p class="soft">What is written on it. Then judge its lines, as on any cloth.</p>
    <form class="pairs" @submit.prevent="note.go()">
      <FieldBox label="The number on it" :error="note.error('number')"
        ><InputText v-model="form.number" inputmode="numeric"
      /></FieldBox>
      <MomentBox v-model="form.at" label="When it was stitched" :error="note.error('at')" />
      <ThreadChoice v-model="form.top" label="Thread on top" :error="note.error('on_top')" />
      <ThreadChoice v-model="form.below" label="Bobbin thread" :error="note.error('below')" />
      <ChoiceBox v-model="form.size" label="Needle size" :options="sizes" />
      <ChoiceBox v-model="form.point" label="Point" :options="points" />
      <FieldBox label="Batting" :error="note.error('batting')"><InputText v-model="form.batting" /></FieldBox>
      <FieldBox label="Note" :error="note.error('note')"><InputText v-model="form.note" /></FieldBox>
      <div class="row">
        <Button type="submit" label="Note this cloth" :loading="note.pending.value" :disabled="!form.top" />
        <Button label="Leave it" text @click="emit('leave')" />
      </div>
    </form>
    <p v-if="note.problem.value" class="field-error" role="alert">{{ note.problem.value.message }}</p>
  </section>
</template>
