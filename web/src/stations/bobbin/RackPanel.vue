<script setup lang="ts">
import { printed, pull, pullFigure, pulls, forceUnit } from "../../units";
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import Button from "primevue/button";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useRack } from "../../api/queries";
import ChartOfCase from "../../diagrams/ChartOfCase.vue";
import { useHas } from "../../composables/features";
import { useHere, useMachineId } from "../../composables/machine";
import { day, percent } from "../../words";
import { useNote, useStriking } from "../../composables/send";
import BobbinForm from "./BobbinForm.vue";
import CaseForm from "./CaseForm.vue";

defineProps<{ station: Schemas["BobbinStation"] }>();
const machine = useMachineId();
const has = useHas();
const { data } = useRack(machine);

const picked = ref(0);
const chosen = computed(() =>
  has("case") ? (data.value?.cases.find((c) => c.id === picked.value) ?? data.value?.cases[0]) : undefined,
);
const { data: charted, isError: noChart } = useQuery({
  queryKey: computed(() => ["chart", chosen.value?.id ?? 0]),
  queryFn: () =>
    answer(client.GET("/api/cases/{case_id}/chart", { params: { path: { case_id: chosen.value?.id ?? 0 } } })),
  enabled: computed(() => !!chosen.value),
  placeholderData: keepPreviousData,
});
/** Drawn once the chart is there, or will not come: what follows it stays where it is. */
const ready = computed(() => data.value && (!chosen.value || charted.value || noChart.value));

const here = useHere();
const strikes = {
  case: useStriking(
    (id, anyway) =>
      answer(client.POST("/api/cases/{case_id}/strike", { params: { path: { case_id: id }, query: { anyway } } })),
    (id) => answer(client.POST("/api/cases/{case_id}/restore", { params: { path: { case_id: id } } })),
  ),
  bobbin: useStriking(
    (id, anyway) =>
      answer(
        client.POST("/api/bobbins/{bobbin_id}/strike", { params: { path: { bobbin_id: id }, query: { anyway } } }),
      ),
    (id) => answer(client.POST("/api/bobbins/{bobbin_id}/restore", { params: { path: { bobbin_id: id } } })),
  ),
};
const strikeOut = (kind: keyof typeof strikes, id: number) => strikes[kind].out(id, `The ${kind} is deleted.`);
const load = useNote(
  (b: Schemas["BobbinItem"]) =>
    answer(
      client.POST("/api/machines/{machine_id}/bobbin", {
        ...here(),
        body: { bobbin: b.spec.thread, item: b.id, case: chosen.value?.id, fill: b.spec.fill },
      }),
    ),
  { says: (entry) => `${entry.text}. ${has("gauge") ? "Read it." : has("case") ? "Feel it." : "Stitch a line."}` },
);
/** What loads a bobbin: something may speak against it in this case. */
const into = (b: Schemas["BobbinItem"]) =>
  `${chosen.value && b.against[chosen.value.id] ? "Still into" : "Into"} ${chosen.value?.spec.label ?? "the machine"}`;
const putBack = useNote((id: number) =>
  answer(client.POST("/api/machines/{machine_id}/bobbin/put-back", { ...here(), body: { case: id } })),
);
const sound = useNote((body: Schemas["Mark"]) =>
  answer(client.POST("/api/machines/{machine_id}/marks", { ...here(), body })),
);
</script>

<template>
  <div v-if="ready" class="station">
    <div>
      <section v-if="has('case')" class="panel">
        <h2>Cases</h2>
        <p v-if="data?.cases.length === 0" class="verdict">
          No case noted. Give each a letter, and it learns how its screw answers.
        </p>
        <table v-else>
          <tbody>
            <tr v-for="c in data?.cases" :key="c.id" :class="{ on: c.id === chosen?.id }">
              <td>
                <button type="button" class="pick" :aria-pressed="c.id === chosen?.id" @click="picked = c.id">
                  {{ c.spec.label }}
                </button>
              </td>
              <td>
                <strong>{{ c.spec.kept_for || "for anything" }}</strong>{{ " " }}
                <span class="soft"
                  >{{ c.words
                  }}<template v-if="c.spec.target"
                    >, own range {{ pulls(c.spec.target.low, c.spec.target.high) }}</template
                  ></span
                >
                <span class="soft line"
                  >{{ c.holds ? `${c.in_machine ? "in the machine with" : "loaded with"} ${c.holds} · ` : "" }}screw
                  {{
                    c.response.turns
                      ? `learned from ${c.response.turns} turn${c.response.turns > 1 ? "s" : ""}: ${percent(c.response.mean)} a minute`
                      : "not learned yet"
                  }}</span
                >
                <span v-if="c.fault" class="fault"
                  >✕ {{ c.fault }}
                  <button type="button" @click="sound.go({ part: 'case', id: c.id, fault: '' })">
                    sound again
                  </button></span
                >
              </td>
              <td class="num">
                <template v-if="c.last_mn"
                  ><strong class="mn">{{ pullFigure(c.last_mn) }}</strong> {{ forceUnit()
                  }}<span class="soft line">{{ c.last_at ? day(c.last_at) : "" }}</span></template
                >
              </td>
              <td class="links">
                <Button
                  v-if="c.can_go_back"
                  label="It's back in"
                  outlined
                  :aria-label="`Case ${c.spec.label} is in again`"
                  @click="putBack.go(c.id)" />
                <a
                  :href="`/api/cases/${c.id}/label.pdf?${printed()}`"
                  target="_blank"
                  :aria-label="`Label of case ${c.spec.label}, PDF`"
                  >Label</a
                >
                <a
                  :href="`/api/cases/${c.id}/label.svg?${printed()}`"
                  target="_blank"
                  :aria-label="`SVG: label of case ${c.spec.label}`"
                  >SVG</a
                >
                <Button
                  label="Delete"
                  text
                  severity="secondary"
                  :aria-label="`Delete case ${c.spec.label}`"
                  @click="strikeOut('case', c.id)" />
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="chosen && charted" class="panel stack">
        <h2>Case {{ chosen.spec.label }} since its screw was turned</h2>
        <p v-if="charted.says" class="verdict">{{ charted.says }}</p>
        <ChartOfCase v-if="charted.chart.points.length > 1" :chart="charted.chart" />
        <p v-for="s in charted.chart.says" :key="s">{{ s }}</p>
        <p v-for="c in charted.conditions" :key="c.what">{{ c.text }}</p>
        <p class="soft">
          Means and ranges of the sessions (Shewhart, factors from ASTM E2587).<template
            v-if="charted.chart.within != null && charted.chart.between != null">
            Limits from both: {{ pull(charted.chart.within) }} from pull to pull, {{ pull(charted.chart.between) }} from
            sitting to sitting.</template
          >
        </p>
      </section>
      <section class="panel">
        <h2>Bobbins</h2>
        <table v-if="data?.bobbins.length">
          <tbody>
            <tr v-for="b in data.bobbins" :key="b.id">
              <td>
                <svg viewBox="0 0 36 36" width="36" height="36" aria-hidden="true">
                  <circle cx="18" cy="18" r="16" :fill="b.color" class="swatch" />
                  <circle cx="18" cy="18" r="5" class="core" />
                </svg>
              </td>
              <td>
                <strong>{{ b.spec.label }}</strong> {{ b.thread }}
                <span class="soft line"
                  >class {{ b.spec.bobbin_class }}, {{ b.spec.winding?.replace("_", "-") }},
                  {{ percent(b.spec.fill ?? 1) }} full</span
                >
                <span v-if="chosen && b.against[chosen.id]" class="against">{{ b.against[chosen.id] }}</span>
                <span v-if="b.fault" class="fault"
                  >✕ {{ b.fault }}
                  <button type="button" @click="sound.go({ part: 'bobbin', id: b.id, fault: '' })">
                    sound again
                  </button></span
                >
              </td>
              <td class="links">
                <Button
                  v-if="chosen || has('drop_in')"
                  :label="into(b)"
                  outlined
                  :aria-label="`${into(b)}: ${b.spec.label}`"
                  @click="load.go(b)" />
                <a
                  :href="`/api/bobbins/${b.id}/card.pdf?${printed()}`"
                  target="_blank"
                  :aria-label="`Card of bobbin ${b.spec.label}, PDF`"
                  >Card</a
                >
                <Button
                  label="Delete"
                  text
                  severity="secondary"
                  :aria-label="`Delete bobbin ${b.spec.label}`"
                  @click="strikeOut('bobbin', b.id)" />
              </td>
            </tr>
          </tbody>
        </table>
        <p v-else class="soft">No bobbin noted.</p>
        <p v-if="load.problem.value" class="field-error" role="alert">{{ load.problem.value.message }}</p>
      </section>
    </div>
    <div>
      <section v-if="has('case')" class="panel">
        <h2>Add a case</h2>
        <CaseForm @made="picked = $event" />
      </section>
      <section class="panel">
        <h2>Add a bobbin</h2>
        <BobbinForm @undo="strikeOut('bobbin', $event)" />
      </section>
    </div>
  </div>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
td {
  padding: 0.45rem 0.5rem 0.45rem 0;
  border-top: 1px solid var(--rule);
}
.on td {
  background: var(--amber-wash);
}
.pick {
  min-width: 52px;
  min-height: 52px;
  border: 3px solid var(--rule);
  border-radius: 50%;
  background: var(--panel);
  font-size: var(--type-head);
  font-weight: 700;
}
.pick[aria-pressed="true"] {
  border-color: var(--marigold);
}
.line {
  display: block;
  font-size: var(--type-small);
}
.num {
  text-align: right;
  white-space: nowrap;
}
.mn {
  font-size: var(--type-head);
}
.links {
  text-align: right;
  white-space: nowrap;
}
.links a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  min-width: 44px;
  padding: 0 0.5rem;
  color: var(--ink);
}
.fault {
  color: var(--vermilion);
  font-weight: 650;
  display: block;
}
.against {
  display: block;
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.2rem 0.5rem;
}
.fault button {
  min-height: 44px;
  border: 0;
  background: none;
  text-decoration: underline;
  color: var(--ink);
}
.core {
  fill: var(--panel);
  stroke: var(--ink-soft);
}
.pairs {
  margin-top: 0.6rem;
}
@media (max-width: 560px) {
  tr {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr);
    align-items: center;
    column-gap: 0.6rem;
    padding-block: 0.4rem;
    border-top: 1px solid var(--rule);
  }
  td {
    border-top: 0;
    padding-block: 0.2rem;
  }
  td:nth-child(n + 3) {
    grid-column: 1 / -1;
  }
  .links {
    white-space: normal;
  }
  tr.on {
    background: var(--amber-wash);
  }
}
</style>
