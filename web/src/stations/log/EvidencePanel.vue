<script setup lang="ts">
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import RateBars from "../../diagrams/RateBars.vue";
import SurvivalCurve from "../../diagrams/SurvivalCurve.vue";
import { useHere, useMachineId } from "../../composables/machine";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { onPaper, stretch } from "../../units";
import CompareForm from "./CompareForm.vue";
import { counted } from "../../words";

/** What your records say: of what is on the machine now first, then rates, needle lives, and two kinds side by side. */
const machine = useMachineId();
const here = useHere();
const { data, error } = useQuery({
  queryKey: computed(() => ["evidence", machine.value]),
  queryFn: () => answer(client.GET("/api/machines/{machine_id}/evidence", here())),
});
const first = computed(() => data.value?.statements[0]);
const rest = computed(() => data.value?.statements.slice(1) ?? []);
const by = ref<Schemas["Factor"]>("top_thread");
const per = ref<Schemas["Per"]>("hour");
const { data: asked } = useQuery({
  queryKey: computed(() => ["evidence", "rates", machine.value, by.value, per.value]),
  queryFn: () =>
    answer(
      client.GET("/api/machines/{machine_id}/evidence/rates", {
        params: { path: { machine_id: machine.value }, query: { by: by.value, per: per.value } },
      }),
    ),
  placeholderData: keepPreviousData,
});
const rates = computed(() => asked.value ?? data.value?.rates);
const most = computed(() => Math.max(0.01, ...(rates.value?.lines.map((r) => r.rate.likely_high) ?? [])));
/** What the right end of the bars stands for. */
const atEnd = computed(() => {
  if (per.value === "kilometer") return `${most.value.toPrecision(2)} breaks in ${stretch(1000)}`;
  const minutes = Math.round(60 / most.value);
  const hours = Math.round(1 / most.value);
  if (minutes < 60) return `once every ${counted(minutes, "minute")}`;
  return hours > 1 ? `once every ${hours} hours` : "once an hour";
});
const FEW = 3;
const parts = computed(() => [rates.value?.lines.slice(0, FEW) ?? [], rates.value?.lines.slice(FEW) ?? []]);
const chosen = ref("");
const life = computed(() => data.value?.lives.find((l) => l.kind === chosen.value) ?? data.value?.lives[0]);
const longest = computed(() => Math.max(life.value?.mean?.within_h ?? 0, life.value?.curve.at(-1)?.hours ?? 0, 1));
const kinds = computed(() => (data.value?.lives ?? []).map((l) => ({ value: l.kind, name: l.kind })));
const shownKind = computed({ get: () => life.value?.kind ?? "", set: (kind) => (chosen.value = kind) });
function about(statement: Schemas["Statement"]) {
  document.getElementById(statement.about)?.scrollIntoView({ behavior: "smooth", block: "start" });
}
</script>

<template>
  <p v-if="error" class="panel field-error" role="alert">{{ error.message }}</p>
  <div v-else-if="data" class="station evidence">
    <div>
      <section class="panel stack" aria-live="polite">
        <p class="soft">
          From {{ data.hours.toFixed(0) }} h on {{ counted(data.quilts, "quilt") }},
          {{ counted(data.breaks, "break") }} and
          {{ counted(data.needles, "needle") }}
        </p>
        <template v-if="first">
          <p class="answer ask said" data-answer>{{ first.text }}</p>
          <p>{{ first.more }}</p>
          <button type="button" class="open" @click="about(first)">What it rests on</button>
        </template>
        <p v-else class="answer ask" data-answer>Nothing yet for this combination</p>
        <p v-if="!first" class="verdict">
          Note stitching time and breaks at Run, and needles as they go in and out. The rest is worked out here.
        </p>
        <div v-for="(s, n) in rest" :key="n" class="also">
          <p class="verdict">{{ s.text }}</p>
          <p>{{ s.more }}</p>
          <button type="button" class="open" @click="about(s)">What it rests on</button>
        </div>
        <a class="open" :href="`/api/machines/${machine}/evidence/summary.pdf?${onPaper()}`">Print it all</a>
      </section>
      <section id="comparisons" class="panel stack">
        <h2>Two kinds side by side</h2>
        <CompareForm :page="data" />
        <details v-if="data.comparisons.length">
          <summary>What can be compared: {{ data.comparisons.length }}</summary>
          <p v-for="(c, n) in data.comparisons" :key="n" :class="{ settled: c.compared.said }">{{ c.text }}</p>
        </details>
      </section>
    </div>
    <div>
      <section id="rates" class="panel stack">
        <h2>How often thread breaks</h2>
        <div class="by">
          <ChoiceBox v-model="by" label="By" :options="data.factors" />
          <ToggleRow
            v-model="per"
            label="Breaks"
            :options="[
              { value: 'hour' as const, name: 'by the hour' },
              { value: 'kilometer' as const, name: 'by length' },
            ]" />
        </div>
        <p v-if="rates?.lines.length" class="axis soft" aria-hidden="true">
          <span>never</span><span>{{ atEnd }}</span>
        </p>
        <component
          :is="n ? 'details' : 'div'"
          v-for="(lines, n) in parts.filter((part) => part.length)"
          :key="n"
          class="stack">
          <summary v-if="n">{{ lines.length }} more</summary>
          <div v-for="r in lines" :key="r.level" class="rate">
            <strong>{{ r.level }}</strong>
            <RateBars :rate="r.rate" :most="most" />
            <span class="soft">{{ r.text }}{{ " " }}</span>
            <RouterLink
              v-if="r.records.length && rates?.by === 'top_thread'"
              class="open"
              :to="{
                name: 'log',
                params: { machine },
                query: { kind: 'incident', words: r.level.replace(/ \(.*/, '') },
              }"
              >{{ counted(r.rate.breaks, "break") }}</RouterLink
            >
          </div>
        </component>
        <details v-if="rates?.lines.length">
          <summary>Why</summary>
          <p class="soft">{{ data.spread_text }} The bars show what is most likely: 8 times in 10.</p>
        </details>
        <p v-if="rates?.unknown" class="soft">{{ rates.unknown }}</p>
      </section>
      <section id="lives" class="panel stack">
        <h2>How long needles last</h2>
        <template v-if="life">
          <ChoiceBox v-model="shownKind" label="Needles" :options="kinds" />
          <SurvivalCurve
            :curve="life.curve"
            :until="longest"
            :change-at="life.change?.hours"
            :words="`Share of ${life.kind} needles without trouble by the hour: ${life.text}`" />
          <p>{{ life.text }}</p>
        </template>
        <p v-else class="soft">No needle with stitching time is on record.</p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.axis {
  display: flex;
  justify-content: space-between;
  font-size: var(--type-small);
}
.by {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(11rem, 1fr));
  gap: 0.7rem;
}
.said {
  font-size: var(--type-large);
  line-height: 1.3;
}
.also {
  border-top: 1px solid var(--rule);
  padding-top: 0.6rem;
}
.open {
  justify-self: start;
  display: inline-grid;
  align-content: center;
  border: 0;
  background: none;
  padding: 0;
  min-height: 44px;
  text-decoration: underline;
  text-underline-offset: 4px;
  color: inherit;
  font: inherit;
}
.rate {
  border-top: 1px solid var(--rule);
  padding-top: 0.5rem;
}
.settled {
  border-top: 3px solid var(--marigold);
  padding-top: 0.5rem;
}
</style>
