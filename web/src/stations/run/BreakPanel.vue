<script setup lang="ts">
import Button from "primevue/button";
import { answer, client } from "../../api/client";
import { useHere } from "../../composables/machine";
import { useSend, useTakeBack } from "../../composables/send";

/** Thread broke, one rethreaded and went on: noted in one tap, counted once. */
const here = useHere();
const HOW = [
  { symptom: "clean_snap_of_the_top_thread", name: "top, snapped clean" },
  { symptom: "frays_above_the_eye", name: "top, frayed" },
  { symptom: "bobbin_thread_breaks", name: "bobbin thread" },
];
const back = useTakeBack();
const note = useSend(
  (symptom: string) => answer(client.POST("/api/machines/{machine_id}/breaks", { ...here(), body: { symptom } })),
  { waits: true, says: (noted) => noted.text, undo: (noted) => () => void back.go([...noted.records]) },
);
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
        @click="note.go(h.symptom)" />
    </div>
    <p v-if="note.problem.value" class="field-error" role="alert">{{ note.problem.value.message }}</p>
    <p class="soft">
      One tap a break: it counts in what your records say. “It went wrong” looks for the cause instead.
    </p>
  </section>
</template>
