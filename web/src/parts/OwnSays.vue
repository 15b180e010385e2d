<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { answer, client, type Schemas } from "../api/client";
import { useMachines } from "../api/queries";
import { useMachineId } from "../composables/machine";
import { useMachineChange } from "../composables/send";
import ToggleRow from "./ToggleRow.vue";

/** What one's own records say beside a station's advice, and whether they go into it. */
const props = defineProps<{ station: Schemas["Beside"]; feeds?: boolean; bare?: boolean }>();
const machine = useMachineId();
const { data } = useQuery({
  queryKey: computed(() => ["evidence", "beside", machine.value, props.station]),
  queryFn: () =>
    answer(
      client.GET("/api/machines/{machine_id}/evidence/beside/{at}", {
        params: { path: { machine_id: machine.value, at: props.station } },
      }),
    ),
});
const { data: machines } = useMachines();
const spec = computed(() => machines.value?.find((m) => m.id === machine.value)?.spec);
const change = useMachineChange(machine, { says: () => "Taken." });
const feed = computed({
  get: () => (spec.value?.choices?.own_records ?? "feed") === "feed",
  set: (on) => void change.go({ choices: { ...spec.value?.choices, own_records: on ? "feed" : "beside" } }),
});
</script>

<template>
  <section v-if="data?.length" :class="bare ? 'stack' : 'panel stack'" aria-label="Your records">
    <h2>Your records say</h2>
    <div v-for="said in data" :key="said.text">
      <p>{{ said.text }}</p>
      <p v-if="said.more" class="soft">{{ said.more }}</p>
    </div>
    <ToggleRow
      v-if="feeds && spec"
      v-model="feed"
      label="In the advice"
      :options="[
        { value: true, name: 'they go into it' },
        { value: false, name: 'they stand beside it' },
      ]" />
    <RouterLink :to="{ name: 'log', params: { machine }, query: { part: 'evidence' } }" class="link"
      >What it rests on</RouterLink
    >
  </section>
</template>

<style scoped>
p {
  margin: 0;
}
.link {
  color: inherit;
  min-height: 44px;
  display: inline-grid;
  align-content: center;
  justify-self: start;
}
</style>
