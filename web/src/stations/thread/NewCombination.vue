<script setup lang="ts">
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import Button from "primevue/button";
import { computed, ref } from "vue";
import { useRoute } from "vue-router";
import { answer, client, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { choices } from "../../words";
import { useHere, useMachineId } from "../../composables/machine";
import { usePutOnTop } from "../../composables/send";
import ThreadChoice from "../../parts/ThreadChoice.vue";
import ToggleRow from "../../parts/ToggleRow.vue";

/** From a thread and a sandwich to everything that goes with it, as moves from what is on the machine now. */
const machine = useMachineId();
const here = useHere();
/** A wished look may have chosen the thread already. */
const thread = ref(Number(useRoute().query.thread ?? 0) || 0);
const loft = ref<Schemas["Loft"] | null>(null);
const weave = ref<Schemas["Weave"] | null>(null);
const { data: words } = useWords();
const AS_NOW = { value: null, name: "as now" };
const lofts = computed(() => [AS_NOW, ...choices<Schemas["Loft"]>(words.value?.lofts)]);
const weaves = computed(() => [AS_NOW, ...choices<Schemas["Weave"]>(words.value?.weaves)]);
const sandwich = computed(() =>
  loft.value || weave.value ? { loft: loft.value ?? "medium", weave: weave.value ?? "ordinary" } : null,
);
const { data: plan, error } = useQuery({
  queryKey: computed(() => ["plan", machine.value, thread.value, sandwich.value]),
  queryFn: () =>
    answer(
      client.POST("/api/machines/{machine_id}/plan", {
        ...here(),
        body: { top: [thread.value], sandwich: sandwich.value },
      }),
    ),
  enabled: computed(() => thread.value > 0),
  placeholderData: keepPreviousData,
});
const put = usePutOnTop();
const onTop = computed(() => plan.value?.moves[0]?.done);
</script>

<template>
  <div class="new">
    <section class="panel stack">
      <ThreadChoice v-model="thread" label="Which thread?" />
      <ToggleRow v-model="loft" label="Batting" :options="lofts" />
      <ToggleRow v-model="weave" label="Fabric" :options="weaves" />
      <p v-if="error" class="field-error" role="alert">{{ error.message }}</p>
    </section>
    <section v-if="plan" class="panel stack" aria-live="polite">
      <p class="soft">For {{ plan.name }}, {{ plan.words }}</p>
      <p class="answer" data-answer>
        {{ plan.needle }}<small v-if="plan.through_a_needle">, top {{ plan.start }}</small>
      </p>
      <ol>
        <li v-for="m in plan.moves" :key="m.what" :class="{ done: m.done }">
          <span class="tick" aria-hidden="true">{{ m.done ? "✓" : "○" }}</span>
          <span
            ><strong>{{ m.what }}:</strong>{{ " " }}<template v-if="m.done">{{ m.after }}, as it is</template
            ><template v-else
              >{{ m.before }} → <strong>{{ m.after }}</strong></template
            ><span v-if="m.note" class="soft line">{{ m.note }}</span></span
          >
        </li>
      </ol>
      <p>{{ plan.below }}</p>
      <details>
        <summary>How to handle it</summary>
        <ul>
          <li v-for="h in plan.handling" :key="h">{{ h }}</li>
        </ul>
      </details>
      <div class="row">
        <Button v-if="!onTop" label="Put it on top" :loading="put.pending.value" @click="put.go([thread])" />
        <RouterLink :to="{ name: 'balance', params: { machine } }" class="step-link"
          >Stitch a test at Balance</RouterLink
        >
      </div>
    </section>
  </div>
</template>

<style scoped>
.new {
  display: grid;
  grid-template-columns: minmax(16rem, 1fr) minmax(0, 2fr);
  gap: 1rem;
  align-items: start;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
ol li {
  display: grid;
  grid-template-columns: 2rem 1fr;
  border-top: 1px solid var(--rule);
  padding: 0.5rem 0;
  font-size: var(--type-lead);
}
.done {
  color: var(--ink-soft);
}
.tick {
  font-weight: 700;
}
.line {
  display: block;
  font-size: var(--type-small);
}
@media (max-width: 900px) {
  .new {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
