<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import Button from "primevue/button";
import { computed, reactive, ref } from "vue";
import { answer, client } from "../../api/client";
import { useRack } from "../../api/queries";
import { useHere, useMachineId } from "../../composables/machine";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { useNote } from "../../composables/send";

/** A fluttering reading: the cross-swap that says which part is at fault, and marks it. */
const props = defineProps<{ caseId: number; item: number }>();
const machine = useMachineId();
const here = useHere();
const { data: rack } = useRack(machine);
const swap = reactive({
  same_bobbin_other_case: null as boolean | null,
  other_bobbin_same_case: null as boolean | null,
});
const { data } = useQuery({
  queryKey: computed(() => ["swap", machine.value, { ...swap }]),
  queryFn: () => answer(client.POST("/api/machines/{machine_id}/cross-swap", { ...here(), body: { ...swap } })),
});
const bobbin = ref(props.item);
const bobbins = computed(() => [
  { value: 0, name: "which bobbin is it?" },
  ...(rack.value?.bobbins ?? []).map((b) => ({ value: b.id, name: `${b.spec.label}, ${b.thread}` })),
]);
const part = computed(() => (data.value?.fault === "case" ? "case" : data.value?.fault === "bobbin" ? "bobbin" : null));
const partId = computed(() => (part.value === "case" ? props.caseId : bobbin.value));
const mark = useNote(
  () =>
    answer(
      client.POST("/api/machines/{machine_id}/marks", {
        ...here(),
        body: { part: part.value ?? "case", id: partId.value, fault: "flutters" },
      }),
    ),
  { says: (entry) => `Marked: ${entry.text}.` },
);
const ANSWERS = [
  { value: null, name: "not read yet" },
  { value: true, name: "still flutters" },
  { value: false, name: "steady" },
];
</script>

<template>
  <section class="panel stack" aria-live="polite">
    <h2>Which part flutters?</h2>
    <ToggleRow v-model="swap.same_bobbin_other_case" label="1. The same bobbin in another case" :options="ANSWERS" />
    <ToggleRow v-model="swap.other_bobbin_same_case" label="2. Another bobbin in this case" :options="ANSWERS" />
    <p v-if="data" class="verdict">{{ data.text }}</p>
    <ChoiceBox v-if="part === 'bobbin'" v-model="bobbin" label="Bobbin" :options="bobbins" />
    <Button v-if="part && partId" :label="`Mark this ${part}`" outlined @click="mark.go()" />
    <p v-else-if="part" class="soft">Choose the {{ part }} from the rack, and it is marked there.</p>
    <p v-if="mark.problem.value" class="field-error" role="alert">{{ mark.problem.value.message }}</p>
  </section>
</template>
