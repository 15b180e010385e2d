<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";
import { useProcedures, useWalksDone } from "../../api/queries";
import { answer, client, type Schemas } from "../../api/client";
import { useHere, useMachineId } from "../../composables/machine";
import { useNote } from "../../composables/send";
import CautionList from "../../parts/CautionList.vue";
import WalkThrough from "../../parts/WalkThrough.vue";
import { stitchWords } from "../../units";
import { day } from "../../words";

/** Set-up and small procedures for this machine, and the stitch length for what is stitched. */
const machine = useMachineId();
const { data: procedures } = useProcedures(machine);
const walks = computed(() => procedures.value?.walks ?? []);
const chosen = ref("");
const here = useHere();
const keep = useNote((what: Schemas["UpkeepKind"]) =>
  answer(client.POST("/api/machines/{machine_id}/upkeep", { ...here(), body: { what, note: "" } })),
);
const { data: done } = useWalksDone(machine);
const walked = useNote(
  (id: string) => answer(client.POST("/api/machines/{machine_id}/walks", { ...here(), body: { walk: id } })),
  { says: (noted) => `${noted.text}.` },
);
const walk = computed(() => walks.value.find((w) => w.id === chosen.value) ?? walks.value[0]);
</script>

<template>
  <div class="walks">
    <section class="panel stack">
      <ul>
        <li v-for="w in walks" :key="w.id">
          <button type="button" :aria-pressed="w.id === walk?.id" @click="chosen = w.id">
            {{ w.name }}<span v-if="done?.[w.id]" class="soft last">{{ day(done[w.id] ?? "") }}</span>
          </button>
        </li>
      </ul>
      <h2>Stitch length</h2>
      <dl>
        <template v-for="s in procedures?.stitches" :key="s.purpose">
          <dt>{{ s.purpose }}</dt>
          <dd>{{ stitchWords(s.low_mm, s.high_mm) }}</dd>
        </template>
      </dl>
    </section>
    <WalkThrough
      v-if="walk"
      :key="walk.id"
      :steps="walk.steps"
      :counted="`${walk.name},`"
      done="Done"
      :says="`All ${walk.steps.length} points walked.`">
      <template #end>
        <Button
          v-if="!walk.upkeep"
          size="large"
          label="Save it as done"
          :loading="walked.pending.value"
          @click="walked.go(walk.id)" />
        <p v-if="walked.problem.value" class="field-error" role="alert">{{ walked.problem.value.message }}</p>
        <Button
          v-if="walk.upkeep"
          size="large"
          :label="`Save as ${walk.name.toLowerCase()}ed`"
          :loading="keep.pending.value"
          @click="keep.go(walk.upkeep as Schemas['UpkeepKind'])" />
        <p v-if="keep.problem.value" class="field-error" role="alert">{{ keep.problem.value.message }}</p>
      </template>
      <CautionList :cautions="walk.cautions" />
    </WalkThrough>
  </div>
</template>

<style scoped>
.walks {
  display: grid;
  grid-template-columns: minmax(15rem, 1fr) minmax(0, 2fr);
  gap: 1rem;
  align-items: start;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li button {
  width: 100%;
  min-height: 52px;
  text-align: left;
  border: 0;
  border-top: 1px solid var(--rule);
  background: none;
  padding: 0.3rem 0.6rem;
  font-weight: 600;
}
.last {
  float: right;
  font-weight: 400;
}
li button[aria-pressed="true"] {
  background: var(--amber-wash);
}
dl {
  display: grid;
  grid-template-columns: 1fr max-content;
  gap: 0.3rem 1rem;
  margin: 0;
}
dd {
  margin: 0;
  font-weight: 600;
}
@media (max-width: 900px) {
  .walks {
    grid-template-columns: minmax(0, 1fr);
  }
  /* The point that is walked comes first. */
  .walks > section:last-child {
    order: -1;
  }
}
</style>
