<script setup lang="ts">
import { metersTyped, stretchUnit } from "../../units";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, reactive, ref } from "vue";
import { answer, client, type Problem, type Schemas } from "../../api/client";
import { numbersIn } from "../../composables/fields";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { fixed } from "../../words";

/** Thread without a label: weigh a measured length, or count wraps over a ruler. */
const props = defineProps<{ fiber: Schemas["Fiber"]; construction: Schemas["Construction"] }>();
const emit = defineEmits<{ measured: [tex: number] }>();

const way = ref<"weigh" | "wraps">("weigh");
const form = reactive({ meters: "20", grams: "", step: "0.1", wraps: "", ruler: "10" });
const found = ref<Schemas["Measured"] | null>(null);
const problem = ref<Problem | null>(null);
const kind = computed(() => ({ fiber: props.fiber, construction: props.construction }));

async function measure() {
  found.value = problem.value = null;
  try {
    found.value =
      way.value === "weigh"
        ? await answer(
            client.POST("/api/compute/weighed-length", {
              body: {
                ...kind.value,
                ...numbersIn({ grams: form.grams, scale_step_g: form.step }),
                meters: metersTyped("meters", form.meters),
              },
            }),
          )
        : await answer(
            client.POST("/api/compute/wraps", {
              body: { ...kind.value, ...numbersIn({ wraps: form.wraps, ruler_mm: form.ruler }) },
            }),
          );
  } catch (refused) {
    problem.value = refused as Problem;
  }
}
const error = (field: string) => problem.value?.fields[field];
</script>

<template>
  <div class="measure stack">
    <ToggleRow
      v-model="way"
      label="Measure by"
      :options="[
        { value: 'weigh', name: 'weighing a length' },
        { value: 'wraps', name: 'counting wraps' },
      ]" />
    <div v-if="way === 'weigh'" class="fields">
      <FieldBox :label="`Length, ${stretchUnit()}`" :error="error('meters')"
        ><InputText v-model="form.meters" inputmode="decimal"
      /></FieldBox>
      <FieldBox label="Weight, g" :error="error('grams')"
        ><InputText v-model="form.grams" inputmode="decimal"
      /></FieldBox>
      <FieldBox label="Smallest step of the scale, g" :error="error('scale_step_g')"
        ><InputText v-model="form.step" inputmode="decimal"
      /></FieldBox>
    </div>
    <div v-else class="fields">
      <FieldBox label="Wraps, side by side" :error="error('wraps') ?? error('value')"
        ><InputText v-model="form.wraps" inputmode="decimal"
      /></FieldBox>
      <FieldBox label="Ruler covered, mm" :error="error('ruler_mm')"
        ><InputText v-model="form.ruler" inputmode="decimal"
      /></FieldBox>
    </div>
    <p v-if="problem && (problem.lost || error('value'))" class="field-error">{{ problem.message }}</p>
    <p v-if="found" class="verdict">{{ found.text }}</p>
    <div class="row">
      <Button type="button" label="Work it out" outlined @click="measure" />
      <Button
        v-if="found"
        type="button"
        :label="`Take ${fixed(found.tex, 1)} tex`"
        @click="emit('measured', found.tex)" />
    </div>
  </div>
</template>

<style scoped>
.measure {
  border-left: 3px dashed var(--marigold);
  padding-left: 1rem;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(11rem, 1fr));
  gap: 0.8rem;
}
</style>
