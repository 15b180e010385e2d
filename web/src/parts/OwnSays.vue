<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { answer, client, type Schemas } from "../api/client";
import { useMachineId } from "../composables/machine";
import { useSchools } from "../composables/schools";
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
const { questions, taken, take } = useSchools(machine);
const advice = computed(() => questions.value?.find((q) => q.id === "own_records"));
</script>

<template>
  <section v-if="data?.length" :class="bare ? 'stack' : 'panel stack'" aria-label="Your records">
    <h2>Your records say</h2>
    <div v-for="said in data" :key="said.text">
      <p>{{ said.text }}</p>
      <p v-if="said.more" class="soft">{{ said.more }}</p>
    </div>
    <ToggleRow
      v-if="feeds && advice"
      :model-value="taken(advice)"
      label="In the advice"
      :options="[
        { value: 'feed', name: 'they go into it' },
        { value: 'beside', name: 'they stand beside it' },
      ]"
      @update:model-value="(side) => advice && take(advice, side)" />
    <RouterLink :to="{ name: 'log', params: { machine }, query: { part: 'evidence' } }" class="onward"
      >What it rests on</RouterLink
    >
  </section>
</template>

<style scoped>
p {
  margin: 0;
}
</style>
