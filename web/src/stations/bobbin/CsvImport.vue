<script setup lang="ts">
import Button from "primevue/button";
import { computed, reactive, ref } from "vue";
import { answer, asFile, client, Problem, type Schemas } from "../../api/client";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import { counted } from "../../words";

/** Somebody's CSV of length or time and tension, with a choice of columns. */
const emit = defineEmits<{ read: [found: Schemas["ReadCsv"]] }>();
const LARGEST = 20 * 1024 * 1024;
const file = ref<File | null>(null);
const table = ref<Schemas["CsvTable"] | null>(null);
const problem = ref("");
const form = reactive({
  along: 0,
  tension: 1,
  kind: "length_mm" as Schemas["Along"],
  unit: "mN" as Schemas["ForceUnit"],
});
const columns = computed(() => (table.value?.columns ?? []).map((name, value) => ({ value, name })));

const asText = asFile("text/csv");

async function choose(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0] ?? null;
  table.value = null;
  problem.value = "";
  file.value = chosen;
  if (!chosen) return;
  if (chosen.size > LARGEST) {
    problem.value = "That file is over 20 MB. A recorded pull is a few kB.";
    return;
  }
  try {
    table.value = await answer(client.POST("/api/gauge/csv/columns", { body: chosen as unknown as string, ...asText }));
    const { along, tension, kind } = table.value;
    Object.assign(form, { along: along ?? 0, tension: tension ?? 1, kind });
  } catch (refused) {
    problem.value = (refused as Problem).message;
  }
}
async function read() {
  problem.value = "";
  if (!file.value) return;
  try {
    const found = await answer(
      client.POST("/api/gauge/csv/read", {
        params: { query: { ...form } },
        body: file.value as unknown as string,
        ...asText,
      }),
    );
    emit("read", found);
  } catch (refused) {
    problem.value = (refused as Problem).message;
  }
}
</script>

<template>
  <section class="panel stack">
    <h2>A recorded pull</h2>
    <label class="field"
      ><span>CSV file</span><input type="file" accept=".csv,.txt,text/csv" class="plain-input" @change="choose"
    /></label>
    <template v-if="table">
      <p class="soft">{{ counted(table.rows, "row") }}. Which columns?</p>
      <div class="fields">
        <ChoiceBox v-model="form.along" label="Pulled along" :options="columns" />
        <ChoiceBox
          v-model="form.kind"
          label="It is"
          :options="[
            { value: 'length_mm', name: 'length, mm' },
            { value: 'time_s', name: 'time, s' },
          ]" />
        <ChoiceBox v-model="form.tension" label="Tension" :options="columns" />
        <ChoiceBox
          v-model="form.unit"
          label="In"
          :options="[
            { value: 'mN', name: 'mN' },
            { value: 'gf', name: 'gf' },
            { value: 'cN', name: 'cN' },
          ]" />
      </div>
      <Button label="Read it" outlined @click="read" />
    </template>
    <p v-if="problem" class="field-error" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.8rem;
}
</style>
