<script setup lang="ts">
import { useDraft } from "../composables/draft";
import DraftNote from "./DraftNote.vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { reactive, watch } from "vue";
import { answer, client, type Schemas } from "../api/client";
import { numbersIn, optionalNumber } from "../composables/fields";
import { useSeen } from "../composables/seen";
import { useSend } from "../composables/send";
import ConflictNote from "./ConflictNote.vue";
import FieldBox from "./FieldBox.vue";
import ToggleRow from "./ToggleRow.vue";

/** A machine described: a new one, or one that is known described anew. What nobody knows may stay unsaid. */
const props = defineProps<{ machine?: Schemas["MachineItem"] }>();
const emit = defineEmits<{ saved: [id: number]; leave: [] }>();

type Kind = Schemas["MachineKind"];
type Scale = Schemas["ScaleKind"];
const KINDS: { value: Kind; name: string }[] = [
  { value: "home", name: "home machine" },
  { value: "longarm", name: "longarm or sit-down" },
];
const SCALES: { value: Scale; name: string }[] = [
  { value: "dial", name: "numbered dial" },
  { value: "turns", name: "unmarked knob" },
  { value: "readout", name: "digital readout" },
];
const GAUGE: { value: boolean | null; name: string }[] = [
  { value: true, name: "a gauge" },
  { value: false, name: "no gauge" },
  { value: null, name: "I do not know" },
];
const CASE: { value: boolean | null; name: string }[] = [
  { value: true, name: "a case to take out" },
  { value: false, name: "it drops in" },
  { value: null, name: "I do not know" },
];
const UNITS: { value: Schemas["ForceUnit"]; name: string }[] = [
  { value: "mN", name: "mN" },
  { value: "gf", name: "grams (g)" },
  { value: "cN", name: "cN" },
];
const NUMBER: { value: Schemas["NumberSchool"]; name: string }[] = [
  { value: "one", name: "one for every thread" },
  { value: "by_purpose", name: "looser for delicate thread" },
];
const USUAL: Record<Scale, [string, string, string]> = {
  dial: ["0", "10", "0.5"],
  turns: ["-4", "4", "0.25"],
  readout: ["80", "400", "5"],
};
const was = props.machine?.spec;
const form = reactive({
  nickname: was?.nickname ?? "",
  kind: was?.kind ?? ("home" as Kind),
  throat: was?.throat_in != null ? String(was.throat_in) : "",
  system: was?.needle_system ?? "",
  scale: was?.scale.kind ?? ("dial" as Scale),
  low: String(was?.scale.low ?? 0),
  high: String(was?.scale.high ?? 10),
  step: String(was?.scale.step ?? 0.5),
  unit: was?.gauge_unit ?? ("mN" as Schemas["ForceUnit"]),
  gauge: was?.has_gauge ?? (null as boolean | null),
  case: was?.removable_case ?? (null as boolean | null),
  number: was?.number_school ?? ("one" as Schemas["NumberSchool"]),
});
watch(
  () => form.scale,
  (scale) => ([form.low, form.high, form.step] = USUAL[scale]),
);
/** A machine that is known is changed in one go; a new one is a draft until it is kept. */
const draft = props.machine ? null : useDraft("machine", form);
const filled = () => {
  const { low, high, step } = numbersIn({ low: form.low, high: form.high, step: form.step });
  return {
    ...was,
    nickname: form.nickname,
    kind: form.kind,
    throat_in: optionalNumber("throat_in", form.throat),
    needle_system: form.system,
    gauge_unit: form.unit,
    has_gauge: form.gauge,
    removable_case: form.case,
    number_school: form.number,
    scale: { unit: was?.scale.unit ?? "", kind: form.scale, low, high, step },
  };
};
const seen = useSeen(props.machine?.version);
const save = useSend(
  async () => {
    if (!props.machine) return answer(client.POST("/api/machines", { body: filled() }));
    const params = { path: { machine_id: props.machine.id }, header: seen.header() };
    return answer(client.PUT("/api/machines/{machine_id}", { params, body: filled() }));
  },
  {
    then: (machine) => {
      draft?.drop();
      emit("saved", machine.id);
    },
  },
);
function writeOver() {
  seen.writeOver(save.problem.value);
  void save.go();
}
function leave() {
  draft?.drop();
  emit("leave");
}
const { error } = save;
</script>

<template>
  <form class="grid" @submit.prevent="save.go()">
    <DraftNote class="wide" :shown="!!draft?.state.restored" @drop="draft?.drop()" />
    <FieldBox label="What you call it" :error="error('nickname')" class="wide"
      ><InputText v-model="form.nickname" autofocus
    /></FieldBox>
    <ToggleRow v-model="form.kind" label="Kind of machine" :options="KINDS" class="wide" />
    <ToggleRow v-model="form.scale" label="Top tension is set on" :options="SCALES" class="wide" />
    <div class="three wide">
      <FieldBox :label="form.scale === 'turns' ? 'Turns out, at most' : 'Scale from'" :error="error('low')"
        ><InputText v-model="form.low" inputmode="decimal"
      /></FieldBox>
      <FieldBox :label="form.scale === 'turns' ? 'Turns in, at most' : 'Scale to'" :error="error('high')"
        ><InputText v-model="form.high" inputmode="decimal"
      /></FieldBox>
      <FieldBox label="Smallest step" :error="error('step')"
        ><InputText v-model="form.step" inputmode="decimal"
      /></FieldBox>
    </div>
    <ToggleRow v-model="form.case" label="The bobbin sits in" :options="CASE" class="wide" />
    <template v-if="form.case !== false">
      <ToggleRow v-model="form.gauge" label="To measure the bobbin there is" :options="GAUGE" class="wide" />
      <ToggleRow
        v-if="form.gauge !== false"
        v-model="form.unit"
        label="It is marked in"
        :options="UNITS"
        class="wide" />
      <ToggleRow v-model="form.number" label="The bobbin's number" :options="NUMBER" class="wide" />
    </template>
    <FieldBox label="Throat, inches, if you know it" :error="error('throat_in')"
      ><InputText v-model="form.throat" inputmode="decimal"
    /></FieldBox>
    <FieldBox label="Needle system, from the manual" :error="error('needle_system')"
      ><InputText v-model="form.system"
    /></FieldBox>
    <ConflictNote
      v-if="save.problem.value?.conflict"
      class="wide"
      :problem="save.problem.value"
      :mine="filled()"
      @over="writeOver"
      @leave="emit('leave')" />
    <p v-else-if="save.problem.value" class="field-error wide">{{ save.problem.value.message }}</p>
    <div class="row wide">
      <Button type="submit" :label="machine ? 'Save changes' : 'Save machine'" :loading="save.pending.value" />
      <Button type="button" :label="machine ? 'Leave it as it was' : 'Leave it'" text @click="leave" />
    </div>
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
.three {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 0.9rem;
}
@media (max-width: 560px) {
  .grid > * {
    grid-column: 1 / -1;
  }
}
</style>
