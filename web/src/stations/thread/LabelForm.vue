<script setup lang="ts">
import { useDraft } from "../../composables/draft";
import DraftNote from "../../parts/DraftNote.vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { nextTick, reactive, ref, watch } from "vue";
import { answer, client, Problem, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import ConflictNote from "../../parts/ConflictNote.vue";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { NO_COLOR } from "../../drawn";
import { choices, fixed } from "../../words";
import LabelDetails from "./LabelDetails.vue";
import DyePicker from "./DyePicker.vue";
import { EMPTY, fill, filled } from "./labelFields";
import LabelLine from "./LabelLine.vue";
import NoLabel from "./NoLabel.vue";
import ThreadCard from "./ThreadCard.vue";
import { useSeen } from "../../composables/seen";
import { useSend } from "../../composables/send";

type Item = Schemas["ThreadItem"];
/** `copied`: a thread that another color is made of. */
const props = defineProps<{ thread: Item | null; copied?: Item | null }>();
const emit = defineEmits<{ saved: [thread: Item, another: boolean]; close: []; strike: [thread: Item] }>();

const { data: words } = useWords();
const form = reactive({ ...EMPTY });
const line = ref("");
const namedByHand = ref(false);
const draft = props.thread || props.copied ? null : useDraft("label", reactive({ form, line, namedByHand }));
/** What stands beside a label, and what the label read last said of it. */
const BESIDE = ["note", "line", "bought", "meters", "price", "rating", "needle", "holes"] as const;
let said: Partial<typeof form> = {};
function readFrom(spec: Schemas["DrawerThread"] | null) {
  if (!spec) {
    form.value = "";
    return;
  }
  // What was put in by hand stays: a label is still being read while one types on.
  const byHand = BESIDE.filter((field) => form[field] && form[field] !== said[field]);
  const typed = Object.fromEntries([...byHand, "tests" as const].map((field) => [field, form[field]]));
  // A color chosen by hand stays; the label's word is taken until then.
  const color = form.color !== said.color && form.color !== NO_COLOR ? form.color : spec.color;
  fill(form, { ...spec, color, name: namedByHand.value ? form.name : spec.name });
  said = { ...form };
  Object.assign(form, typed);
}
const seen = useSeen(undefined);
watch(
  // What is being typed stays when the drawer is read again.
  () => props.thread?.id,
  () => {
    const item = props.thread;
    seen.look(item?.version);
    if (item) fill(form, item.spec);
    else if (props.copied) {
      const { spec } = props.copied;
      fill(form, { ...spec, line: spec.line || spec.name, hand_tests: [], bought: null, note: "", name: "" });
    }
  },
  { immediate: true },
);
function measured(tex: number) {
  Object.assign(form, { value: fixed(tex, 1), system: "tex", strands: "1", perStrand: null });
  opened.value = true;
}

const save = useSend(
  async (keep: "correction" | "new" | "and another") => {
    if (!props.thread && !props.copied && !line.value.trim() && !form.value)
      throw new Problem("", { label_text: "Write what the label says, with its number: 40 wt, Tex 30, 120d x 2." });
    const body = filled(form);
    if (!props.thread || keep !== "correction") return answer(client.POST("/api/threads", { body }));
    const params = { path: { thread_id: props.thread.id }, header: seen.header() };
    return answer(client.PUT("/api/threads/{thread_id}", { params, body }));
  },
  {
    then: (thread) => {
      const again = more.value;
      draft?.drop();
      if (again) {
        void nextTick(() => top.value?.querySelector("input")?.focus());
      }
      more.value = false;
      emit("saved", thread, again);
    },
  },
);
const more = ref(false);
const top = ref<HTMLElement>();
function keep(how: "correction" | "new" | "and another") {
  more.value = how === "and another";
  return save.go(how);
}
function leave() {
  draft?.drop();
  emit("close");
}
// What was refused of a label is no matter once another is typed.
watch(line, () => save.reset());
function writeOver() {
  seen.writeOver(save.problem.value);
  void keep("correction");
}
/** What is wrong with a field that is folded away opens it. */
const opened = ref(false);
watch(
  () => save.problem.value?.fields,
  (fields) => {
    if (Object.keys(fields ?? {}).some((field) => !["name", "color", "label_text"].includes(field)))
      opened.value = true;
  },
);
const error = save.error;
</script>

<template>
  <section ref="top" class="panel stack" aria-labelledby="label-title">
    <h2 id="label-title">
      {{
        thread
          ? `Edit ${thread.spec.name}`
          : copied
            ? `${copied.spec.name} in another color`
            : "A thread for the drawer"
      }}
    </h2>
    <form class="stack" @submit.prevent="keep(thread ? 'correction' : 'new')">
      <DraftNote :shown="!!draft?.state.restored" @drop="draft?.drop()" />
      <LabelLine v-if="!thread && !copied" v-model="line" :error="save.error('label_text')" @read="readFrom" />
      <div class="first">
        <FieldBox :name="form.name" label="Name" :error="error('name')"
          ><InputText v-model="form.name" :invalid="!!error('name')" @input="namedByHand = true"
        /></FieldBox>
        <DyePicker v-model="form.color" :error="error('color')" />
        <ToggleRow
          v-model="form.variegated"
          label="It is"
          :options="[
            { value: false, name: 'of one color' },
            { value: true, name: 'variegated' },
          ]" />
      </div>
      <details :open="!!thread || opened">
        <summary>{{ thread ? "What it is" : "More details, or correct what was read" }}</summary>
        <LabelDetails v-model="form" :owned="!!thread" :refused="error" />
      </details>
      <details v-if="!thread && !copied">
        <summary>No label: measure it</summary>
        <div class="grid">
          <ChoiceBox v-model="form.fiber" label="Fiber" :options="choices(words?.fibers)" />
          <ChoiceBox v-model="form.construction" label="Construction" :options="choices(words?.constructions)" />
        </div>
        <NoLabel :fiber="form.fiber" :construction="form.construction" @measured="measured" />
      </details>
      <ConflictNote
        v-if="save.problem.value?.conflict"
        :problem="save.problem.value"
        :mine="filled(form)"
        @over="writeOver"
        @leave="emit('close')" />
      <p v-else-if="save.problem.value && !Object.keys(save.problem.value.fields).length" class="field-error">
        {{ save.problem.value.message }}
      </p>
      <div class="row acts">
        <Button v-if="thread" label="Delete" text type="button" severity="secondary" @click="emit('strike', thread)" />
        <Button label="Leave it" text type="button" @click="leave" />
        <Button
          v-if="thread"
          type="button"
          label="Add as another"
          outlined
          :loading="save.pending.value"
          @click="keep('new')" />
        <Button
          v-else-if="!copied"
          type="button"
          label="Save and add another"
          outlined
          :loading="save.pending.value"
          @click="keep('and another')" />
        <Button
          type="submit"
          :label="thread ? 'Save correction' : 'Put it in the drawer'"
          :loading="save.pending.value" />
      </div>
    </form>
    <!-- Below the form: it comes a moment later, and moves nothing under the hand. -->
    <ThreadCard v-if="thread" :thread="thread.id" />
  </section>
</template>

<style scoped>
.first {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(9rem, 1fr) auto;
  gap: 0.9rem;
  align-items: start;
}
.grid {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 0.9rem;
  align-items: start;
  padding-top: 0.6rem;
}
.acts {
  justify-content: flex-end;
}
@media (max-width: 900px) {
  .grid {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
@media (max-width: 560px) {
  .first {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
