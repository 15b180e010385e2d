<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useChange, useLog } from "../../api/queries";
import { useMachineId } from "../../machine";
import { say } from "../../notices";
import { day, time } from "../../words";
import CorrectionDialog from "./CorrectionDialog.vue";
import KindMark from "./KindMark.vue";

type Entry = Schemas["LogEntry"];

const machine = useMachineId();
const allMachines = ref(false);
const onlyKept = ref(false);
const limit = ref(40);
const filter = computed(() => ({
  machine: allMachines.value ? undefined : machine.value,
  kind: onlyKept.value ? "recipe" : undefined,
  limit: limit.value,
}));
const { data } = useLog(filter);
const correcting = ref<Entry | null>(null);

const mark = useChange(({ id, what }: { id: number; what: "strike" | "restore" }) => {
  const params = { path: { record_id: id } };
  return answer(
    what === "strike"
      ? client.POST("/api/log/{record_id}/strike", { params })
      : client.POST("/api/log/{record_id}/restore", { params }),
  );
});
async function strike(entry: Entry) {
  const done = await mark.mutateAsync({ id: entry.id, what: "strike" }).catch(() => null);
  if (done) say("Struck out. It no longer counts.", () => mark.mutate({ id: entry.id, what: "restore" }));
}
const days = computed(() => {
  const groups: { day: string; entries: Entry[] }[] = [];
  for (const entry of data.value?.entries ?? []) {
    const name = day(entry.at);
    if (groups.at(-1)?.day !== name) groups.push({ day: name, entries: [] });
    groups.at(-1)?.entries.push(entry);
  }
  return groups;
});
const ACTIONS: Record<string, string> = { corrected: "corrected", struck: "struck out", restored: "restored" };
</script>

<template>
  <div class="log">
    <div class="row bar">
      <h2 class="title">{{ onlyKept ? "Kept combinations" : "Every record, newest first" }}</h2>
      <button type="button" class="toggle" :aria-pressed="onlyKept" @click="onlyKept = !onlyKept">kept combinations only</button>
      <button type="button" class="toggle" :aria-pressed="allMachines" @click="allMachines = !allMachines">all machines</button>
    </div>
    <p v-if="data && data.entries.length === 0" class="panel verdict">
      {{ onlyKept ? "Nothing kept yet. When a stitch is balanced, keep the combination at Balance." : "Nothing written yet. Put a thread on top and the log begins." }}
    </p>
    <p v-if="mark.error.value" class="panel field-error" role="alert">{{ mark.error.value.message }}</p>
    <section v-for="group in days" :key="group.day" class="panel" :aria-label="group.day">
      <h2>{{ group.day }}</h2>
      <ul>
        <li v-for="e in group.entries" :key="e.id" :class="{ struck: e.struck_at, recipe: e.kind === 'recipe' }">
          <KindMark :kind="e.kind" />
          <div class="what">
            <span class="soft">{{ time(e.at) }} · {{ e.kind_name }}<template v-if="allMachines"> · {{ e.machine }}</template></span>
            <p class="text">{{ e.text }}</p>
            <p v-if="e.kind === 'look' || e.kind === 'bobbin_reading'" class="soft under">
              {{ (e.setup.top ?? []).map((t) => t.name).join(" + ") || "no top thread noted" }} over {{ e.setup.bobbin?.name ?? "–" }}<template v-if="e.setup.needle">, {{ e.setup.needle.metric }}/{{ e.setup.needle.american }} {{ e.setup.needle.point }}</template>
            </p>
            <details v-if="e.revisions.length">
              <summary>{{ ACTIONS[e.revisions.at(-1)?.action ?? ""] }} {{ day(e.revisions.at(-1)?.at ?? e.at) }}</summary>
              <ol>
                <li v-for="(r, i) in e.revisions" :key="i">{{ day(r.at) }} {{ time(r.at) }}: {{ ACTIONS[r.action] }}<template v-if="r.said">; it said “{{ r.said }}”</template></li>
              </ol>
            </details>
          </div>
          <div class="row acts">
            <Button v-if="e.struck_at" label="Restore" severity="secondary" @click="mark.mutate({ id: e.id, what: 'restore' })" />
            <template v-else>
              <Button label="Correct" text :aria-label="`Correct ${e.text}`" @click="correcting = e" />
              <Button label="Strike out" text severity="secondary" :aria-label="`Strike out ${e.text}`" @click="strike(e)" />
            </template>
          </div>
        </li>
      </ul>
    </section>
    <Button v-if="data?.more" label="Earlier" severity="secondary" @click="limit = Math.min(200, limit + 40)" />
    <CorrectionDialog v-if="correcting" :entry="correcting" @close="correcting = null" />
  </div>
</template>

<style scoped>
.log { display: grid; gap: 1rem; padding: 1.25rem; max-width: 1200px; margin: 0 auto; }
.title { font-size: 1.3rem; margin-right: auto; }
.toggle { min-height: 48px; border: 2px solid var(--rule); background: var(--panel); border-radius: 4px; padding: 0 1rem; font-weight: 600; }
.toggle[aria-pressed="true"] { border-color: var(--marigold); background: var(--amber-wash); }
ul { list-style: none; margin: 0.3rem 0 0; padding: 0; }
ul > li { display: grid; grid-template-columns: 40px 1fr auto; gap: 0.8rem; align-items: center; padding: 0.5rem 0; border-top: 1px solid var(--rule); }
.text { font-weight: 600; font-size: 1.08rem; }
.recipe .text { font-size: 1.25rem; }
.struck .text { text-decoration: line-through; color: var(--ink-soft); font-weight: 400; }
.under { font-size: 0.92rem; }
.acts { flex-wrap: nowrap; gap: 0; }
details { font-size: 0.92rem; color: var(--amber); }
details ol { margin: 0; color: var(--ink); }
@media (max-width: 700px) { ul > li { grid-template-columns: 32px 1fr; } .acts { grid-column: 2; } }
</style>
