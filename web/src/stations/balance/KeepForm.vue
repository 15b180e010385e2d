<script setup lang="ts">
import { useDraft } from "../../composables/draft";
import DraftNote from "../../parts/DraftNote.vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, reactive, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useHere, useMachineId } from "../../composables/machine";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { useNote } from "../../composables/send";
import { listed } from "../../words";

/** Keeps what is on the machine as one recipe, at the setting that was found. */
const props = defineProps<{ station: Schemas["BalanceStation"] }>();
const name = ref("");
const note = ref("");
const byEye = ref(false);
const draft = useDraft(`keep ${useMachineId().value}`, reactive({ name, note }));
const here = useHere();
const found = computed(() => props.station.estimate);
const choices = computed(() => [
  { value: false, name: `the estimate, ${props.station.set_to_words}` },
  { value: true, name: `by eye, ${props.station.eye_words}` },
]);
const keep = useNote(
  (unbalanced: boolean) =>
    answer(
      client.POST("/api/machines/{machine_id}/recipes", {
        ...here(),
        body: {
          name: name.value,
          note: note.value,
          // What is saved is what stands here, whatever was judged elsewhere meanwhile.
          setting: byEye.value && found.value.eye_says ? found.value.by_eye : found.value.set_to,
          motion: props.station.motion,
          unbalanced,
        },
      }),
    ),
  {
    says: (kept) => `In the recipe book: ${kept.text}.`,
    then: () => {
      draft.drop();
      byEye.value = false;
    },
  },
);
</script>

<template>
  <section class="panel stack" aria-labelledby="keep-title">
    <h2 id="keep-title">Save as recipe</h2>
    <p v-if="station.missing.length" class="soft">It still needs {{ listed(station.missing) }}.</p>
    <p v-else class="soft">{{ station.keep_says }}</p>
    <form class="stack" @submit.prevent="keep.go(false)">
      <DraftNote :shown="draft.state.restored" @drop="draft.drop()" />
      <ToggleRow v-if="found.eye_says" v-model="byEye" label="Which setting to save" :options="choices" />
      <FieldBox :name="name" label="Name, like the quilt" :error="keep.error('name')"
        ><InputText v-model="name"
      /></FieldBox>
      <FieldBox label="Note" :error="keep.error('note')"><InputText v-model="note" /></FieldBox>
      <p v-if="keep.problem.value?.lost" class="field-error">{{ keep.problem.value.message }}</p>
      <template v-if="keep.error('unbalanced')">
        <p class="field-error" role="alert">{{ keep.error("unbalanced") }}</p>
        <Button type="button" label="Save it anyway" outlined @click="keep.go(true)" />
      </template>
      <Button type="submit" label="Save as recipe" :loading="keep.pending.value" />
    </form>
  </section>
</template>
