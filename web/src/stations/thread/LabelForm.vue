<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, reactive, ref, watch } from "vue";
import { answer, client, Problem, type Schemas } from "../../api/client";
import { useChange, useWords } from "../../api/queries";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FieldBox from "../../parts/FieldBox.vue";
import { fixed, typed } from "../../words";

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
  finish: "plain" as Schemas["ThreadFinish"],
  colour: "#8fa3b5",
  note: "",
});
watch(
  () => props.thread,
  (item) => {
    if (!item) return;
    const { thread, ...rest } = item.spec;
    Object.assign(form, {
      name: rest.name,
      finish: rest.finish,
      colour: rest.colour,
      note: rest.note,
      fibre: thread.fibre,
      construction: thread.construction,
      value: String(thread.value),
      system: thread.system,
      strands: String(thread.strands),
    });
  },
  { immediate: true },
);
const label = computed(() => ({
  fibre: form.fibre,
  construction: form.construction,
  value: typed(form.value),
  system: form.system,
  strands: typed(form.strands),
}));
const choices = <T extends string>(list?: readonly { value: string; name: string }[]) =>
  (list ?? []) as { value: T; name: string }[];

/** The label read in every system while it is being typed. */
const read = ref<Schemas["Density"] | null>(null);
const unread = ref<Problem | null>(null);
let asked = 0;
watch(
  label,
  async (body) => {
    const mine = ++asked;
    if (!form.value) {
      read.value = unread.value = null;
      return;
    }
    try {
      const density = await answer(client.POST("/api/compute/linear-density", { body }));
      if (mine === asked) [read.value, unread.value] = [density, null];
    } catch (problem) {
      if (mine === asked) [read.value, unread.value] = [null, problem as Problem];
    }
  },
  { immediate: true },
);

const save = useChange(() => {
  const body = {
    name: form.name,
    thread: label.value,
    colour: form.colour,
    finish: form.finish,
    note: form.note,
    form: props.thread?.spec.form ?? ("cone" as const),
    plies: props.thread?.spec.plies ?? null,
  };
  return props.thread
    ? answer(client.PUT("/api/threads/{thread_id}", { params: { path: { thread_id: props.thread.id } }, body }))
    : answer(client.POST("/api/threads", { body }));
});
const error = (field: string) => save.error.value?.fields[field] ?? unread.value?.fields[field];
async function submit() {
  const thread = await save.mutateAsync(undefined).catch(() => null);
  if (thread) emit("saved", thread);
}
</script>

<template>
  <section class="panel" aria-labelledby="label-title">
    <h2 id="label-title">{{ thread ? `Edit ${thread.spec.name}` : "From the label" }}</h2>
    <form @submit.prevent="submit">
      <FieldBox label="Name" :error="error('name')" class="two"><InputText v-model="form.name" autofocus :invalid="!!error('name')" /></FieldBox>
      <ChoiceBox v-model="form.fibre" label="Fibre" :options="choices(words?.fibres)" :error="error('fibre')" />
      <ChoiceBox v-model="form.construction" label="Construction" :options="choices(words?.constructions)" :error="error('construction')" />
      <FieldBox label="Number on the label" :error="error('value')"><InputText v-model="form.value" inputmode="decimal" :invalid="!!error('value')" /></FieldBox>
      <ChoiceBox v-model="form.system" label="System" :options="choices(words?.systems)" :error="error('system')" />
      <FieldBox label="Strands" :error="error('strands')"><InputText v-model="form.strands" inputmode="numeric" /></FieldBox>
      <ChoiceBox v-model="form.finish" label="Finish" :options="choices(words?.finishes)" />
      <FieldBox label="Colour" :error="error('colour')"><input v-model="form.colour" type="color" class="plain-input" /></FieldBox>
      <FieldBox label="Note" :error="error('note')" class="two"><InputText v-model="form.note" /></FieldBox>
      <p class="read two" aria-live="polite">
        <template v-if="read">
          <strong>{{ fixed(read.tex, 1) }} tex</strong> · {{ fixed(read.wt, 1) }} wt · {{ fixed(read.denier) }} denier · Ne {{ fixed(read.ne, 1) }}
          <template v-if="read.diameter_mm"> · {{ fixed(read.diameter_mm, 2) }} mm thick</template>
          <span v-if="read.ask" class="ask">{{ read.ask }}</span>
        </template>
      </p>
      <p v-if="save.error.value?.lost" class="field-error two">{{ save.error.value.message }}</p>
      <div class="row two acts">
        <Button v-if="thread" label="Strike out" text type="button" severity="secondary" @click="emit('strike', thread)" />
        <Button label="Cancel" text type="button" @click="emit('close')" />
        <Button type="submit" :label="thread ? 'Keep the change' : 'Put it in the drawer'" :loading="save.isPending.value" />
      </div>
    </form>
  </section>
</template>

<style scoped>
form { display: grid; grid-template-columns: repeat(4, minmax(0, 1fr)); gap: 0.9rem; margin-top: 0.7rem; align-items: start; }
.two { grid-column: span 2; }
.read { align-self: center; font-size: 1.1rem; min-height: 1.5rem; }
.ask { display: block; color: var(--amber); font-weight: 600; }
.acts { justify-content: flex-end; }
input[type="color"] { padding: 0.2rem; }
@media (max-width: 900px) { form { grid-template-columns: repeat(2, minmax(0, 1fr)); } }
</style>
