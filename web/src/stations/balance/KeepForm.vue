<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { ref } from "vue";
import { answer, client } from "../../api/client";
import { useHere } from "../../composables/machine";
import FieldBox from "../../parts/FieldBox.vue";
import { useNote } from "../../composables/send";

/** Keeps what is on the machine as one recipe. */
defineProps<{ missing: readonly string[] }>();
const name = ref("");
const here = useHere();
const keep = useNote(
  () => answer(client.POST("/api/machines/{machine_id}/recipes", { ...here(), body: { name: name.value } })),
  { says: () => `${name.value} is in the recipe book.`, then: () => (name.value = "") },
);
</script>

<template>
  <section class="panel stack" aria-labelledby="keep-title">
    <h2 id="keep-title">Keep this combination</h2>
    <p v-if="missing.length" class="soft">It still needs {{ missing.join(", ") }}.</p>
    <form class="stack" @submit.prevent="keep.go()">
      <FieldBox label="Name, for instance the quilt" :error="keep.error('name')"><InputText v-model="name" /></FieldBox>
      <p v-if="keep.problem.value?.lost" class="field-error">{{ keep.problem.value.message }}</p>
      <Button type="submit" label="Keep this combination" :loading="keep.pending.value" />
    </form>
  </section>
</template>
