<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import { answer, client } from "../../api/client";
import { useBreaks } from "../../api/queries";
import { useHere, useMachineId } from "../../composables/machine";
import { useSend, useTakeBack } from "../../composables/send";
import CautionList from "../../parts/CautionList.vue";

/** Thread broke, one rethreaded and went on: noted in one tap, counted once, and where to look first beside it. */
const machine = useMachineId();
const here = useHere();
const router = useRouter();
const { data } = useBreaks(machine);
// Said here: a break is noted also while the server, and what it knows, is away.
const HOW = [
  { symptom: "clean_snap_of_the_top_thread", name: "top, snapped clean" },
  { symptom: "frays_above_the_eye", name: "top, frayed" },
  { symptom: "bobbin_thread_breaks", name: "bobbin thread" },
];
const back = useTakeBack();
/** What was tapped last: its first move is known before the server has answered, and without it. */
const tapped = ref<string>();
const note = useSend(
  (symptom: string) => answer(client.POST("/api/machines/{machine_id}/breaks", { ...here(), body: { symptom } })),
  { waits: true, says: (noted) => noted.text, undo: (noted) => () => void takeBack([...noted.records]) },
);
function takeBack(records: number[]) {
  tapped.value = undefined;
  return back.go(records);
}
function broke(symptom: string) {
  tapped.value = symptom;
  return note.go(symptom);
}
const lead = computed(() => {
  const symptom = tapped.value ?? data.value?.last?.symptom;
  return data.value?.kinds.find((kind) => kind.symptom === symptom);
});
const toMend = () => router.push({ name: "mend", params: { machine: machine.value } });
// Its record is open again: to take that back is to leave it at Mend.
const look = useSend((incident: number) =>
  answer(
    client.POST("/api/machines/{machine_id}/breaks/{incident_id}/cause", {
      params: { path: { machine_id: machine.value, incident_id: incident } },
    }),
  ),
);
async function findCause() {
  const incident = data.value?.last?.incident;
  if (incident === undefined || (await look.go(incident))) await toMend();
}
</script>

<template>
  <section class="panel stack" aria-labelledby="break-title">
    <h2 id="break-title">Thread broke, kept going</h2>
    <div class="row">
      <Button
        v-for="h in HOW"
        :key="h.symptom"
        :label="h.name"
        outlined
        :aria-label="`Thread broke, kept going: ${h.name}`"
        :loading="note.pending.value"
        @click="broke(h.symptom)" />
    </div>
    <p v-if="note.problem.value" class="field-error" role="alert">{{ note.problem.value.message }}</p>
    <div v-if="lead" class="first-move stack" role="status">
      <p v-if="data?.often">{{ data.often }}</p>
      <template v-if="lead.first">
        <p class="verdict">{{ lead.first.check }}</p>
        <p>{{ lead.first.how }}</p>
        <CautionList :cautions="lead.first.cautions" />
      </template>
      <p v-if="data?.needle">
        {{ data.needle }} <RouterLink :to="{ name: 'needle', params: { machine } }">Go to Needle</RouterLink>
      </p>
      <Button label="Find the cause" :loading="look.pending.value" @click="findCause" />
    </div>
    <p v-else class="soft beside">One tap a break: it counts in what your records say.</p>
  </section>
</template>

<style scoped>
.first-move {
  border-top: 3px solid var(--marigold);
  padding-top: 0.6rem;
}
.first-move .p-button {
  justify-self: start;
}
@media (max-width: 600px) {
  .beside {
    display: none;
  }
}
</style>
