<script setup lang="ts">
import { useDraft } from "../../composables/draft";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, reactive, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useUpkeep } from "../../api/queries";
import { useHere, useMachineId } from "../../composables/machine";
import FieldBox from "../../parts/FieldBox.vue";
import MomentBox from "../../parts/MomentBox.vue";
import FiguresNote from "../../parts/FiguresNote.vue";
import { useNote } from "../../composables/send";

/** Cleaning, oiling and service, counted in stitching hours. */
const machine = useMachineId();
const { data } = useUpkeep(machine);
const note = ref("");
const at = ref<string>();
const draft = useDraft(`upkeep ${machine.value}`, reactive({ note }));
const here = useHere();
const keep = useNote(
  (what: Schemas["UpkeepKind"]) =>
    answer(
      client.POST("/api/machines/{machine_id}/upkeep", {
        ...here(),
        body: { what, note: note.value, at: at.value },
      }),
    ),
  { then: () => draft.drop() },
);
const due = computed(() => (data.value ?? []).filter((u) => u.due));
const HEAD: Partial<Record<Schemas["UpkeepKind"], string>> = { cleaning: "Clean it", oiling: "Oil it" };
const headline = computed(() => {
  const words = due.value.map((u) => HEAD[u.what] ?? u.name);
  return words.length ? words.join(", then ").replace(/, then ./g, (c) => c.toLowerCase()) : "Nothing is due";
});
</script>

<template>
  <div v-if="data" class="station">
    <section class="panel">
      <p class="soft">Upkeep, in stitching hours</p>
      <p class="answer head" data-answer>{{ headline }}</p>
      <ul>
        <li v-for="u in data" :key="u.what">
          <span
            ><strong>{{ u.name }}</strong
            ><br /><span :class="u.due ? 'due' : 'soft'">{{ u.text }}</span></span
          >
          <svg v-if="u.after && u.hours != null" viewBox="0 0 160 20" aria-hidden="true">
            <rect width="160" height="14" y="3" class="track" />
            <rect
              :width="Math.min(160, (160 * u.hours) / (u.after * 1.3))"
              height="14"
              y="3"
              :class="u.due ? 'late' : 'on'" />
            <path :d="`M${160 / 1.3} 0v20`" class="mark" />
          </svg>
          <span v-else class="none" />
          <Button
            label="Done now"
            outlined
            :aria-label="`${u.name}: note it`"
            :disabled="keep.pending.value"
            @click="keep.go(u.what)" />
        </li>
      </ul>
    </section>
    <section class="panel stack">
      <h2>With the note</h2>
      <FieldBox label="What was found or done" :error="keep.error('note')"
        ><InputText v-model="note" data-new
      /></FieldBox>
      <MomentBox v-model="at" label="When" :error="keep.error('at')" />
      <p v-if="keep.problem.value?.lost" class="field-error" role="alert">{{ keep.problem.value.message }}</p>
      <p class="caution">
        Emery and oil only with the power off. Wipe every trace away before you sew. How often, and where the oil goes:
        the machine's manual decides.
      </p>
      <FiguresNote subject="mend" />
    </section>
  </div>
</template>

<style scoped>
.head {
  font-size: var(--type-large);
  margin-bottom: 0.6rem;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 1fr 160px auto;
  gap: 1rem;
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 0.5rem 0;
}
.due {
  color: var(--amber);
  font-weight: 620;
}
.track {
  fill: var(--linen);
  stroke: var(--steel);
}
.on {
  fill: var(--teal);
}
.late {
  fill: var(--marigold);
}
.mark {
  stroke: var(--ink);
  stroke-width: 3;
}
.caution {
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.6rem 0.9rem;
}
@media (max-width: 600px) {
  li {
    grid-template-columns: 1fr auto;
  }
  li > .none {
    display: none;
  }
  li > svg {
    grid-row: 2;
    grid-column: 1 / -1;
  }
}
</style>
