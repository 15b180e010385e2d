<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import Button from "primevue/button";
import { computed } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useLine } from "../../api/queries";
import SideBySide from "../../diagrams/SideBySide.vue";
import { useHere, useMachineId } from "../../composables/machine";
import ReasonList from "../../parts/ReasonList.vue";
import { fixed, percent } from "../../words";

/** The chosen threads: drawn side by side to scale, and what they make together through one needle. */
const props = defineProps<{ threads: Schemas["ThreadItem"][] }>();
const emit = defineEmits<{ clear: []; top: []; work: [thread: Schemas["ThreadItem"]] }>();

const machine = useMachineId();
const here = useHere();
const { data: line } = useLine(machine);
const ids = computed(() => props.threads.map((t) => t.id));
const bobbin = computed(() => line.value?.setup.bobbin?.id ?? null);
const { data: together, error } = useQuery({
  queryKey: ["together", machine, ids, bobbin],
  queryFn: () =>
    answer(
      client.POST("/api/machines/{machine_id}/together", {
        ...here(),
        body: { top: ids.value, bobbin: bobbin.value },
      }),
    ),
  enabled: computed(() => ids.value.length > 0 && ids.value.length <= 4),
  retry: false,
});
const drawn = computed(() =>
  props.threads.map((t) => ({
    name: t.spec.name,
    words: t.words,
    color: t.spec.color ?? "#888888",
    mm: t.diameter_mm,
  })),
);
const many = computed(() => props.threads.length > 1);
</script>

<template>
  <section class="panel tray" aria-label="Chosen threads">
    <div>
      <h2>Side by side, to scale</h2>
      <SideBySide :threads="drawn" />
    </div>
    <div class="stack">
      <h2>{{ many ? "Together through one needle" : "Through the needle" }}</h2>
      <template v-if="together && threads.length <= 4">
        <p class="answer">
          {{ together.needle.metric }}/{{ together.needle.american }} <small>{{ together.needle.point }}</small>
        </p>
        <p class="verdict">
          {{ fixed(together.tex, 1) }} tex, {{ fixed(together.diameter_mm, 2) }} mm, groove
          {{ percent(together.needle.nominal_fill) }} full · {{ together.holes }} guide hole{{
            together.holes > 1 ? "s" : ""
          }}
        </p>
        <p>{{ together.bobbin.text }}</p>
        <p v-if="together.bobbin.other" class="soft">Other quilters: {{ together.bobbin.other }}</p>
        <details>
          <summary>Why</summary>
          <ReasonList :reasons="together.reasons" />
        </details>
      </template>
      <p v-else-if="threads.length > 4" class="field-error">Up to four threads go through one needle.</p>
      <p v-else-if="error" class="field-error">{{ error.message }}</p>
      <div class="row">
        <Button
          v-if="threads.length <= 4"
          :label="many ? `Put these ${threads.length} on top` : 'Put it on top'"
          @click="emit('top')" />
        <Button v-if="!many && threads[0]" label="In the bobbin, showing" outlined @click="emit('work', threads[0])" />
        <Button label="Choose none" text @click="emit('clear')" />
      </div>
    </div>
  </section>
</template>

<style scoped>
.tray {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 1.5rem;
  border-top-color: var(--marigold);
}
.answer {
  font-size: var(--type-large);
}
@media (max-width: 900px) {
  .tray {
    grid-template-columns: 1fr;
  }
}
</style>
