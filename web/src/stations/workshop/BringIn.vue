<script setup lang="ts">
import Button from "primevue/button";
import Textarea from "primevue/textarea";
import { ref } from "vue";
import { answer, asFile, client, Problem, type Schemas } from "../../api/client";
import { useChange } from "../../api/queries";

/** Brings in what people already have: a table of any program, rows pasted from one, or a whole workshop. */
const given = defineModel<Schemas["SeenFile"] | null>({ required: true });
const LARGEST = 64 * 1024 * 1024;
const pasted = ref("");
const problem = ref("");

const asBytes = asFile("application/octet-stream");
const give = useChange(({ name, content }: { name: string; content: Blob | string }) =>
  answer(
    client.POST("/api/exchange/files", { params: { query: { name } }, body: content as unknown as string, ...asBytes }),
  ),
);
async function send(name: string, content: Blob | string) {
  problem.value = "";
  given.value = null;
  try {
    given.value = await give.mutateAsync({ name, content });
  } catch (refused) {
    problem.value = (refused as Problem).message;
  }
}
function choose(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0];
  if (!file) return;
  if (file.size > LARGEST) problem.value = "That file is over 64 MB.";
  else void send(file.name, file);
}
function paste() {
  if (pasted.value.trim()) void send("pasted rows", pasted.value);
  else problem.value = "Paste the rows here first, with the names of the columns on top.";
}
</script>

<template>
  <section class="panel stack" aria-labelledby="bring-title">
    <h2 id="bring-title">Bring in what you have</h2>
    <p class="soft">
      Bring in threads, needles, runs, readings, recipes or upkeep from a spreadsheet (CSV, TSV, XLSX). Or bring in a
      whole workshop. You see each row as it would be saved before anything is written.
    </p>
    <label class="field"
      ><span>A file</span
      ><input
        type="file"
        accept=".csv,.tsv,.txt,.xlsx,.zip"
        class="plain-input"
        :disabled="give.isPending.value"
        @change="choose"
    /></label>
    <form class="stack" @submit.prevent="paste">
      <label class="field"
        ><span>Or rows copied from a spreadsheet, with the names of the columns</span
        ><Textarea v-model="pasted" rows="4" :aria-invalid="!!problem"
      /></label>
      <p v-if="problem" class="field-error" role="alert">{{ problem }}</p>
      <Button type="submit" label="Look at these rows" outlined class="low" :loading="give.isPending.value" />
    </form>
  </section>
</template>

<style scoped>
.low {
  justify-self: start;
}
</style>
