<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useChange, useWords } from "../../api/queries";
import { useMachineId } from "../../machine";
import { say } from "../../notices";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FieldBox from "../../parts/FieldBox.vue";
import { localMoment, momentOf } from "../../words";

/** Notes the needle that was fitted; starts with the one on show. */
const props = defineProps<{ metric: number; point: Schemas["Point"] }>();
const emit = defineEmits<{ size: [metric: number]; point: [point: Schemas["Point"]] }>();

const machine = useMachineId();
const { data: words } = useWords();
const finish = ref<Schemas["NeedleFinish"]>("steel");
const at = ref(localMoment(new Date()));
const touched = ref(false);
const sizes = computed(() => (words.value?.sizes ?? []).map((s) => ({ value: s.metric, name: `${s.metric}/${s.american}` })));
const points = computed(() => (words.value?.points ?? []).map((p) => ({ value: p.value, name: p.name })));
const finishes = computed(
  () => (words.value?.needle_finishes ?? []) as { value: Schemas["NeedleFinish"]; name: string }[],
);
const size = computed({ get: () => props.metric, set: (m) => emit("size", m) });
const shape = computed({ get: () => props.point, set: (p) => emit("point", p) });

const fit = useChange(() =>
  answer(
    client.POST("/api/machines/{machine_id}/needle", {
      params: { path: { machine_id: machine.value } },
      body: {
        metric: props.metric,
        american: words.value?.sizes.find((s) => s.metric === props.metric)?.american ?? 0,
        point: props.point,
        finish: finish.value,
        at: touched.value ? momentOf(at.value) : undefined,
      },
    }),
  ),
);
const undo = useChange((id: number) =>
  answer(client.POST("/api/log/{record_id}/strike", { params: { path: { record_id: id } } })),
);
const error = (field: string) => fit.error.value?.fields[field];
async function submit() {
  const entry = await fit.mutateAsync(undefined).catch(() => null);
  if (entry) say(`Noted: ${entry.text}.`, () => undo.mutate(entry.id));
}
</script>

<template>
  <form @submit.prevent="submit">
    <ChoiceBox v-model="size" label="Size" :options="sizes" :error="error('american') ?? error('metric')" />
    <ChoiceBox v-model="shape" label="Point" :options="points" :error="error('point')" />
    <ChoiceBox v-model="finish" label="Finish" :options="finishes" />
    <FieldBox label="Fitted" :error="error('at')">
      <input v-model="at" type="datetime-local" class="plain-input" :aria-invalid="!!error('at')" @input="touched = true" />
    </FieldBox>
    <p v-if="fit.error.value?.lost" class="field-error wide">{{ fit.error.value.message }}</p>
    <Button type="submit" data-new class="wide" label="Note it as fitted" :loading="fit.isPending.value" />
  </form>
</template>

<style scoped>
form { display: grid; grid-template-columns: 1fr 1fr; gap: 0.8rem; }
.wide { grid-column: 1 / -1; }
</style>
