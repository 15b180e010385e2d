<script setup lang="ts">
import InTurn from "../../parts/InTurn.vue";
import { NO_COLOR } from "../../drawn";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import { useRoute } from "vue-router";
import { type Schemas } from "../../api/client";
import { useLog, useQuilts, useUnreadable, useWords } from "../../api/queries";
import { refDebounced } from "../../composables/debounce";
import { useMachineId } from "../../composables/machine";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FieldBox from "../../parts/FieldBox.vue";
import { day, moment, time } from "../../words";
import CorrectionDialog from "./CorrectionDialog.vue";
import KindMark from "./KindMark.vue";
import { useStrikeRecord } from "../../composables/send";
import AsTable from "../../parts/AsTable.vue";

type Entry = Schemas["LogEntry"];

const machine = useMachineId();
const route = useRoute();
const PAGE = 40;
/** A page of a quilt may send here. */
const quilt = ref(String(route.query.quilt ?? ""));
const allMachines = ref(!!quilt.value || !!route.query.words);
const kind = ref(String(route.query.kind ?? "all"));
const text = ref(String(route.query.words ?? ""));
const words = refDebounced(text, 200);
const [since, until] = [ref(""), ref("")];
const DAY_MS = 86_400_000;
/** The first moment of a day here, or of the day after it. */
const begins = (day: string, after = 0) =>
  day ? new Date(new Date(`${day}T00:00`).getTime() + after * DAY_MS).toISOString() : undefined;
const filter = computed(() => ({
  machine: allMachines.value ? undefined : machine.value,
  kind: kind.value === "all" ? undefined : [kind.value],
  quilt: quilt.value || undefined,
  since: begins(since.value),
  until: begins(until.value, 1),
  words: words.value,
  limit: PAGE,
}));
const narrowed = computed(
  () => kind.value !== "all" || !!quilt.value || !!since.value || !!until.value || !!words.value,
);
function showAll() {
  [kind.value, quilt.value, text.value, since.value, until.value] = ["all", "", "", "", ""];
}
const { data: quilts } = useQuilts();
const quiltNames = computed(() => [
  { value: "", name: "every quilt" },
  ...(quilts.value ?? []).map((q) => ({ value: q.name, name: q.name })),
]);
const { data: names } = useWords();
const kinds = computed(() => [{ value: "all", name: "every kind" }, ...(names.value?.record_kinds ?? [])]);
const { data, fetchNextPage, hasNextPage, isFetchingNextPage } = useLog(filter);
const entries = computed(() => data.value?.pages.flatMap((page) => page.entries));
// Words are looked for a stretch of the log at a time: it goes on until a page is full.
watch([entries, hasNextPage], ([found, more]) => {
  const pages = data.value?.pages.length ?? 0;
  if (words.value && more && (found?.length ?? 0) < PAGE * Math.max(1, asked.value) && pages < MOST_STRETCHES)
    void fetchNextPage();
});
const MOST_STRETCHES = 60;
const asked = ref(1);
function earlier() {
  asked.value += 1;
  void fetchNextPage();
}
watch(filter, () => (asked.value = 1));
const { data: unreadable } = useUnreadable();
const correcting = ref<Entry | null>(null);

const mark = useStrikeRecord();
const days = computed(() => {
  const groups: { day: string; entries: Entry[] }[] = [];
  for (const entry of entries.value ?? []) {
    const name = day(entry.at);
    if (groups.at(-1)?.day !== name) groups.push({ day: name, entries: [] });
    groups.at(-1)?.entries.push(entry);
  }
  return groups;
});
/** The thread that was on top then, for the stitches down the margin. */
const threadOf = (e?: Entry) => ({ "--sewn": e?.setup.top?.[0]?.color ?? NO_COLOR });
const PLACES: Record<string, string> = {
  machine: "Machine",
  thread: "Thread",
  needle_packet: "Packet of needles",
  bobbin_case: "Case",
  bobbin: "Bobbin",
  record: "Record",
};
const ACTIONS: Record<string, string> = { corrected: "corrected", struck: "deleted", restored: "restored" };
</script>

<template>
  <div class="log">
    <div class="row bar">
      <InputText
        v-model="text"
        data-search
        class="search"
        placeholder="Search: thread, quilt, what was done"
        aria-label="Search the log" />
      <button
        type="button"
        class="toggle"
        :aria-pressed="kind === 'recipe'"
        @click="kind = kind === 'recipe' ? 'all' : 'recipe'">
        recipes only
      </button>
      <button type="button" class="toggle" :aria-pressed="allMachines" @click="allMachines = !allMachines">
        all machines
      </button>
    </div>
    <details class="panel narrow" :open="narrowed && !words">
      <summary>By quilt, kind and day</summary>
      <div class="fields">
        <ChoiceBox v-model="quilt" label="Quilt" :options="quiltNames" />
        <ChoiceBox v-model="kind" label="Kind" :options="kinds" />
        <FieldBox label="From"><input v-model="since" type="date" class="plain-input" /></FieldBox>
        <FieldBox label="To"><input v-model="until" type="date" class="plain-input" /></FieldBox>
      </div>
    </details>
    <p v-if="entries?.length === 0 && !hasNextPage" class="panel verdict">
      <template v-if="narrowed">
        {{
          kind === "recipe" && !words && !quilt
            ? "No recipes yet. When a stitch is balanced, save it as a recipe at Balance."
            : "Nothing in the log matches."
        }}
        <Button label="Show everything" text @click="showAll" />
      </template>
      <template v-else>Nothing written yet. Put a thread on top and the log begins.</template>
    </p>
    <section v-if="unreadable?.length" class="panel stack" aria-label="What can't be read">
      <h2>{{ unreadable.length === 1 ? "One document" : `${unreadable.length} documents` }} can't be read</h2>
      <p class="soft">Nothing is lost. Each stays as it was written and counts in no answer.</p>
      <details v-for="u in unreadable" :key="`${u.table}${u.id}`" class="written">
        <summary>{{ PLACES[u.table] ?? u.table }} {{ u.id }}: {{ u.why }}</summary>
        <code>{{ u.text }}</code>
      </details>
    </section>
    <p v-if="mark.problem.value" class="panel field-error" role="alert">{{ mark.problem.value.message }}</p>
    <div v-if="days.length" class="panel">
      <section v-for="group in days" :key="group.day" :aria-label="group.day">
        <h2 class="sewn" :style="threadOf(group.entries[0])">{{ group.day }}</h2>
        <ul>
          <InTurn v-for="(e, at) in group.entries" :key="e.id">
            <li
              tabindex="-1"
              class="sewn"
              :class="{ struck: e.struck_at, recipe: e.kind === 'recipe' }"
              :style="threadOf(e)">
              <strong
                v-if="
                  e.kind !== 'quilt_planned' && e.setup.quilt && e.setup.quilt !== group.entries[at - 1]?.setup.quilt
                "
                class="quilt"
                >{{ e.setup.quilt }}</strong
              >
              <span class="mark"><KindMark :kind="e.kind" /></span>
              <div class="what">
                <span class="soft"
                  >{{ time(e.at) }} · {{ e.kind_name }}<template v-if="allMachines"> · {{ e.machine }}</template></span
                >
                <p class="text">{{ e.text }}</p>
                <p v-if="e.kind === 'look' || e.kind === 'bobbin_reading'" class="soft under">
                  {{ (e.setup.top ?? []).map((t) => t.name).join(" + ") || "no top thread noted" }} over
                  {{ e.setup.bobbin?.name ?? "–"
                  }}<template v-if="e.setup.needle"
                    >, {{ e.setup.needle.metric }}/{{ e.setup.needle.american }} {{ e.setup.needle.point }}</template
                  >
                </p>
                <details v-if="e.unreadable" class="written">
                  <summary>As it was written</summary>
                  <code>{{ e.written }}</code>
                </details>
                <details v-if="e.revisions.length">
                  <summary>
                    {{ ACTIONS[e.revisions.at(-1)?.action ?? ""] }} {{ day(e.revisions.at(-1)?.at ?? e.at) }}
                  </summary>
                  <ol>
                    <li v-for="(r, i) in e.revisions" :key="i">
                      {{ moment(r.at) }}: {{ ACTIONS[r.action]
                      }}<template v-if="r.said">; it said “{{ r.said }}”</template>
                    </li>
                  </ol>
                </details>
              </div>
              <div class="row acts">
                <Button v-if="e.struck_at" label="Restore" severity="secondary" @click="mark.restore(e.id)" />
                <template v-else>
                  <Button
                    v-if="e.payload"
                    label="Correct"
                    text
                    :aria-label="`Correct ${e.text}`"
                    @click="correcting = e" />
                  <Button
                    label="Delete"
                    text
                    severity="secondary"
                    :aria-label="`Delete ${e.text}`"
                    @click="mark.out(e.id, 'Deleted. It no longer counts.')" />
                </template>
              </div>
            </li>
          </InTurn>
        </ul>
      </section>
    </div>
    <AsTable v-if="entries?.length" path="/api/log.csv" :filter="filter" />
    <Button v-if="hasNextPage" label="Earlier" severity="secondary" :loading="isFetchingNextPage" @click="earlier" />
    <CorrectionDialog v-if="correcting" :entry="correcting" @close="correcting = null" />
  </div>
</template>

<style scoped>
.log {
  display: grid;
  gap: 1rem;
  padding: 1.25rem;
  max-width: 1200px;
  margin: 0 auto;
}
.search {
  flex: 1 1 16rem;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(11rem, 1fr));
  gap: 0.8rem;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
ul > li {
  display: grid;
  grid-template-columns: 40px 1fr auto;
  gap: 0.2rem 0.8rem;
  align-items: center;
  padding: 0.5rem 0;
  outline: none;
}
/* Down the margin runs one line of stitches, in the thread that was on then. */
.sewn {
  position: relative;
}
.sewn::before,
.sewn::after {
  content: "";
  position: absolute;
  left: 16px;
  top: 0;
  bottom: 0;
  width: 8px;
  background: repeating-linear-gradient(transparent 0 3px, var(--ink) 3px 19px, transparent 19px 22px);
}
.sewn::after {
  left: 17px;
  width: 6px;
  background: repeating-linear-gradient(transparent 0 4px, var(--sewn) 4px 18px, transparent 18px 22px);
}
h2.sewn {
  margin: 0;
  padding: 0.9rem 0 0.3rem 52px;
}
section:first-child > h2.sewn {
  padding-top: 0;
}
.mark {
  position: relative;
  z-index: 1;
  display: grid;
  place-items: center;
  width: 40px;
  height: 40px;
  border-radius: 50%;
  background: var(--panel);
}
.quilt {
  grid-column: 2 / -1;
}
/* What can be done with a row is offered on the row that is chosen; a key reaches it on each. */
ul > li:not(:hover, :focus-within) .acts {
  opacity: 0;
}
@media (hover: none), (max-width: 700px) {
  ul > li:not(:hover, :focus-within) .acts {
    position: absolute;
    right: 0;
    pointer-events: none;
  }
}
.text {
  font-weight: 600;
  font-size: var(--type-lead);
}
.recipe .text {
  font-size: var(--type-lead);
}
.struck .text {
  text-decoration: line-through;
  color: var(--ink-soft);
  font-weight: 400;
}
.under {
  font-size: var(--type-small);
}
.acts {
  flex-wrap: nowrap;
  gap: 0;
}
ul details,
.written {
  font-size: var(--type-small);
  color: var(--amber);
}
details ol {
  margin: 0;
  color: var(--ink);
}
@media (max-width: 700px) {
  ul > li {
    grid-template-columns: 40px 1fr;
  }
  .acts {
    grid-column: 2;
  }
}
</style>
