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
import { GUIDE_HOLES, usualScale } from "../machines";
import ToggleRow from "./ToggleRow.vue";

/** A machine described: a new one, or one that is known described anew. What nobody knows may stay unsaid. */
const props = defineProps<{ machine?: Schemas["MachineItem"] }>();
const emit = defineEmits<{ saved: [id: number]; leave: [] }>();

type Kind = Schemas["MachineKind"];
type Scale = Schemas["ScaleKind"];
const KINDS: { value: Kind; name: string }[] = [
  { value: "home", name: "domestic machine" },
  { value: "longarm", name: "longarm" },
];
const SCALES: { value: Scale; name: string }[] = [
  { value: "dial", name: "numbered dial" },
  { value: "turns", name: "unmarked knob" },
  { value: "readout", name: "digital readout" },
];
const UNKNOWN = { value: null, name: "I don't know" };
const FRAME: { value: boolean | null; name: string }[] = [
  { value: true, name: "on a frame" },
  { value: false, name: "sit-down, in a table" },
  UNKNOWN,
];
const THERE: { value: boolean | null; name: string }[] = [
  { value: true, name: "yes" },
  { value: false, name: "no" },
  UNKNOWN,
];
const HOLES = [...GUIDE_HOLES, UNKNOWN];
const SHANKS: { value: Schemas["Shank"] | null; name: string }[] = [
  { value: "flat", name: "a flat side" },
  { value: "round", name: "round" },
  { value: null, name: "as usual" },
];
const GAUGE: { value: boolean | null; name: string }[] = [
  { value: true, name: "a gauge" },
  { value: false, name: "no gauge" },
  UNKNOWN,
];
const CASE: { value: boolean | null; name: string }[] = [
  { value: true, name: "a case to take out" },
  { value: false, name: "it drops in" },
  UNKNOWN,
];
const UNITS: { value: Schemas["ForceUnit"] | null; name: string }[] = [
  { value: "mN", name: "mN" },
  { value: "gf", name: "grams (g)" },
  { value: "cN", name: "cN" },
  UNKNOWN,
];
const NUMBER: { value: Schemas["NumberSchool"]; name: string }[] = [
  { value: "one", name: "one for every thread" },
  { value: "by_purpose", name: "looser for delicate thread" },
];
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
  frame: was?.on_frame ?? (null as boolean | null),
  sensor: was?.break_sensor ?? (null as boolean | null),
  regulator: was?.regulator ?? (null as boolean | null),
  holes: was?.guide_holes ?? (null as number | null),
  shank: was?.shank ?? (null as Schemas["Shank"] | null),
  unit: was ? (was.gauge_unit ?? null) : (null as Schemas["ForceUnit"] | null),
  gauge: was?.has_gauge ?? (null as boolean | null),
  case: was?.removable_case ?? (null as boolean | null),
  number: was?.number_school ?? ("one" as Schemas["NumberSchool"]),
});
watch([() => form.scale, () => form.kind], ([scale, kind]) => {
  const usual = usualScale(scale, kind);
  [form.low, form.high, form.step] = [usual.low, usual.high, usual.step].map(String) as [string, string, string];
});
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
    on_frame: form.kind === "longarm" ? form.frame : null,
    break_sensor: form.sensor,
    regulator: form.regulator,
    guide_holes: form.holes,
    shank: form.shank,
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
    <FieldBox :name="form.nickname" label="What you call it" :error="error('nickname')" class="wide"
      ><InputText v-model="form.nickname" autofocus
    /></FieldBox>
    <ToggleRow v-model="form.kind" label="Kind of machine" :options="KINDS" class="wide" />
    <ToggleRow v-if="form.kind === 'longarm'" v-model="form.frame" label="It stands" :options="FRAME" class="wide" />
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
      <ToggleRow v-model="form.gauge" label="To measure the bobbin, you have" :options="GAUGE" class="wide" />
      <ToggleRow
        v-if="form.gauge !== false"
        v-model="form.unit"
        label="The gauge is marked in"
        :options="UNITS"
        class="wide" />
      <ToggleRow v-model="form.number" label="The bobbin's number" :options="NUMBER" class="wide" />
    </template>
    <ToggleRow v-model="form.shank" label="The needles have" :options="SHANKS" class="wide" />
    <details class="wide">
      <summary>What else it has</summary>
      <div class="stack">
        <ToggleRow v-model="form.holes" label="A guide with holes before the discs" :options="HOLES" />
        <ToggleRow v-model="form.regulator" label="A stitch regulator" :options="THERE" />
        <ToggleRow v-model="form.sensor" label="A thread break sensor" :options="THERE" />
      </div>
    </details>
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
