<script setup lang="ts">
import { useDraft } from "../composables/draft";
import DraftNote from "./DraftNote.vue";
import { optionalMeters, stretchUnit } from "../units";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, onUnmounted, reactive, ref, watch } from "vue";
import { answer, client } from "../api/client";
import { useRun } from "../api/queries";
import { useHere, useMachineId } from "../composables/machine";
import { duration } from "../words";
import FieldBox from "./FieldBox.vue";
import { useNote } from "../composables/send";
import { minutesTyped } from "../composables/fields";

/** The stitching clock, and time noted by hand; `main` where it is what the screen is about. */
defineProps<{ main?: boolean }>();
const machine = useMachineId();
const { data } = useRun(machine, ref(undefined));
const now = ref(Date.now());
const tick = window.setInterval(() => (now.value = Date.now()), 5_000);
onUnmounted(() => window.clearInterval(tick));
const elapsed = computed(() =>
  data.value?.clock ? Math.max(0, (now.value - Date.parse(data.value.clock.since)) / 60_000) : 0,
);
const quilt = ref("");
watch(
  () => data.value?.quilt,
  (name) => (quilt.value ||= name ?? ""),
  { immediate: true },
);
const minutes = ref("");
const meters = ref("");
const draft = useDraft(`run ${machine.value}`, reactive({ minutes, meters }));
const here = useHere();
const sewn = () => optionalMeters("meters", meters.value);
function then() {
  draft.drop();
  now.value = Date.now();
}
const start = useNote(
  () =>
    answer(
      client.POST("/api/machines/{machine_id}/clock/start", {
        ...here(),
        body: { quilt: quilt.value, kind: "clock_started" },
      }),
    ),
  { then: () => (now.value = Date.now()) },
);
const stop = useNote(
  async () => answer(client.POST("/api/machines/{machine_id}/clock/stop", { ...here(), body: { meters: sewn() } })),
  {
    says: (entry) => (entry.struck ? "Stopped at once. Nothing was noted." : `Noted: ${entry.text}.`),
    then,
  },
);
const run = useNote(
  async () =>
    answer(
      client.POST("/api/machines/{machine_id}/runs", {
        ...here(),
        body: { minutes: minutesTyped("minutes", minutes.value), quilt: quilt.value, meters: sewn() },
      }),
    ),
  { then },
);
const all = [start, stop, run];
const problem = computed(() => all.map((each) => each.problem.value).find(Boolean));
function note(one: (typeof all)[number]) {
  for (const each of all) each.reset();
  return one.go(undefined);
}
</script>

<template>
  <section v-if="data" class="panel stack" aria-live="polite">
    <template v-if="data.clock">
      <p class="soft">Stitching{{ data.clock.quilt ? ` on ${data.clock.quilt}` : "" }}</p>
      <p class="answer" :class="{ small: !main }" :data-answer="main ? '' : undefined">
        {{ duration(elapsed) }}
      </p>
      <FieldBox :label="`Stitched, ${stretchUnit()}, if the machine counts it`" :error="problem?.fields.meters"
        ><InputText v-model="meters" inputmode="decimal"
      /></FieldBox>
      <Button :data-new="main ? '' : undefined" label="Stop the clock" size="large" class="big" @click="note(stop)" />
    </template>
    <template v-else>
      <p class="soft">{{ data.quilt ? `${data.quilt}, so far` : "Nothing stitched yet" }}</p>
      <p class="answer" :class="{ small: !main }" :data-answer="main ? '' : undefined">
        {{ duration(data.quilt_minutes) }}
      </p>
      <Button :data-new="main ? '' : undefined" label="Start the clock" size="large" class="big" @click="note(start)" />
      <FieldBox label="Quilt" :error="problem?.fields.quilt"><InputText v-model="quilt" /></FieldBox>
      <div v-if="data.quilts.length" class="row" role="group" aria-label="Quilts worked on">
        <button
          v-for="q in data.quilts"
          :key="q"
          type="button"
          class="quilt"
          :aria-pressed="quilt === q"
          @click="quilt = q">
          {{ q }}
        </button>
      </div>
      <details :open="draft.state.restored">
        <summary>Or note the time by hand</summary>
        <form class="by-hand" @submit.prevent="note(run)">
          <FieldBox label="Minutes stitched" :error="problem?.fields.minutes"
            ><InputText v-model="minutes" inputmode="decimal"
          /></FieldBox>
          <FieldBox :label="`Stitched, ${stretchUnit()}, if known`" :error="problem?.fields.meters"
            ><InputText v-model="meters" inputmode="decimal"
          /></FieldBox>
          <DraftNote :shown="draft.state.restored" @drop="draft.drop()" />
          <Button type="submit" label="Note the minutes" outlined />
        </form>
      </details>
    </template>
    <p
      v-if="problem && !Object.keys(problem.fields).some((f) => ['quilt', 'minutes', 'meters'].includes(f))"
      class="field-error"
      role="alert">
      {{ problem.message }}
    </p>
  </section>
</template>

<style scoped>
.small {
  font-size: var(--type-large);
}
.big {
  min-height: 72px;
  font-size: var(--type-head);
}
.quilt {
  overflow-wrap: anywhere;
  min-height: 48px;
  border: 2px solid var(--rule);
  background: var(--panel);
  border-radius: 4px;
  padding: 0 0.9rem;
  font-weight: 600;
}
.quilt[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
/* On a phone the last three are enough: what is done at the machine stays in sight. */
@media (max-width: 600px) {
  .big {
    min-height: 56px;
  }
  .quilt:nth-child(n + 4) {
    display: none;
  }
}
.by-hand {
  display: flex;
  flex-wrap: wrap;
  gap: 0.8rem;
  align-items: end;
}
.by-hand > * {
  flex: 1 1 8rem;
}
</style>
