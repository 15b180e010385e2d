<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { reactive, watch } from "vue";
import { answer, client, type Schemas } from "../api/client";
import { useWords } from "../api/queries";
import { useHere } from "../composables/machine";
import ChoiceBox from "./ChoiceBox.vue";
import FieldBox from "./FieldBox.vue";
import { useNote } from "../composables/send";
import { choices } from "../words";

/** What is under the needle; part of the combination. */
const props = defineProps<{ sandwich: Schemas["Sandwich"] | null }>();
const { data: words } = useWords();
type Loft = NonNullable<Schemas["Sandwich"]["loft"]>;
type Weave = NonNullable<Schemas["Sandwich"]["weave"]>;
const form = reactive({
  fabric: "",
  batting: "",
  backing: "",
  loft: "medium" as Loft,
  weave: "ordinary" as Weave,
  adhesive: false,
  layers: 3,
});
watch(
  () => props.sandwich,
  (laid) => laid && Object.assign(form, laid),
  { immediate: true },
);
const here = useHere();
const lay = useNote(
  () => answer(client.POST("/api/machines/{machine_id}/sandwich", { ...here(), body: { ...form } })),
  { says: (entry) => `${entry.text}. Earlier test lines are starting points now.` },
);
const { error } = lay;
</script>

<template>
  <details class="panel">
    <summary>The sandwich: {{ sandwich?.batting || (sandwich ? `${sandwich.loft} loft` : "not noted") }}</summary>
    <form class="pairs" @submit.prevent="lay.go()">
      <FieldBox label="Top fabric" :error="error('fabric')"><InputText v-model="form.fabric" /></FieldBox>
      <ChoiceBox v-model="form.weave" label="Its weave" :options="choices<Weave>(words?.weaves)" />
      <FieldBox label="Batting" :error="error('batting')"><InputText v-model="form.batting" /></FieldBox>
      <ChoiceBox v-model="form.loft" label="Its loft" :options="choices<Loft>(words?.lofts)" />
      <FieldBox label="Backing" :error="error('backing')"><InputText v-model="form.backing" /></FieldBox>
      <Button type="submit" label="That's under the needle" outlined :loading="lay.pending.value" />
    </form>
  </details>
</template>
