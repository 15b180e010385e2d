<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, reactive, ref, watch } from "vue";
import { answer, client, Problem, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import ConflictNote from "../../parts/ConflictNote.vue";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { choices, fixed } from "../../words";
import HandTests from "./HandTests.vue";
import NoLabel from "./NoLabel.vue";
import { useSeen } from "../../composables/seen";
import { useSend } from "../../composables/send";
import { numbersIn, optionalNumber } from "../../composables/fields";

type Item = Schemas["ThreadItem"];
const props = defineProps<{ thread: Item | null }>();
const emit = defineEmits<{ saved: [thread: Item]; close: []; strike: [thread: Item] }>();

const { data: words } = useWords();
const form = reactive({
  name: "",
  fibre: "polyester" as Schemas["Fibre"],
  construction: "multifilament" as Schemas["Construction"],
  value: "",
  system: "wt" as Schemas["WeightSystem"],
  strands: "1",
  perStrand: null as boolean | null,
  finish: "plain" as Schemas["ThreadFinish"],
  form: "cone" as Schemas["Form"],
  plies: "",
  colour: "#8fa3b5",
  bought: "",
  note: "",
  line: "",
  tests: [] as Schemas["HandTest"][],
});
const seen = useSeen(undefined);
watch(
  // What is being typed stays when the drawer is read again.
  () => props.thread?.id,
  () => {
    const item = props.thread;
    seen.look(item?.version);
    if (!item) return;
    const { thread, ...rest } = item.spec;
    Object.assign(form, {
      ...rest,
      bought: rest.bought ?? "",
      plies: rest.plies ? String(rest.plies) : "",
      tests: [...(rest.hand_tests ?? [])],
      fibre: thread.fibre,
      construction: thread.construction,
      value: String(thread.value),
      system: thread.system,
      strands: String(thread.strands),
      perStrand: thread.per_strand ?? null,
    });
  },
  { immediate: true },
);
const labelled = () => ({
  fibre: form.fibre,
  construction: form.construction,
  ...numbersIn({ value: form.value, strands: form.strands }),
  system: form.system,
  per_strand: form.perStrand,
});
const written = computed(() => [form.fibre, form.construction, form.value, form.system, form.strands, form.perStrand]);

/** The label read in every system while it is being typed. */
const read = ref<Schemas["Density"] | null>(null);
const unread = ref<Problem | null>(null);
let asked = 0;
watch(
  written,
  async () => {
    const mine = ++asked;
    if (!form.value) {
      read.value = unread.value = null;
      return;
    }
    try {
      const density = await answer(client.POST("/api/compute/linear-density", { body: labelled() }));
      if (mine === asked) [read.value, unread.value] = [density, null];
    } catch (problem) {
      if (mine === asked) [read.value, unread.value] = [null, problem as Problem];
    }
  },
  { immediate: true },
);
const open = ref<"label" | "none">("label");
function measured(tex: number) {
  Object.assign(form, { value: tex.toFixed(1), system: "tex", strands: "1", perStrand: null });
  open.value = "label";
}

const filled = () => ({
  name: form.name,
  thread: labelled(),
  colour: form.colour,
  finish: form.finish,
  form: form.form,
  note: form.note,
  line: form.line,
  plies: optionalNumber("plies", form.plies),
  bought: form.bought || null,
  hand_tests: form.tests,
});
const save = useSend(
  async (another: boolean) => {
    const body = filled();
    if (!props.thread || another) return answer(client.POST("/api/threads", { body }));
    const params = { path: { thread_id: props.thread.id }, header: seen.header() };
    return answer(client.PUT("/api/threads/{thread_id}", { params, body }));
  },
  { then: (thread) => emit("saved", thread) },
);
function writeOver() {
  seen.writeOver(save.problem.value);
  void save.go(false);
}
const error = (field: string) => save.error(field) ?? unread.value?.fields[field];
</script>

<template>
  <section class="panel stack" aria-labelledby="label-title">
    <h2 id="label-title">{{ thread ? `Edit ${thread.spec.name}` : "A thread for the drawer" }}</h2>
    <ToggleRow
      v-model="open"
      label="Its weight"
      :options="[
        { value: 'label', name: 'from the label' },
        { value: 'none', name: 'no label: measure it' },
      ]" />
    <form @submit.prevent="save.go(false)">
      <FieldBox label="Name" :error="error('name')" class="two"
        ><InputText v-model="form.name" autofocus :invalid="!!error('name')"
      /></FieldBox>
      <ChoiceBox v-model="form.fibre" label="Fibre" :options="choices(words?.fibres)" :error="error('fibre')" />
      <ChoiceBox
        v-model="form.construction"
        label="Construction"
        :options="choices(words?.constructions)"
        :error="error('construction')" />
      <NoLabel
        v-if="open === 'none'"
        class="all"
        :fibre="form.fibre"
        :construction="form.construction"
        @measured="measured" />
      <FieldBox label="Number on the label" :error="error('value')"
        ><InputText v-model="form.value" inputmode="decimal" :invalid="!!error('value')"
      /></FieldBox>
      <ChoiceBox v-model="form.system" label="System" :options="choices(words?.systems)" :error="error('system')" />
      <FieldBox label="Strands" :error="error('strands')"
        ><InputText v-model="form.strands" inputmode="numeric" @input="form.perStrand = null"
      /></FieldBox>
      <ChoiceBox v-model="form.finish" label="Finish" :options="choices(words?.finishes)" />
      <div class="all read" aria-live="polite">
        <p v-if="read">
          <strong>{{ fixed(read.tex, 1) }} tex</strong> · {{ fixed(read.wt, 1) }} wt · {{ fixed(read.denier) }} denier ·
          {{ fixed(read.dtex) }} dtex · Ne {{ fixed(read.ne, 1) }}
          <template v-if="read.diameter_mm"> · {{ fixed(read.diameter_mm, 2) }} mm thick</template>
        </p>
        <div v-if="read?.ask || form.perStrand !== null" class="ask">
          <span>{{ read?.ask || "The number is that of" }}</span>
          <button type="button" :aria-pressed="form.perStrand === false" @click="form.perStrand = false">
            the whole thread
          </button>
          <button type="button" :aria-pressed="form.perStrand === true" @click="form.perStrand = true">
            one strand
          </button>
        </div>
      </div>
      <FieldBox label="Colour" :error="error('colour')"
        ><input v-model="form.colour" type="color" class="plain-input"
      /></FieldBox>
      <ChoiceBox v-model="form.form" label="Form" :options="choices(words?.forms)" />
      <FieldBox label="Plies" :error="error('plies')"><InputText v-model="form.plies" inputmode="numeric" /></FieldBox>
      <FieldBox label="Bought" :error="error('bought')"
        ><input v-model="form.bought" type="date" class="plain-input"
      /></FieldBox>
      <FieldBox label="Colour of, if you own several colours of it" :error="error('line')" class="all"
        ><InputText v-model="form.line" placeholder="the thread's name without the colour"
      /></FieldBox>
      <FieldBox label="Note" :error="error('note')" class="all"><InputText v-model="form.note" /></FieldBox>
      <HandTests v-model="form.tests" class="all" />
      <ConflictNote
        v-if="save.problem.value?.conflict"
        class="all"
        :problem="save.problem.value"
        :mine="filled()"
        @over="writeOver"
        @leave="emit('close')" />
      <p v-else-if="save.problem.value && !Object.keys(save.problem.value.fields).length" class="field-error all">
        {{ save.problem.value.message }}
      </p>
      <p v-if="thread" class="soft all">
        A correction reaches every record of this thread. Colours of one thread share its looks, readings and recipes,
        when each says what it is a colour of.
      </p>
      <div class="row all acts">
        <Button
          v-if="thread"
          label="Strike out"
          text
          type="button"
          severity="secondary"
          @click="emit('strike', thread)" />
        <Button label="Cancel" text type="button" @click="emit('close')" />
        <Button
          v-if="thread"
          type="button"
          label="Add as another"
          outlined
          :loading="save.pending.value"
          @click="save.go(true)" />
        <Button
          type="submit"
          :label="thread ? 'Keep the correction' : 'Put it in the drawer'"
          :loading="save.pending.value" />
      </div>
    </form>
  </section>
</template>

<style scoped>
form {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 0.9rem;
  align-items: start;
}
.two {
  grid-column: span 2;
}
.all {
  grid-column: 1 / -1;
}
.read {
  font-size: 1.1rem;
  min-height: 1.6rem;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem;
  align-items: center;
  color: var(--amber);
  font-weight: 600;
}
.ask button {
  min-height: 44px;
  border: 2px solid var(--rule);
  background: var(--panel);
  border-radius: 4px;
  padding: 0 0.9rem;
  color: var(--ink);
}
.ask button[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
.acts {
  justify-content: flex-end;
}
input[type="color"] {
  padding: 0.2rem;
}
@media (max-width: 900px) {
  form {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
</style>
