<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { ref } from "vue";
import { numberIn } from "../../composables/fields";
import { useMachineId } from "../../composables/machine";
import { useMachineChange } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";

/** How deep the throat is: asked where it first matters, since it tells which reading is usual. */
const typed = ref("");
const change = useMachineChange(useMachineId(), {
  says: ({ spec }) => `${spec.nickname} has a throat of ${spec.throat_in} inches.`,
});
const save = () => change.go(() => ({ throat_in: numberIn("throat_in", typed.value) }));
</script>

<template>
  <section class="panel stack">
    <h2>How deep is the throat?</h2>
    <p>It tells which reading is usual. Measure from the needle to the back of the opening.</p>
    <form class="row" @submit.prevent="save()">
      <FieldBox label="Inches" :error="change.problem.value?.message"
        ><InputText v-model="typed" inputmode="decimal" class="short"
      /></FieldBox>
      <Button type="submit" label="Save" outlined class="low" :loading="change.pending.value" />
    </form>
  </section>
</template>

<style scoped>
.short {
  width: 6rem;
}
.low {
  align-self: end;
}
</style>
