<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { reactive, watch } from "vue";
import { answer, client, type Schemas } from "../api/client";
import ChoiceBox from "./ChoiceBox.vue";
import FieldBox from "./FieldBox.vue";
import { useSend } from "../composables/send";
import { numbersIn, optionalNumber } from "../composables/fields";

const emit = defineEmits<{ saved: [id: number] }>();

type Kind = Schemas["MachineKind"];
type Scale = Schemas["ScaleKind"];
const KINDS: { value: Kind; name: string }[] = [
  { value: "longarm", name: "longarm or sit-down" },
  { value: "home", name: "home machine" },
];
const SCALES: { value: Scale; name: string }[] = [
  { value: "dial", name: "numbered dial" },
  { value: "turns", name: "unmarked knob, counted in turns" },
  { value: "readout", name: "digital readout" },
];
const UNITS: { value: Schemas["ForceUnit"]; name: string }[] = [
  { value: "mN", name: "mN" },
  { value: "gf", name: "gf (grams)" },
  { value: "cN", name: "cN" },
];
const USUAL: Record<Scale, [string, string, string]> = {
  dial: ["0", "10", "0.5"],
  turns: ["-4", "4", "0.25"],
  readout: ["80", "400", "5"],
};
const form = reactive({
  nickname: "",
  kind: "home" as Kind,
  throat: "",
  system: "",
  scale: "dial" as Scale,
  low: "0",
  high: "10",
  step: "0.5",
  unit: "mN" as Schemas["ForceUnit"],
});
watch(
  () => form.scale,
  (scale) => ([form.low, form.high, form.step] = USUAL[scale]),
);
const save = useSend(
  async () => {
    const { low, high, step } = numbersIn({ low: form.low, high: form.high, step: form.step });
    return answer(
      client.POST("/api/machines", {
        body: {
          nickname: form.nickname,
          kind: form.kind,
          throat_in: optionalNumber("throat_in", form.throat),
          needle_system: form.system,
          gauge_unit: form.unit,
          scale: { kind: form.scale, low, high, step },
        },
      }),
    );
  },
  { then: (machine) => emit("saved", machine.id) },
);
const { error } = save;
</script>

<template>
  <form class="grid" @submit.prevent="save.go()">
    <FieldBox label="What you call it" :error="error('nickname')"
      ><InputText v-model="form.nickname" autofocus
    /></FieldBox>
    <ChoiceBox v-model="form.kind" label="Kind of machine" :options="KINDS" />
    <FieldBox label="Throat, inches" :error="error('throat_in')"
      ><InputText v-model="form.throat" inputmode="decimal"
    /></FieldBox>
    <FieldBox label="Needle system, from the manual" :error="error('needle_system')"
      ><InputText v-model="form.system"
    /></FieldBox>
    <ChoiceBox v-model="form.scale" label="Top tension is set on" :options="SCALES" />
    <ChoiceBox v-model="form.unit" label="Bobbin gauge is marked in" :options="UNITS" />
    <FieldBox label="Scale from" :error="error('low')"><InputText v-model="form.low" inputmode="decimal" /></FieldBox>
    <FieldBox label="Scale to" :error="error('high')"><InputText v-model="form.high" inputmode="decimal" /></FieldBox>
    <FieldBox label="Smallest step" :error="error('step')"
      ><InputText v-model="form.step" inputmode="decimal"
    /></FieldBox>
    <p v-if="save.problem.value" class="field-error wide">{{ save.problem.value.message }}</p>
    <Button type="submit" class="wide" label="Keep this machine" :loading="save.pending.value" />
  </form>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.9rem;
}
.wide {
  grid-column: 1 / -1;
}
</style>
