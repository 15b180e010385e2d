<script setup lang="ts">
import Button from "primevue/button";
import { useTroubles } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import type { Schemas } from "../../api/client";
import { day, percent, time } from "../../words";
import { useStrikeRecord } from "../../composables/send";
import OwnSays from "../../parts/OwnSays.vue";

/** Troubles of this machine with their paths, and what the workshop's own outcomes have taught. */
const machine = useMachineId();
const { data } = useTroubles(machine);
const SAYS: Record<string, string> = { cured: "cured", technician: "with the technician", left: "left as it is" };
type Trouble = Schemas["PastTrouble"];
function ended(t: Trouble) {
  if (!t.outcome) return "still open";
  if (t.cleared) return "sews well again";
  return t.outcome === "cured" && !t.tested ? "mended, not tested" : SAYS[t.outcome];
}
const strike = useStrikeRecord();
const out = (id: number) => strike.out(id, "Deleted. It no longer counts.");
</script>

<template>
  <div v-if="data" class="station">
    <section class="panel">
      <h2>Troubles of this machine, newest first</h2>
      <p class="soft">Breaks you sewed on after are counted in your records, not listed here.</p>
      <p v-if="!data.past.length">None on record.</p>
      <details v-for="t in data.past" :key="t.id" class="trouble">
        <summary>
          <span class="line">
            <span class="soft">{{ day(t.at) }}</span>
            <strong>{{ t.cause || (t.cleared ? "no cause found" : t.outcome ? SAYS[t.outcome] : "open") }}</strong>
            <span>{{ t.words }}</span>
          </span>
          <span :class="t.outcome === 'cured' && t.tested ? 'good' : 'soft'">{{ ended(t) }}</span>
        </summary>
        <ol>
          <li v-for="s in t.steps" :key="s.id">
            <span class="soft">{{ time(s.at) }}</span> {{ s.text }}
          </li>
        </ol>
        <Button
          label="Delete it"
          text
          severity="secondary"
          :aria-label="`Delete the trouble of ${day(t.at)}`"
          @click="out(t.id)" />
      </details>
    </section>
    <div>
      <OwnSays station="mend" />
      <section class="panel stack">
        <p class="soft">What's on the machine now</p>
        <p v-if="data.rate.per_hour != null" class="answer" data-answer>
          {{ data.rate.breaks }} <small>{{ data.rate.breaks === 1 ? "break" : "breaks" }}</small>
        </p>
        <p :class="data.rate.per_hour != null ? 'verdict' : ''">{{ data.rate.text }}</p>
      </section>
      <section class="panel stack">
        <h2>What your own mended troubles change</h2>
        <p class="soft">
          How often each is the cause, by common practice and our estimates. Your own troubles are counted in. A deleted
          trouble no longer counts.
        </p>
        <table v-if="data.own.length">
          <thead>
            <tr>
              <th>Cause</th>
              <th>yours</th>
              <th>usual</th>
              <th>here</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in data.own" :key="c.cause">
              <td>{{ c.name }}</td>
              <td>{{ c.times }}</td>
              <td>{{ percent(c.page_share) }}</td>
              <td class="here">{{ percent(c.own_share) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else>None yet.</p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.trouble {
  border-top: 1px solid var(--rule);
}
.trouble summary {
  justify-content: space-between;
  font-weight: 500;
}
.line {
  flex: 1;
  display: grid;
  grid-template-columns: 6.5rem 1fr;
  gap: 0 0.8rem;
  padding: 0.4rem 0;
  line-height: 1.25;
}
.line span:last-child {
  grid-column: 2;
  color: var(--ink-soft);
}
.good {
  color: var(--teal);
  font-weight: 620;
}
ol {
  margin: 0 0 0.4rem;
  padding-left: 3.4rem;
  display: grid;
  gap: 0.2rem;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: right;
  padding: 0.3rem 0 0.3rem 0.8rem;
  border-top: 1px solid var(--rule);
}
th:first-child,
td:first-child {
  text-align: left;
  padding-left: 0;
}
.here {
  font-weight: 720;
}
@media (max-width: 500px) {
  .line {
    grid-template-columns: 1fr;
  }
  .line span:last-child {
    grid-column: 1;
  }
  .trouble summary {
    flex-wrap: wrap;
  }
}
</style>
