<script setup lang="ts">
import Button from "primevue/button";
import Dialog from "primevue/dialog";
import InputText from "primevue/inputtext";
import { computed, reactive, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useRack, useWords } from "../../api/queries";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FieldBox from "../../parts/FieldBox.vue";
import GradePicker from "../balance/GradePicker.vue";
import { useSend } from "../../composables/send";
import { minutesTyped, numberIn, optionalNumber, readPulls } from "../../composables/fields";
import ConflictNote from "../../parts/ConflictNote.vue";
import { useSeen } from "../../composables/seen";
import MomentBox from "../../parts/MomentBox.vue";
import ThreadChoice from "../../parts/ThreadChoice.vue";

const props = defineProps<{ entry: Schemas["LogEntry"] }>();
const emit = defineEmits<{ close: [] }>();

type Payload = NonNullable<Schemas["LogEntry"]["payload"]>;
const payload = reactive(structuredClone(JSON.parse(JSON.stringify(props.entry.payload))) as Payload);
const at = ref<string | undefined>(props.entry.at);
const { data: words } = useWords();
const sizes = computed(() =>
  (words.value?.sizes ?? []).map((s) => ({ value: s.metric, name: `${s.metric}/${s.american}` })),
);
const { data: rack } = useRack(computed(() => props.entry.machine_id));
const cases = computed(() => [
  { value: 0, name: "no case noted" },
  ...(rack.value?.cases ?? []).map((c) => ({ value: c.id, name: c.spec.label })),
]);
const points = computed(() => (words.value?.points ?? []).map((p) => ({ value: p.value, name: p.name })));
const retireReasons = computed(
  () => (words.value?.retire_reasons ?? []) as { value: Schemas["RetireReason"]; name: string }[],
);
const minutes = ref("minutes" in payload ? String(payload.minutes) : "");
const setting = ref("setting" in payload && payload.setting !== null ? String(payload.setting) : "");
const grade = ref<number | null>("grade" in payload ? payload.grade : null);
const percent = ref(payload.kind === "bobbin_loaded" ? String(Math.round((payload.fill ?? 1) * 100)) : "");
const percentBefore = percent.value;
const pulls = ref(
  payload.kind === "bobbin_reading"
    ? payload.pulls.map((p) => (p.value != null ? `${p.value}` : `${p.low}-${p.high}`)).join("  ")
    : "",
);
const pullsBefore = pulls.value;
const CHECK_ANSWERS: { value: Schemas["CheckAnswer"]; name: string }[] = [
  { value: "found", name: "found" },
  { value: "not_it", name: "not it" },
  { value: "cannot_tell", name: "can't tell" },
  { value: "skipped", name: "skipped" },
];
const OUTCOMES: { value: Schemas["Outcome"]; name: string }[] = [
  { value: "cured", name: "cured" },
  { value: "not_cured", name: "not cured" },
  { value: "technician", name: "for the technician" },
  { value: "left", name: "left as it is" },
];
const PURPOSES: { value: Schemas["Purpose"]; name: string }[] = [
  { value: "ordinary", name: "ordinary thread" },
  { value: "delicate", name: "metallic or delicate" },
  { value: "bobbin_work", name: "bobbin work" },
];
const ACCEPTED = [
  { value: 1, name: "a few specks of the top on the back" },
  { value: -1, name: "a few dots on top" },
  { value: 0, name: "only balanced" },
];
const GRADES = computed<Schemas["GradeFacts"][]>(() => words.value?.grades ?? []);

function filled(): Payload {
  const body = { ...payload } as Payload;
  if (body.kind === "look") Object.assign(body, { setting: numberIn("setting", setting.value), grade: grade.value });
  // An emptied field leaves the tension to the machine.
  if (body.kind === "knob_set") body.setting = optionalNumber("setting", setting.value);
  if (body.kind === "run") body.minutes = minutesTyped("minutes", minutes.value);
  if (body.kind === "screw_turned") body.minutes = numberIn("minutes", minutes.value);
  if (body.kind === "bobbin_loaded" && percent.value !== percentBefore)
    body.fill = numberIn("fill", percent.value) / 100;
  if (body.kind === "needle_fitted")
    body.american = words.value?.sizes.find((s) => s.metric === body.metric)?.american ?? 0;
  // A recorded pull knows more than its lowest and highest: it stays as it is unless it is typed anew.
  if (body.kind === "bobbin_reading" && pulls.value !== pullsBefore) body.pulls = readPulls(pulls.value);
  return body;
}
const seen = useSeen(props.entry.version);
const save = useSend(
  async () =>
    answer(
      client.PUT("/api/log/{record_id}", {
        params: { path: { record_id: props.entry.id }, header: seen.header() },
        body: {
          payload: filled(),
          at: at.value ?? props.entry.at,
        },
      }),
    ),
  { says: () => "Corrected. What it said before stays with it.", then: () => emit("close") },
);
const { error } = save;
function writeOver() {
  seen.writeOver(save.problem.value);
  void save.go();
}
</script>

<template>
  <Dialog
    visible
    modal
    :header="`Correct: ${entry.kind_name}`"
    :style="{ width: '44rem', maxWidth: '95vw' }"
    @update:visible="emit('close')">
    <form class="stack" @submit.prevent="save.go()">
      <MomentBox v-model="at" label="When" :error="error('at')" />
      <ChoiceBox
        v-if="'case' in payload && payload.kind !== 'case_put_back' && cases.length > 1"
        :model-value="payload.case ?? 0"
        label="Case"
        :options="cases"
        @update:model-value="payload.case = $event || null" />
      <ThreadChoice
        v-if="payload.kind === 'bobbin_loaded'"
        v-model="payload.bobbin"
        label="Thread in the bobbin"
        :known="entry.setup.bobbin?.name"
        :error="error('bobbin')" />
      <FieldBox v-if="payload.kind === 'bobbin_loaded'" label="How full, %" :error="error('fill')"
        ><InputText v-model="percent" inputmode="numeric"
      /></FieldBox>
      <template v-if="payload.kind === 'top_threaded'">
        <ThreadChoice
          v-for="(_, i) in payload.top"
          :key="i"
          v-model="payload.top[i]!"
          label="Thread on top"
          :known="entry.setup.top?.[i]?.name"
          :error="error('top')" />
      </template>
      <template v-if="payload.kind === 'needle_fitted'">
        <ChoiceBox v-model="payload.metric" label="Size" :options="sizes" />
        <ChoiceBox v-model="payload.point" label="Point" :options="points" />
      </template>
      <FieldBox
        v-if="payload.kind === 'bobbin_reading'"
        :label="`Pulls in ${payload.unit}, as 204 or 199-210, with a space between`"
        :error="error('value', 'low', 'high', 'pulls', 'unit')">
        <InputText v-model="pulls" />
      </FieldBox>
      <ChoiceBox
        v-if="payload.kind === 'incident_check'"
        v-model="payload.answer"
        label="How it turned out"
        :options="CHECK_ANSWERS" />
      <ChoiceBox
        v-if="payload.kind === 'incident_outcome'"
        v-model="payload.outcome"
        label="How it ended"
        :options="OUTCOMES" />
      <ChoiceBox v-if="payload.kind === 'needle_retired'" v-model="payload.why" label="Why" :options="retireReasons" />
      <FieldBox
        v-if="payload.kind === 'run' || payload.kind === 'screw_turned'"
        label="Minutes"
        :error="error('minutes')"
        ><InputText v-model="minutes" inputmode="decimal"
      /></FieldBox>
      <FieldBox v-if="payload.kind === 'run' || payload.kind === 'clock_started'" label="Quilt" :error="error('quilt')"
        ><InputText v-model="payload.quilt"
      /></FieldBox>
      <FieldBox v-if="payload.kind === 'recipe'" label="Name" :error="error('name')"
        ><InputText v-model="payload.name"
      /></FieldBox>
      <p v-if="payload.kind === 'recipe'" class="soft">
        The bobbin tension, setting and picture come from the reading and test line it was saved with. Correct those,
        and this follows.
      </p>
      <FieldBox v-if="payload.kind === 'knob_set'" label="Top tension, empty for automatic" :error="error('setting')"
        ><InputText v-model="setting" inputmode="decimal"
      /></FieldBox>
      <ChoiceBox
        v-if="payload.kind === 'bobbin_purpose'"
        v-model="payload.purpose"
        label="Set for"
        :options="PURPOSES" />
      <ChoiceBox
        v-if="payload.kind === 'good_enough'"
        v-model="payload.grade"
        label="Good enough"
        :options="ACCEPTED" />
      <template v-if="payload.kind === 'look'">
        <FieldBox label="Top tension setting" :error="error('setting')"
          ><InputText v-model="setting" inputmode="decimal"
        /></FieldBox>
        <GradePicker v-model="grade" :grades="GRADES" :top="entry.setup.top?.[0]" :bobbin="entry.setup.bobbin" />
      </template>
      <FieldBox v-if="'note' in payload" label="Note" :error="error('note')"
        ><InputText v-model="payload.note"
      /></FieldBox>
      <ConflictNote
        v-if="save.problem.value?.conflict"
        :problem="save.problem.value"
        :mine="filled()"
        @over="writeOver"
        @leave="emit('close')" />
      <p v-else-if="save.problem.value" class="field-error">{{ save.problem.value.message }}</p>
      <div class="row end">
        <Button type="button" label="Leave it as it was" text @click="emit('close')" />
        <Button type="submit" label="Correct it" :loading="save.pending.value" />
      </div>
    </form>
  </Dialog>
</template>

<style scoped>
.end {
  justify-content: flex-end;
}
</style>
