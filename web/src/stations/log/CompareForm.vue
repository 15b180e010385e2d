<script setup lang="ts">
import Button from "primevue/button";
import { computed, reactive, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useQueryClient } from "@tanstack/vue-query";
import { usePlanned } from "../../api/queries";
import { useHere, useMachineId } from "../../composables/machine";
import { useNote, useSend } from "../../composables/send";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import EndComparison from "../../parts/EndComparison.vue";
import ToggleRow from "../../parts/ToggleRow.vue";

/** Any two of a kind, compared by the records; and what it would take to see a difference. */
const props = defineProps<{ page: Schemas["EvidencePage"] }>();
const here = useHere();
const queries = useQueryClient();
type Factor = Schemas["Factor"];
const form = reactive({
  measure: "life" as Schemas["Measure"],
  factor: "finish" as Factor,
  first: "",
  second: "",
  times: 2,
});
const factors = computed(() => props.page.factors.filter((f) => form.measure === "breaks" || f.of_needles));
const levels = computed(() => (props.page.levels[form.factor] ?? []).map((value) => ({ value, name: value })));
watch(
  [() => form.measure, () => form.factor, levels],
  () => {
    if (!factors.value.some((f) => f.value === form.factor)) form.factor = "finish";
    const names = levels.value.map((l) => l.value);
    if (!names.includes(form.first)) form.first = names[0] ?? "";
    if (!names.includes(form.second) || form.second === form.first)
      form.second = names.find((n) => n !== form.first) ?? "";
  },
  { immediate: true },
);
const found = ref("");
const takes = ref("");
/** The least difference that a season could show, where the one asked for takes longer. */
const season = ref<number | null>(null);
const question = () => ({
  measure: form.measure,
  factor: form.factor,
  first: form.first,
  second: form.second,
});
const compare = useSend(
  () => answer(client.POST("/api/machines/{machine_id}/evidence/compare", { ...here(), body: question() })),
  {
    then: (answered) => {
      found.value = answered.text;
      takes.value = "";
    },
  },
);
const plan = useSend(
  () =>
    answer(
      client.POST("/api/machines/{machine_id}/evidence/plan", {
        params: { ...here().params, query: { times: form.times } },
        body: question(),
      }),
    ),
  {
    then: (answered) => {
      takes.value = answered.text;
      season.value = answered.season_times ?? null;
      found.value = "";
    },
  },
);
function lookFor(times: number) {
  form.times = times;
  void plan.go();
}
const begin = useNote(
  () =>
    answer(
      client.POST("/api/machines/{machine_id}/evidence/planned", {
        params: { ...here().params, query: { times: form.times } },
        body: question(),
      }),
    ),
  {
    then: () => {
      takes.value = "";
      void queries.invalidateQueries({ queryKey: ["evidence"] });
    },
  },
);
const { data: planned } = usePlanned(useMachineId());
const problem = computed(() => compare.problem.value ?? plan.problem.value ?? begin.problem.value);
</script>

<template>
  <ToggleRow
    v-model="form.measure"
    label="Compare by"
    :options="[
      { value: 'life', name: 'how long needles last' },
      { value: 'breaks', name: 'how often thread breaks' },
    ]" />
  <div class="two">
    <ChoiceBox v-model="form.factor" label="They differ in" :options="factors" />
    <ChoiceBox v-model="form.first" label="This one" :options="levels" />
    <ChoiceBox v-model="form.second" label="against" :options="levels" />
  </div>
  <div class="row">
    <Button label="Compare them" :disabled="levels.length < 2" :loading="compare.pending.value" @click="compare.go()" />
    <Button
      :label="`What would it take to see ${form.times === 2 ? 'twice' : `${form.times} times`} as much?`"
      text
      :disabled="levels.length < 2"
      :loading="plan.pending.value"
      @click="plan.go()" />
  </div>
  <p v-if="levels.length < 2" class="soft">Only one of them is on record.</p>
  <p v-if="problem" class="field-error" role="alert">{{ problem.message }}</p>
  <p v-else-if="found" class="verdict" role="status">{{ found }}</p>
  <template v-else-if="takes">
    <p class="verdict" role="status">{{ takes }}</p>
    <div class="row">
      <Button label="Use them in turn from now on" outlined @click="begin.go()" />
      <Button
        v-if="season && season !== form.times"
        :label="`Look for ${season} times instead`"
        text
        @click="lookFor(season)" />
    </div>
  </template>
  <template v-if="planned">
    <h3>Planned</h3>
    <p class="verdict">{{ planned.progress.text }}</p>
    <p class="soft">{{ planned.answer }}</p>
    <EndComparison :progress="planned.progress" />
  </template>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(11rem, 1fr));
  gap: 0.7rem;
}
</style>
