<script setup lang="ts">
import { computed } from "vue";
import { useThreadStation } from "../../api/queries";
import { useHas } from "../../composables/features";
import { useMachine, useMachineId } from "../../composables/machine";
import CautionList from "../../parts/CautionList.vue";
import FiguresNote from "../../parts/FiguresNote.vue";
import ReasonList from "../../parts/ReasonList.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { fixed } from "../../words";
import { useMachineChange } from "../../composables/send";

const machine = useMachineId();
const has = useHas();
const { data } = useThreadStation(machine);
const item = useMachine();
const change = useMachineChange(machine);
const school = computed({
  get: () => item.value?.spec.bobbin_school ?? "finer",
  set: (bobbin_school) => void change.go({ bobbin_school }),
});
</script>

<template>
  <p v-if="data && !data.care.length" class="panel verdict">Put a thread on top, and this says how to treat it.</p>
  <div v-else-if="data" class="care">
    <section v-for="{ name, care } in data.care" :key="name" class="panel stack">
      <h2>{{ name }}</h2>
      <CautionList :cautions="care.cautions" />
      <dl class="facts">
        <template v-for="a in care.advice" :key="a.text">
          <dt>{{ a.subject }}</dt>
          <dd>{{ a.text }}</dd>
        </template>
      </dl>
    </section>
    <section v-if="data.advice" class="panel stack">
      <h2>Top against bobbin</h2>
      <ToggleRow
        v-model="school"
        label="Two ways to do it"
        :options="[
          { value: 'finer', name: 'finer below' },
          { value: 'same', name: 'the same thread' },
        ]" />
      <p class="verdict">{{ data.advice.bobbin.text }}</p>
      <p v-if="data.advice.bobbin.other" class="soft">Other quilters: {{ data.advice.bobbin.other }}</p>
      <ReasonList :reasons="data.advice.reasons" />
      <p class="soft">
        Bobbin work: heavy thread wound on the bobbin{{ has("case") ? ", case loosened" : "" }}, quilt face down. Choose
        the thread in the drawer and put it “in the bobbin, showing”.
      </p>
      <p class="soft">{{ fixed(data.advice.tex, 1) }} tex on top, {{ fixed(data.advice.diameter_mm, 2) }} mm.</p>
      <FiguresNote subject="thread" />
    </section>
  </div>
</template>

<style scoped>
.care {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 24rem), 1fr));
  gap: 1.25rem;
  align-items: start;
}
</style>
