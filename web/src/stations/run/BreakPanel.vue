<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import { answer, client, type Schemas } from "../../api/client";
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
/** What was tapped last, after which: what to do is known before the server has answered, and without it. */
const tapped = ref<{ lead?: Schemas["BreakLead"]; after?: number }>();
const note = useSend(
  (symptom: string) => answer(client.POST("/api/machines/{machine_id}/breaks", { ...here(), body: { symptom } })),
  { waits: true, says: (noted) => noted.text, undo: (noted) => () => void takeBack([...noted.records]) },
);
function takeBack(records: number[]) {
  tapped.value = undefined;
  return back.go(records);
}
function broke(symptom: string) {
  const kind = data.value?.kinds.find((each) => each.symptom === symptom);
  const after = data.value?.last?.incident;
  // One that the server has not heard of yet was tapped a moment ago: this is the second.
  const again = tapped.value && tapped.value.after === after;
  tapped.value = { lead: kind && (again ? { ...kind, sew_on: "" } : kind), after };
  return note.go(symptom);
}
const lead = computed(() => {
  const last = data.value?.last;
  return tapped.value && tapped.value.after === last?.incident ? tapped.value.lead : last?.lead;
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
      <template v-if="lead.sew_on">
        <p class="verdict">Rethread and sew on</p>
        <p>{{ lead.sew_on }}</p>
        <p v-if="lead.first" class="soft">
          If it breaks again within the hour, begin here: <strong>{{ lead.first.check }}</strong>
        </p>
      </template>
      <template v-else-if="lead.first">
        <p class="verdict">{{ lead.first.check }}</p>
        <p>{{ lead.first.how }}</p>
        <CautionList :cautions="lead.first.cautions" />
      </template>
      <p v-if="data?.needle">
        {{ data.needle }} <RouterLink :to="{ name: 'needle', params: { machine } }">Go to Needle</RouterLink>
      </p>
      <Button label="Find the cause" :outlined="!!lead.sew_on" :loading="look.pending.value" @click="findCause" />
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
