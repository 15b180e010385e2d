<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { reactive } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { useDraft } from "../../composables/draft";
import { useHere, useMachineId } from "../../composables/machine";
import { useSend } from "../../composables/send";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import DraftNote from "../../parts/DraftNote.vue";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { rangeTyped, forceUnit } from "../../units";
import { choices } from "../../words";

/** A case for the rack: its letter, its class, and its own range where it has one. */
const emit = defineEmits<{ made: [id: number] }>();
const machine = useMachineId();
const { data: words } = useWords();
const PIGTAIL = [
  { value: false, name: "no" },
  { value: true, name: "yes" },
];
const here = useHere();
const caseForm = reactive({
  label: "",
  bobbin_class: "M" as Schemas["BobbinClass"],
  kept_for: "",
  backlash: "spring" as Schemas["Backlash"],
  pigtail: false,
  low: "",
  high: "",
});
const caseDraft = useDraft(`case ${machine.value}`, caseForm);
const addCase = useSend(
  async () =>
    answer(
      client.POST("/api/machines/{machine_id}/cases", {
        ...here(),
        body: {
          label: caseForm.label,
          bobbin_class: caseForm.bobbin_class,
          kept_for: caseForm.kept_for,
          backlash: caseForm.backlash,
          pigtail: caseForm.pigtail,
          target: caseForm.low || caseForm.high ? rangeTyped(caseForm.low, caseForm.high) : null,
        },
      }),
    ),
  {
    says: (made) => `Case ${made.spec.label} is on the rack.`,
    then: (made) => {
      emit("made", made.id);
      caseDraft.drop();
    },
  },
);
</script>

<template>
  <form class="pairs" @submit.prevent="addCase.go()">
    <DraftNote :shown="caseDraft.state.restored" @drop="caseDraft.drop()" />
    <FieldBox :name="caseForm.label" label="Case label" :error="addCase.error('label')"
      ><InputText v-model="caseForm.label"
    /></FieldBox>
    <FieldBox label="For which fiber, or colors" :error="addCase.error('kept_for')"
      ><InputText v-model="caseForm.kept_for"
    /></FieldBox>
    <ChoiceBox
      v-model="caseForm.bobbin_class"
      label="Case class"
      :options="choices<Schemas['BobbinClass']>(words?.bobbin_classes)" />
    <ChoiceBox
      v-model="caseForm.backlash"
      label="Backlash spring or washer"
      :options="choices<Schemas['Backlash']>(words?.backlashes)" />
    <ToggleRow v-model="caseForm.pigtail" label="Does it have a pigtail?" :options="PIGTAIL" />
    <FieldBox :label="`Its own range from, ${forceUnit()}`" :error="addCase.error('low')"
      ><InputText v-model="caseForm.low" inputmode="decimal"
    /></FieldBox>
    <FieldBox :label="`to, ${forceUnit()}`" :error="addCase.error('high')"
      ><InputText v-model="caseForm.high" inputmode="decimal"
    /></FieldBox>
    <Button type="submit" class="wide" label="Put the case on the rack" :loading="addCase.pending.value" />
  </form>
</template>
