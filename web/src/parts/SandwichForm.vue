<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { reactive, watch } from "vue";
import { answer, client, type Schemas } from "../api/client";
import { useChange, useStrike, useWords } from "../api/queries";
import { useMachineId } from "../machine";
import { say } from "../notices";
import ChoiceBox from "./ChoiceBox.vue";
import FieldBox from "./FieldBox.vue";

/** What is under the needle; part of the combination. */
const props = defineProps<{ sandwich: Schemas["Sandwich"] | null }>();
const machine = useMachineId();
const { data: words } = useWords();
type Loft = NonNullable<Schemas["Sandwich"]["loft"]>;
type Weave = NonNullable<Schemas["Sandwich"]["weave"]>;
const form = reactive({ fabric: "", batting: "", backing: "", loft: "medium" as Loft, weave: "ordinary" as Weave, adhesive: false, layers: 3 });
watch(
  () => props.sandwich,
  (laid) => laid && Object.assign(form, laid),
  { immediate: true },
);
const undo = useStrike();
const lay = useChange(() =>
  answer(client.POST("/api/machines/{machine_id}/sandwich", { params: { path: { machine_id: machine.value } }, body: { ...form } })),
);
async function submit() {
  const entry = await lay.mutateAsync(undefined).catch(() => null);
  if (entry) say(`${entry.text}. Old looks are starting points now.`, () => undo.mutate(entry.id));
}
const error = (field: string) => lay.error.value?.fields[field];
const options = <T extends string>(list?: readonly { value: string; name: string }[]) => (list ?? []) as { value: T; name: string }[];
</script>

<template>
  <details class="panel">
    <summary>The sandwich: {{ sandwich?.batting || (sandwich ? `${sandwich.loft} loft` : "not noted") }}</summary>
    <form @submit.prevent="submit">
      <FieldBox label="Top fabric" :error="error('fabric')"><InputText v-model="form.fabric" /></FieldBox>
      <ChoiceBox v-model="form.weave" label="Its weave" :options="options<Weave>(words?.weaves)" />
      <FieldBox label="Batting" :error="error('batting')"><InputText v-model="form.batting" /></FieldBox>
      <ChoiceBox v-model="form.loft" label="Its loft" :options="options<Loft>(words?.lofts)" />
      <FieldBox label="Backing" :error="error('backing')"><InputText v-model="form.backing" /></FieldBox>
      <Button type="submit" label="That is under the needle" outlined :loading="lay.isPending.value" />
    </form>
  </details>
</template>

<style scoped>
form { display: grid; grid-template-columns: 1fr 1fr; gap: 0.8rem; align-items: end; }
</style>
