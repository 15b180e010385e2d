<script setup lang="ts">
import { useDraft } from "../../composables/draft";
import DraftNote from "../../parts/DraftNote.vue";
import Button from "primevue/button";
import { computed, reactive, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import SymptomPicture from "../../diagrams/SymptomPicture.vue";
import { useHere, useMachineId } from "../../composables/machine";
import { day, fixed } from "../../words";
import { useSend } from "../../composables/send";

/** What is seen, picked from drawings, and what changed, as the records know it and the hand corrects it. */
const props = defineProps<{ station: Schemas["MendStation"] }>();
const emit = defineEmits<{ done: [] }>();
const incident = computed(() => props.station.incident);
const before = computed(() => (incident.value?.payload?.kind === "incident" ? incident.value.payload : null));
const told = ref("");
const picked = ref<string[]>(before.value ? [...before.value.symptoms] : []);
/** It looks like none of the pictures: the rest of what is known has to do. */
const none = ref(!!before.value && !before.value.symptoms.length);
function pickNone() {
  none.value = !none.value;
  if (none.value) picked.value = [];
  told.value = none.value ? "Then we go by what changed and what your records know." : "";
}
// What is known of an open trouble stands in the log; what is picked for a new one is a draft.
const draft = incident.value ? null : useDraft(`seen ${useMachineId().value}`, reactive({ picked }));
const changed = reactive<Record<string, boolean>>({});
watch(
  () => props.station.changes,
  (changes) => {
    for (const c of changes) changed[c.id] ??= c.changed;
  },
  { immediate: true },
);
const recorded = computed(() => props.station.changes.filter((c) => c.recorded));
const others = computed(() => props.station.changes.filter((c) => !c.recorded));
const differs = computed(() => recorded.value.filter((c) => c.changed));
const same = computed(() => recorded.value.filter((c) => !c.changed));

function pick(symptom: Schemas["FindingItem"]) {
  told.value = "";
  none.value = false;
  if (picked.value.includes(symptom.id)) picked.value = picked.value.filter((id) => id !== symptom.id);
  else {
    const out = props.station.symptoms.filter((s) => symptom.not_with.includes(s.id) && picked.value.includes(s.id));
    if (out.length) told.value = `${symptom.name}, so not: ${out.map((s) => s.name.toLowerCase()).join(", ")}.`;
    picked.value = [...picked.value.filter((id) => !symptom.not_with.includes(id)), symptom.id];
  }
}
const here = useHere();
const save = useSend(
  () => {
    const body = {
      symptoms: picked.value,
      none: none.value,
      changed: props.station.changes.filter((c) => changed[c.id]).map((c) => c.id),
      // What the records see and nobody corrects did not change; of the rest nothing is known.
      unchanged: recorded.value.filter((c) => !changed[c.id]).map((c) => c.id),
      note: before.value?.note ?? "",
    };
    return answer(
      incident.value
        ? client.PUT("/api/incidents/{incident_id}", { params: { path: { incident_id: incident.value.id } }, body })
        : client.POST("/api/machines/{machine_id}/incidents", { ...here(), body }),
    );
  },
  {
    then: () => {
      draft?.drop();
      emit("done");
    },
  },
);
/** “None of these” takes what the last row has left, in five columns and in three: nothing stands alone. */
const rest = computed(() => {
  const left = (columns: number) => columns - (props.station.symptoms.length % columns);
  return { "--rest-of-5": left(5), "--rest-of-3": left(3) };
});
</script>

<template>
  <form class="seen" @submit.prevent="save.go()">
    <section class="panel">
      <DraftNote :shown="!!draft?.state.restored" @drop="draft?.drop()" />
      <div class="ahead">
        <p class="answer ask">What do you see?</p>
        <Button
          type="submit"
          size="large"
          :label="incident ? 'Go on with this' : 'Find the cause'"
          :disabled="!picked.length && !none"
          :loading="save.pending.value" />
      </div>
      <div class="pictures" :style="rest" role="group" aria-label="What do you see?">
        <button
          v-for="s in station.symptoms"
          :key="s.id"
          type="button"
          :aria-pressed="picked.includes(s.id)"
          @click="pick(s)">
          <SymptomPicture :symptom="s.id" />
          <span>{{ s.name }}</span>
        </button>
        <button type="button" class="none" :aria-pressed="none" @click="pickNone">
          <span>None of these</span>
        </button>
      </div>
      <p class="soft" role="status">{{ told || (picked.length ? "" : "Pick one picture or more.") }}</p>
    </section>
    <div class="side">
      <section class="panel stack">
        <h2>What changed since it last ran well?</h2>
        <p v-if="station.last_good" class="soft">
          {{ day(station.last_good.at) }}. {{ station.last_good.text }}. {{ fixed(station.last_good.hours, 1) }} h
          stitched since.
        </p>
        <p v-else class="soft">No balanced test line is on record yet, so the records can't tell. Say what changed.</p>
        <template v-if="differs.length">
          <label v-for="c in differs" :key="c.id" class="change big">
            <input v-model="changed[c.id]" type="checkbox" />
            <span
              ><strong>{{ c.name }}</strong
              ><span v-if="c.before || c.after" class="soft was"
                >{{ c.before || "–" }} → {{ c.after || "–" }}</span
              ></span
            >
          </label>
        </template>
        <p v-else-if="station.last_good">Your records show no change.</p>
        <details>
          <summary>Something else changed</summary>
          <div class="more">
            <label v-for="c in [...others, ...same]" :key="c.id" class="change">
              <input v-model="changed[c.id]" type="checkbox" /><span>{{ c.name }}</span>
            </label>
          </div>
        </details>
        <p v-if="save.problem.value" class="field-error" role="alert">{{ save.problem.value.message }}</p>
        <Button v-if="incident" type="button" label="Back to the check" text @click="emit('done')" />
      </section>
    </div>
  </form>
</template>

<style scoped>
.pictures :deep(svg) {
  height: clamp(62px, 7vw, 88px);
}
.seen {
  display: grid;
  grid-template-columns: minmax(0, 1.9fr) minmax(0, 1fr);
  gap: 1.25rem;
  padding: 1rem 1.25rem;
  max-width: 1500px;
  margin: 0 auto;
  align-items: start;
}
/* What was picked is looked into from wherever one is in the pictures. */
.ahead {
  position: sticky;
  top: 7.4rem;
  z-index: 2;
  background: var(--panel);
  padding-block: 0.3rem;
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 1rem;
  margin-bottom: 0.3rem;
}
.ask {
  font-size: var(--type-large);
}
.pictures {
  display: grid;
  grid-template-columns: repeat(5, minmax(0, 1fr));
  gap: 0.1rem 0.3rem;
}
.pictures button {
  display: grid;
  align-content: start;
  gap: 0.2rem;
  padding: 0.25rem 0.35rem;
  border: 3px solid transparent;
  border-radius: 4px;
  background: none;
  text-align: left;
  font-size: var(--type-small);
  line-height: 1.12;
  font-weight: 560;
  min-height: 106px;
}
.pictures button[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
  font-weight: 700;
}
.pictures .none {
  grid-column-end: span var(--rest-of-5);
  align-content: center;
  justify-content: center;
  border: 2px dashed var(--rule);
}
.change {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr);
  gap: 0.6rem;
  align-items: center;
  min-height: 44px;
  line-height: 1.25;
}
.change input {
  width: 24px;
  height: 24px;
  accent-color: var(--marigold);
}
.was {
  margin-left: 0.6rem;
}
.change.big {
  border-top: 1px solid var(--rule);
  margin-top: -0.5rem;
  padding-top: 0.3rem;
}
.more {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 0.6rem;
  font-size: var(--type-small);
}
@media (max-width: 900px) {
  .seen {
    grid-template-columns: 1fr;
    padding: 0.9rem;
  }
  .ahead {
    top: 6.2rem;
  }
}
@media (max-width: 560px) {
  .pictures {
    grid-template-columns: repeat(3, minmax(0, 1fr));
  }
  .pictures .none {
    grid-column-end: span var(--rest-of-3);
  }
}
/* Zoomed in, or on a screen that is lying, the head takes no room beside it. */
@media (max-height: 500px) {
  .ahead {
    position: static;
  }
}
</style>
