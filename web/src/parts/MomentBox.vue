<script setup lang="ts">
import { computed, ref } from "vue";
import { localMoment, momentsOf } from "../words";
import FieldBox from "./FieldBox.vue";
import ToggleRow from "./ToggleRow.vue";

/** When it was, in this screen's zone; none while nobody touched it. The hour that autumn repeats asks which one. */
defineProps<{ label: string; error?: string }>();
const model = defineModel<string | undefined>({ required: true });
const typed = ref(localMoment(model.value ? new Date(model.value) : new Date()));
const both = computed(() => momentsOf(typed.value));
const wanted = ref(model.value && both.value[1] === new Date(model.value).toISOString() ? 1 : 0);
const which = computed({
  get: () => wanted.value,
  set: (number) => {
    wanted.value = number;
    write();
  },
});
function write() {
  model.value = both.value[wanted.value] ?? both.value[0];
}
</script>

<template>
  <div>
    <FieldBox :label="label" :error="error"
      ><input v-model="typed" type="datetime-local" class="plain-input" :aria-invalid="!!error" @input="write"
    /></FieldBox>
    <ToggleRow
      v-if="both.length > 1"
      v-model="which"
      label="The clock showed this hour twice that night"
      :options="[
        { value: 0, name: 'the first time' },
        { value: 1, name: 'the second time' },
      ]" />
  </div>
</template>
