<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";
import { answer, client } from "../../api/client";
import { usePreflight } from "../../api/queries";
import { useHere, useMachineId } from "../../composables/machine";
import CautionList from "../../parts/CautionList.vue";
import { useNote } from "../../composables/send";
import { counted, moment } from "../../words";

/** The short list before a new quilt, made for what is on the machine. */
const machine = useMachineId();
const { data } = usePreflight(machine);
const done = ref<string[]>([]);
const more = ref(false);
const items = computed(() => [...(data.value?.items ?? []), ...(more.value ? (data.value?.rest ?? []) : [])]);
const groups = computed(() => {
  const off = items.value.filter((i) => i.power_off);
  const on = items.value.filter((i) => !i.power_off);
  return [
    { name: "Power off", items: off },
    { name: off.length ? "Then, with the power on" : "With the power on", items: on },
  ].filter((g) => g.items.length);
});
/** What to watch out for, each said once. */
const cautions = computed(() => [
  ...new Map(items.value.flatMap((i) => i.cautions).map((caution) => [caution.text, caution])).values(),
]);
const here = useHere();
/** What was ticked, and what stood there: a check that is skipped again and again is asked for no more. */
const saved = () => ({ done: done.value, listed: data.value?.items.map((i) => i.cause) });
const keep = useNote(() => answer(client.POST("/api/machines/{machine_id}/preflight", { ...here(), body: saved() })), {
  then: () => (done.value = []),
});
</script>

<template>
  <form v-if="data" class="station" @submit.prevent="keep.go()">
    <div>
      <section v-for="g in groups" :key="g.name" class="panel">
        <h2>{{ g.name }}</h2>
        <CautionList v-if="g === groups[0]" :cautions="cautions" />
        <label v-for="i in g.items" :key="i.cause" :class="{ done: done.includes(i.cause) }">
          <input v-model="done" type="checkbox" :value="i.cause" />
          <span
            ><strong>{{ i.check }}</strong
            ><span v-if="i.why" class="why">{{ i.why }}</span
            ><br /><span class="soft">{{ i.how }}</span></span
          >
          <span class="soft">{{ i.minutes }} min</span>
        </label>
      </section>
    </div>
    <section class="panel stack">
      <p class="soft">Before a quilt</p>
      <p v-if="data.done_at && !items.length" class="answer ask" data-answer>Ready to quilt</p>
      <p v-else-if="!items.length" class="answer" data-answer>Skip the list</p>
      <p v-else class="answer" data-answer>
        {{ done.length }} <small>of {{ counted(items.length, "check") }}</small>
      </p>
      <p v-if="data.done_at" class="verdict">
        {{ data.done }} checked {{ moment(data.done_at) }}. Nothing changed since.
      </p>
      <p v-if="items.length && !more" class="verdict">
        About {{ counted(Math.round(data.minutes), "minute") }}, for what's on the machine now.
      </p>
      <p v-if="data.says" class="soft">{{ data.says }}</p>
      <Button v-if="data.rest.length && !more" type="button" label="Show the rest" text @click="more = true" />
      <Button
        v-if="items.length"
        type="submit"
        data-new
        size="large"
        label="Save the checks"
        :disabled="!done.length"
        :loading="keep.pending.value" />
      <p v-if="keep.problem.value" class="field-error" role="alert">{{ keep.problem.value.message }}</p>
    </section>
  </form>
</template>

<style scoped>
label {
  display: grid;
  grid-template-columns: 30px 1fr auto;
  gap: 0.8rem;
  padding: 0.55rem 0;
  border-top: 1px solid var(--rule);
  align-items: start;
  line-height: 1.3;
}
label input {
  width: 28px;
  height: 28px;
  accent-color: var(--marigold);
}
label strong {
  font-size: var(--type-lead);
}
.why {
  margin-left: 0.6rem;
  color: var(--amber);
  font-weight: 620;
}
.done strong {
  color: var(--teal);
}
.station {
  grid-template-columns: minmax(0, 1.7fr) minmax(0, 1fr);
}
@media (max-width: 900px) {
  .station {
    grid-template-columns: minmax(0, 1fr);
  }
  /* What is left to do, and the act that ends it, before the list. */
  .station > section {
    order: -1;
  }
}
@media (max-width: 500px) {
  label {
    grid-template-columns: 30px 1fr;
  }
  label > :last-child {
    grid-column: 2;
  }
}
</style>
