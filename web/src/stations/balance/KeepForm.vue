<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { ref } from "vue";
import { answer, client } from "../../api/client";
import { useChange, useStrike } from "../../api/queries";
import { useMachineId } from "../../machine";
import { say } from "../../notices";
import FieldBox from "../../parts/FieldBox.vue";

/** Keeps what is on the machine as one recipe. */
defineProps<{ missing: readonly string[] }>();
const machine = useMachineId();
const name = ref("");
const undo = useStrike();
const keep = useChange(() =>
  answer(
    client.POST("/api/machines/{machine_id}/recipes", {
      params: { path: { machine_id: machine.value } },
      body: { name: name.value },
    }),
  ),
);
async function submit() {
  const kept = await keep.mutateAsync(undefined).catch(() => null);
  if (!kept) return;
  say(`${name.value} is in the recipe book.`, () => undo.mutate(kept.id));
  name.value = "";
}
</script>

<template>
  <section class="panel stack" aria-labelledby="keep-title">
    <h2 id="keep-title">Keep this combination</h2>
    <p v-if="missing.length" class="soft">It still needs {{ missing.join(", ") }}.</p>
    <form class="stack" @submit.prevent="submit">
      <FieldBox label="Name, for instance the quilt" :error="keep.error.value?.fields.name"><InputText v-model="name" /></FieldBox>
      <p v-if="keep.error.value?.lost" class="field-error">{{ keep.error.value.message }}</p>
      <Button type="submit" label="Keep this combination" :loading="keep.isPending.value" />
    </form>
  </section>
</template>
