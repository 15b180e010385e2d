<script setup lang="ts">
import Button from "primevue/button";
import { answer, client, type Schemas } from "../../api/client";
import { useHere, useMachineId } from "../../composables/machine";
import { useNote } from "../../composables/send";

/** The cloth that is being stitched: its number to write on it, or a new one to begin. */
defineProps<{ station: Schemas["BalanceStation"] }>();
const machine = useMachineId();
const here = useHere();
const begin = useNote(
  (gather: boolean) => answer(client.POST("/api/machines/{machine_id}/cloths", { ...here(), body: { gather } })),
  { says: (cloth) => `${cloth.text}. Write the number on it.` },
);
const onNone = (station: Schemas["BalanceStation"]) =>
  station.looks.some((e) => e.payload?.kind === "look" && e.payload.cloth == null);
</script>

<template>
  <p class="row cloth">
    <span v-if="station.cloth">
      On
      <RouterLink :to="{ name: 'balance', params: { machine }, query: { part: 'cloths', cloth: station.cloth.id } }"
        ><strong>cloth {{ station.cloth.number }}</strong></RouterLink
      >
    </span>
    <Button
      v-if="station.setup.top?.length"
      :label="station.cloth ? `New cloth: ${station.next_cloth}` : `Start cloth ${station.next_cloth}`"
      :text="!!station.cloth"
      :outlined="!station.cloth"
      :loading="begin.pending.value"
      @click="begin.go(!station.cloth && onNone(station))" />
    <span v-if="begin.problem.value" class="field-error" role="alert">{{ begin.problem.value.message }}</span>
  </p>
</template>

<style scoped>
.cloth {
  margin: 0;
  align-items: center;
}
</style>
