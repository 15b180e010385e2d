<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useChange, useLine, useThreads } from "../../api/queries";
import ThreadSample from "../../diagrams/ThreadSample.vue";
import { useMachineId } from "../../machine";
import { say } from "../../notices";
import { fixed } from "../../words";
import LabelForm from "./LabelForm.vue";
import OnMachine from "./OnMachine.vue";

type Item = Schemas["ThreadItem"];

const machine = useMachineId();
const { data: line } = useLine(machine);
const struck = ref(false);
const { data: threads } = useThreads(struck);
const search = ref("");
const adding = ref(false);
const editing = ref<Item | null>(null);

const shown = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean);
  return (threads.value ?? []).filter((t) => {
    const text = `${t.spec.name} ${t.words} ${t.spec.thread.construction} ${t.spec.note}`.toLowerCase();
    return words.every((w) => text.includes(w));
  });
});

const top = useChange((id: number) =>
  answer(
    client.POST("/api/machines/{machine_id}/top", {
      params: { path: { machine_id: machine.value } },
      body: { top: [id] },
    }),
  ),
);
const bobbin = useChange((id: number) =>
  answer(
    client.POST("/api/machines/{machine_id}/bobbin", {
      params: { path: { machine_id: machine.value } },
      body: { bobbin: id },
    }),
  ),
);
const strike = useChange((t: Item) =>
  answer(client.POST("/api/threads/{thread_id}/strike", { params: { path: { thread_id: t.id } } })),
);
const restore = useChange((t: Item) =>
  answer(client.POST("/api/threads/{thread_id}/restore", { params: { path: { thread_id: t.id } } })),
);
const problem = computed(() => top.error.value ?? bobbin.error.value);

async function put(where: typeof top, thread: Item, words: string) {
  top.reset();
  bobbin.reset();
  const entry = await where.mutateAsync(thread.id).catch(() => null);
  if (entry) say(`${thread.spec.name} ${words}.`, () => undoRecord.mutate(entry.id));
}
const undoRecord = useChange((id: number) =>
  answer(client.POST("/api/log/{record_id}/strike", { params: { path: { record_id: id } } })),
);
async function strikeOut(thread: Item) {
  const gone = await strike.mutateAsync(thread).catch(() => null);
  editing.value = null;
  if (gone) say(`${thread.spec.name} struck out of the drawer.`, () => restore.mutate(thread));
}
function saved(thread: Item) {
  say(`${thread.spec.name} is in the drawer.`);
  adding.value = false;
  editing.value = null;
  search.value = "";
}
const onTop = (id: number) => line.value?.setup.top?.some((t) => t.id === id);
const inBobbin = (id: number) => line.value?.setup.bobbin?.id === id;
</script>

<template>
  <div class="thread-station">
    <OnMachine v-if="line" :setup="line.setup" :missing="line.missing" />
    <p v-if="problem" class="panel field-error" role="alert">{{ problem.message }}</p>

    <LabelForm v-if="adding || editing" :thread="editing" @saved="saved" @strike="strikeOut" @close="((adding = false), (editing = null))" />

    <section class="panel drawer" aria-labelledby="drawer-title">
      <div class="row head">
        <h2 id="drawer-title">The drawer</h2>
        <InputText v-model="search" data-search placeholder="Search: name, fibre, weight" aria-label="Search the drawer" class="search" />
        <label class="row struck"><input v-model="struck" type="checkbox" /> show struck out</label>
        <Button v-if="!adding" data-new label="Add from a label" @click="((adding = true), (editing = null))" />
      </div>
      <p v-if="threads?.length === 0" class="verdict">
        The drawer is empty. Take the thread you use most and add it from its label.
      </p>
      <p v-else-if="threads && shown.length === 0" class="soft">Nothing in the drawer matches “{{ search }}”.</p>
      <table v-else>
        <thead>
          <tr>
            <th scope="col">Thread</th>
            <th scope="col">Label</th>
            <th scope="col" class="num wide">tex</th>
            <th scope="col" class="num wide">wt</th>
            <th scope="col" class="num">mm</th>
            <th scope="col"><span class="sr">Put it on</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="t in shown" :key="t.id" :class="{ gone: t.struck_at, on: onTop(t.id) || inBobbin(t.id) }">
            <td>
              <div class="row thread">
                <ThreadSample :colour="t.spec.colour ?? '#888888'" :diameter-mm="t.diameter_mm" />
                <span><strong>{{ t.spec.name }}</strong><br /><span class="soft">{{ t.words.replace(t.label, "").trim() }}</span></span>
              </div>
            </td>
            <td>{{ t.label }}</td>
            <td class="num wide">{{ fixed(t.tex, 1) }}</td>
            <td class="num wide">{{ fixed(t.wt) }}</td>
            <td class="num">{{ fixed(t.diameter_mm, 2) }}</td>
            <td>
              <div class="row acts">
                <Button v-if="t.struck_at" label="Restore" severity="secondary" @click="restore.mutate(t)" />
                <template v-else>
                  <Button :label="onTop(t.id) ? 'On top now' : 'On top'" :outlined="!onTop(t.id)" :aria-label="`${onTop(t.id) ? 'On top now' : 'On top'}: ${t.spec.name}`" @click="put(top, t, 'is on top')" />
                  <Button :label="inBobbin(t.id) ? 'In bobbin now' : 'In bobbin'" :outlined="!inBobbin(t.id)" :aria-label="`${inBobbin(t.id) ? 'In bobbin now' : 'In bobbin'}: ${t.spec.name}`" @click="put(bobbin, t, 'is in the bobbin')" />
                  <Button label="Edit" text :aria-label="`Edit: ${t.spec.name}`" @click="((editing = t), (adding = false))" />
                </template>
              </div>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.thread-station { display: grid; gap: 1.25rem; padding: 1.25rem; max-width: 1500px; margin: 0 auto; }
.head { margin-bottom: 0.6rem; }
h2 { font-size: 1.3rem; margin-right: 0.5rem; }
.search { flex: 1 1 14rem; }
.struck { min-height: 44px; gap: 0.4rem; }
.struck input { width: 22px; height: 22px; }
table { width: 100%; border-collapse: collapse; }
th { text-align: left; font-size: 0.88rem; color: var(--ink-soft); font-weight: 560; padding: 0.3rem 0.5rem; }
td { padding: 0.4rem 0.5rem; border-top: 1px solid var(--rule); }
.num { text-align: right; }
.thread { flex-wrap: nowrap; line-height: 1.2; }
.thread svg { flex: none; }
.acts { justify-content: flex-end; gap: 0.35rem; }
.gone strong { text-decoration: line-through; color: var(--ink-soft); }
.on td { background: var(--teal-wash); }
@media (max-width: 900px) { .wide { display: none; } .thread-station { padding: 0.9rem; } }
</style>
