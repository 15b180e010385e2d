<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { reactive } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { useDraft } from "../../composables/draft";
import { numberIn } from "../../composables/fields";
import { useSend } from "../../composables/send";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import DraftNote from "../../parts/DraftNote.vue";
import FieldBox from "../../parts/FieldBox.vue";
import ThreadChoice from "../../parts/ThreadChoice.vue";
import { choices } from "../../words";

/** A wound bobbin for the rack: its thread, how full, how it was wound. */
const emit = defineEmits<{ undo: [id: number] }>();
const { data: words } = useWords();
const bobbinForm = reactive({
  label: "",
  thread: 0,
  bobbin_class: "M" as Schemas["BobbinClass"],
  fill: "100",
  winding: "even" as Schemas["Winding"],
});
const bobbinDraft = useDraft("bobbin", bobbinForm);
const addBobbin = useSend(
  async () => {
    const fill = numberIn("fill", bobbinForm.fill) / 100;
    return answer(client.POST("/api/bobbins", { body: { ...bobbinForm, fill } }));
  },
  {
    says: () => "The bobbin is on the rack.",
    undo: (id) => () => emit("undo", id),
    then: () => bobbinDraft.drop(),
  },
);
</script>

<template>
  <form class="pairs" @submit.prevent="addBobbin.go()">
    <DraftNote :shown="bobbinDraft.state.restored" @drop="bobbinDraft.drop()" />
    <FieldBox :name="bobbinForm.label" label="Bobbin label" :error="addBobbin.error('label')"
      ><InputText v-model="bobbinForm.label"
    /></FieldBox>
    <ThreadChoice v-model="bobbinForm.thread" label="Thread" :error="addBobbin.error('thread')" />
    <ChoiceBox
      v-model="bobbinForm.bobbin_class"
      label="Bobbin class"
      :options="choices<Schemas['BobbinClass']>(words?.bobbin_classes)" />
    <ChoiceBox v-model="bobbinForm.winding" label="Wound" :options="choices<Schemas['Winding']>(words?.windings)" />
    <FieldBox label="How full, %" :error="addBobbin.error('fill')"
      ><InputText v-model="bobbinForm.fill" inputmode="numeric"
    /></FieldBox>
    <Button type="submit" class="wide" label="Put the bobbin on the rack" :loading="addBobbin.pending.value" />
  </form>
</template>
