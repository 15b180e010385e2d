<script setup lang="ts">
import Button from "primevue/button";
import { ref } from "vue";
import { answer, client } from "../../api/client";
import { useJob } from "../../composables/job";
import JobLine from "../../parts/JobLine.vue";
import { zone } from "../../units";
import { counted } from "../../words";

/** Everything as one file, for other programs and for another workshop. */
const pictures = ref(false);
const ready = ref<Record<string, number> | null>(null);
const file = ref("");
const { job, problem, start, breakOff } = useJob((done) => {
  ready.value = done.counts ?? {};
  file.value = done.file ?? "";
});
function write() {
  ready.value = null;
  void start(() => answer(client.POST("/api/exchange/exports", { body: { pictures: pictures.value, zone: zone() } })));
}
</script>

<template>
  <section class="panel stack" aria-live="polite">
    <p class="soft">Everything as a file</p>
    <p class="answer ask" data-answer>
      <template v-if="ready">Your file is ready</template>
      <template v-else>Take your records with you</template>
    </p>
    <p v-if="ready" class="verdict">
      {{ counted(ready.record ?? 0, "record") }}, {{ counted(ready.thread ?? 0, "thread") }},
      {{ counted(ready.machine ?? 0, "machine") }}, with every correction.
    </p>
    <p v-else class="verdict">One zip: a table for each kind of record, and everything in an open format.</p>
    <label class="tick"
      ><input v-model="pictures" type="checkbox" /> with the recipe cards and a page of each quilt</label
    >
    <div class="row">
      <a v-if="ready" class="download" :href="`/api/exchange/exports/${file}/everything.zip`" download>Save the file</a>
      <Button :label="ready ? 'Write it again' : 'Write the file'" :outlined="!!ready" size="large" @click="write" />
    </div>
    <JobLine :job="job" @stop="breakOff" />
    <p v-if="problem" class="field-error" role="alert">{{ problem }}</p>
    <p class="soft">
      For a spreadsheet, another program, or to join two workshops. To go back to how everything was, use a copy of the
      workshop instead. It goes back in one step, under The workshop.
    </p>
    <p class="soft">
      Any list here also comes as a table, filtered as you see it. Find “As a table” below the drawer, Log, recipes and
      quilt. Programs of your own can read and write as well.
    </p>
    <a class="asks" href="/reference">What programs can ask</a>
  </section>
</template>

<style scoped>
.tick {
  display: flex;
  align-items: center;
  gap: 0.6rem;
  min-height: 48px;
}
.tick input {
  width: 1.4rem;
  height: 1.4rem;
}
.download {
  display: inline-grid;
  place-items: center;
  min-height: 56px;
  padding: 0 1.4rem;
  border-radius: 4px;
  font-weight: 650;
  color: var(--p-button-primary-color);
  background: var(--p-button-primary-background);
  text-decoration: none;
}
.asks {
  color: inherit;
  min-height: 48px;
  display: inline-grid;
  place-items: center;
  justify-self: start;
}
</style>
