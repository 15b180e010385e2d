<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { numberIn } from "../../composables/fields";
import { useHere } from "../../composables/machine";
import { useNote } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";
import WordNote from "../../parts/WordNote.vue";

/** Where the knob stands, and where its mark is; `refused` says what was wrong with the setting. */
const props = defineProps<{ station: Schemas["BalanceStation"]; setting: string }>();
const emit = defineEmits<{ refused: [says: string] }>();
const scale = computed(() => props.station.scale);
const here = useHere();
const at = (words: string) => (/^(at |automatic)/.test(words) ? words : `at ${words}`);
const knob = useNote((automatic: boolean) =>
  answer(
    client.POST("/api/machines/{machine_id}/knob", {
      ...here(),
      body: { kind: "knob_set", setting: automatic ? null : numberIn("setting", props.setting) },
    }),
  ),
);
watch(
  () => knob.error("setting"),
  (says) => emit("refused", says ?? ""),
);
const markName = ref("");
const mark = useNote(
  async () =>
    answer(
      client.POST("/api/machines/{machine_id}/mark", {
        ...here(),
        body: { kind: "mark_set", name: markName.value, at: numberIn("at", props.setting) },
      }),
    ),
  { then: () => (markName.value = "") },
);
</script>

<template>
  <div class="row knob">
    <span class="soft">{{
      station.knob_words ? `The knob stands ${at(station.knob_words)}` : "The knob's place isn't on record"
    }}</span>
    <Button
      :label="scale.kind === 'turns' ? 'It stands there now' : `I've set it to ${setting}`"
      text
      :loading="knob.pending.value"
      @click="knob.go(false)" />
    <Button label="Automatic" text @click="knob.go(true)" />
  </div>
  <p v-if="scale.kind === 'turns'" class="soft">
    Turns are counted from the <WordNote term="mark" />{{ station.setup.mark ? ` ${station.setup.mark.name}` : "" }}.
  </p>
  <form v-if="scale.kind === 'turns'" class="row knob" @submit.prevent="mark.go()">
    <FieldBox
      :label="
        station.setup.mark
          ? `The mark is ${station.setup.mark.name}. Reset it, and say where`
          : 'Set the mark here, and say where that is'
      "
      :error="mark.error('name', 'at')"
      class="grow"
      ><InputText v-model="markName" placeholder="where 40 over 60 balanced"
    /></FieldBox>
    <Button type="submit" label="The mark is here" outlined class="low" />
  </form>
</template>

<style scoped>
.grow {
  flex: 1 1 14rem;
}
.low {
  align-self: end;
}
.knob {
  align-items: center;
  justify-content: space-between;
}
</style>
