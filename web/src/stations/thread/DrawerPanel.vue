<script setup lang="ts">
import InTurn from "../../parts/InTurn.vue";
import { refDebounced } from "../../composables/debounce";
import { useMedia } from "../../composables/media";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, nextTick, onMounted, onUnmounted, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { type DrawerQuery, useLine, useThreads, useWords } from "../../api/queries";
import ThreadSample from "../../diagrams/ThreadSample.vue";
import { useHere, useMachineId } from "../../composables/machine";
import { say } from "../../notices";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import { fixed } from "../../words";
import LabelForm from "./LabelForm.vue";
import SelectionTray from "./SelectionTray.vue";
import { useNote, usePutOnTop, useStriking } from "../../composables/send";
import AsTable from "../../parts/AsTable.vue";

type Item = Schemas["ThreadItem"];

const ORDERS: { value: Schemas["DrawerOrder"]; name: string }[] = [
  { value: "name", name: "name" },
  { value: "weight", name: "weight, finest first" },
  { value: "thickness", name: "thickness, finest first" },
  { value: "fiber", name: "fiber" },
];
const TONES = [
  { value: "any", name: "light and dark" },
  { value: "light", name: "light" },
  { value: "dark", name: "dark" },
];
const PAGE = 60;
const machine = useMachineId();
const { data: line } = useLine(machine);
const { data: words } = useWords();
const text = ref("");
const searched = refDebounced(text, 120);
const fiber = ref("any");
const tone = ref("any");
const order = ref<Schemas["DrawerOrder"]>("name");
const struck = ref(false);
const query = computed<DrawerQuery>(() => ({
  text: searched.value,
  fiber: fiber.value === "any" ? undefined : (fiber.value as Schemas["Fiber"]),
  light: tone.value === "any" ? undefined : tone.value === "light",
  struck: struck.value,
  order: order.value,
  limit: PAGE,
}));
const { data: pages, fetchNextPage, hasNextPage, isFetchingNextPage } = useThreads(query);
const items = computed(() => pages.value?.pages.flatMap((page) => page.items) ?? []);
const total = computed(() => pages.value?.pages.at(-1)?.total);
const fibers = computed(() => [{ value: "any", name: "every fiber" }, ...(words.value?.fibers ?? [])]);
/** On a phone the threads come before what narrows them. */
const wide = useMedia("(min-width: 701px)");
const narrowed = computed(() => !!searched.value || fiber.value !== "any" || tone.value !== "any");

const adding = ref(false);
const editing = ref<Item | null>(null);
const copying = ref<Item | null>(null);
const form = ref<HTMLElement>();
/** Opens the form, and brings it into view from far down the drawer. */
async function open(what: { add?: boolean; edit?: Item; copy?: Item }) {
  adding.value = !!what.add;
  editing.value = what.edit ?? null;
  copying.value = what.copy ?? null;
  await nextTick();
  form.value?.scrollIntoView({ block: "nearest" });
}
const chosen = ref<Item[]>([]);
const tray = ref<HTMLElement>();
const trayInView = ref(false);
const watcher = new IntersectionObserver(([seen]) => (trayInView.value = !!seen?.isIntersecting));
onMounted(() => tray.value && watcher.observe(tray.value));
onUnmounted(() => watcher.disconnect());
const isChosen = (id: number) => chosen.value.some((t) => t.id === id);
function choose(thread: Item) {
  chosen.value = isChosen(thread.id) ? chosen.value.filter((t) => t.id !== thread.id) : [...chosen.value, thread];
}

const here = useHere();
const top = usePutOnTop({ then: () => (chosen.value = []) });
const bobbin = useNote(({ id, work }: { id: number; work: boolean }) =>
  answer(client.POST("/api/machines/{machine_id}/bobbin", { ...here(), body: { bobbin: id, bobbin_work: work } })),
);
const mark = useStriking(
  (id, anyway) =>
    answer(client.POST("/api/threads/{thread_id}/strike", { params: { path: { thread_id: id }, query: { anyway } } })),
  (id) => answer(client.POST("/api/threads/{thread_id}/restore", { params: { path: { thread_id: id } } })),
);
const problem = computed(() => top.problem.value ?? bobbin.problem.value ?? mark.problem.value);

function putOn(threads: Item[]) {
  if (top.pending.value) return Promise.resolve(null);
  bobbin.reset();
  return top.go(threads.map((t) => t.id));
}
function load(thread: Item, work = false) {
  top.reset();
  return bobbin.go({ id: thread.id, work });
}
function strikeOut(thread: Item) {
  editing.value = null;
  return mark.out(thread.id, `${thread.spec.name} deleted from the drawer.`);
}
function saved(thread: Item, another: boolean) {
  say(`${thread.spec.name} is in the drawer.`);
  if (!another) void open({});
}
const onTop = (id: number) => line.value?.setup.top?.some((t) => t.id === id);
const inBobbin = (id: number) => line.value?.setup.bobbin?.id === id;
</script>

<template>
  <p v-if="problem" class="panel field-error" role="alert">{{ problem.message }}</p>
  <div v-if="adding || editing || copying" ref="form">
    <LabelForm
      :key="copying ? `copy ${copying.id}` : 'label'"
      :thread="editing"
      :copied="copying"
      @saved="saved"
      @strike="strikeOut"
      @close="open({})" />
  </div>
  <div ref="tray">
    <SelectionTray
      v-if="chosen.length"
      :threads="chosen"
      @clear="chosen = []"
      @top="putOn(chosen)"
      @work="load($event, true)" />
  </div>
  <button
    v-if="chosen.length && !trayInView"
    type="button"
    class="chosen"
    @click="tray?.scrollIntoView({ block: 'center' })">
    {{ chosen.length }} chosen: see {{ chosen.length > 1 ? "them side by side" : "it" }}
  </button>

  <section class="panel" aria-label="The drawer">
    <div class="bar">
      <InputText
        v-model="text"
        data-search
        placeholder="Search: name, fiber, weight"
        aria-label="Search the drawer"
        class="search" />
      <Button v-if="!adding" data-new label="Add from a label" @click="open({ add: true })" />
    </div>
    <details class="narrow" :open="wide || narrowed">
      <summary>Narrow and sort</summary>
      <div class="bar filters">
        <ChoiceBox v-model="fiber" label="Fiber shown" :options="fibers" />
        <ChoiceBox v-model="tone" label="Color shown" :options="TONES" />
        <ChoiceBox v-model="order" label="Sorted by" :options="ORDERS" />
        <label class="struck"><input v-model="struck" type="checkbox" /> deleted ones too</label>
      </div>
    </details>
    <p v-if="total === 0 && !narrowed" class="verdict">
      The drawer is empty. Take the thread you use most and add it from its label.
    </p>
    <p v-else-if="total === 0" class="soft">Nothing in the drawer matches.</p>
    <table v-else-if="pages">
      <thead>
        <tr>
          <th scope="col"><span class="sr">Choose</span></th>
          <th scope="col">Thread</th>
          <th scope="col">Label</th>
          <th scope="col" class="num wide">tex</th>
          <th scope="col" class="num wide">wt</th>
          <th scope="col" class="num">mm</th>
          <th scope="col"><span class="sr">Put it on</span></th>
        </tr>
      </thead>
      <tbody>
        <InTurn v-for="t in items" :key="t.id">
          <tr :class="{ gone: t.struck_at, on: onTop(t.id) || inBobbin(t.id) }">
            <td>
              <label class="pick"
                ><input
                  type="checkbox"
                  :checked="isChosen(t.id)"
                  :aria-label="`Choose ${t.spec.name}`"
                  @change="choose(t)"
              /></label>
            </td>
            <td>
              <div class="thread">
                <ThreadSample :color="t.spec.color ?? '#888888'" :diameter-mm="t.diameter_mm" />
                <span
                  ><strong>{{ t.spec.name }}</strong
                  ><br /><span class="soft"
                    >{{ t.words.replace(t.label, "").trim() }}, {{ t.light ? "light" : "dark" }}</span
                  ></span
                >
              </div>
            </td>
            <td>{{ t.label }}</td>
            <td class="num wide">{{ fixed(t.tex, 1) }}</td>
            <td class="num wide">{{ fixed(t.wt) }}</td>
            <td class="num">{{ fixed(t.diameter_mm, 2) }}</td>
            <td>
              <div class="acts">
                <Button
                  v-if="t.struck_at"
                  label="Restore"
                  severity="secondary"
                  :aria-label="`Restore: ${t.spec.name}`"
                  @click="mark.restore(t.id)" />
                <template v-else>
                  <Button
                    :label="onTop(t.id) ? 'On top now' : 'On top'"
                    :outlined="!onTop(t.id)"
                    :aria-label="`${onTop(t.id) ? 'On top now' : 'On top'}: ${t.spec.name}`"
                    @click="putOn([t])" />
                  <Button
                    :label="inBobbin(t.id) ? 'In bobbin now' : 'In bobbin'"
                    :outlined="!inBobbin(t.id)"
                    :aria-label="`${inBobbin(t.id) ? 'In bobbin now' : 'In bobbin'}: ${t.spec.name}`"
                    @click="load(t)" />
                  <Button label="Edit" text :aria-label="`Edit: ${t.spec.name}`" @click="open({ edit: t })" />
                  <Button
                    label="Another color"
                    text
                    :aria-label="`Another color of ${t.spec.name}`"
                    @click="open({ copy: t })" />
                </template>
              </div>
            </td>
          </tr>
        </InTurn>
      </tbody>
    </table>
    <AsTable v-if="items.length" path="/api/threads.csv" :filter="query" />
    <p v-if="hasNextPage" class="more">
      {{ items.length }} of {{ total }}.
      <Button label="Show more" text :loading="isFetchingNextPage" @click="fetchNextPage()" />
    </p>
  </section>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 0.75rem;
  align-items: end;
  margin-bottom: 0.6rem;
}
.search {
  flex: 1 1 14rem;
}
@media (min-width: 701px) {
  .narrow > summary {
    display: none;
  }
}
.filters > * {
  flex: 1 1 9rem;
}
.struck {
  display: flex;
  align-items: center;
  gap: 0.5rem;
  min-height: 48px;
}
input[type="checkbox"] {
  width: 24px;
  height: 24px;
  accent-color: var(--marigold);
}
.pick {
  display: grid;
  place-items: center;
  width: 44px;
  height: 44px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-size: var(--type-small);
  color: var(--ink-soft);
  font-weight: 560;
  padding: 0.2rem 0.5rem;
}
td {
  padding: 0.3rem 0.5rem;
  border-top: 1px solid var(--rule);
}
.num {
  text-align: right;
}
.thread {
  display: flex;
  align-items: center;
  gap: 0.75rem;
  line-height: 1.2;
}
.thread svg {
  flex: none;
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: 0.35rem;
  flex-wrap: wrap;
}
.gone strong {
  text-decoration: line-through;
  color: var(--ink-soft);
}
.on td {
  background: var(--teal-wash);
}
.chosen {
  position: fixed;
  right: 1.25rem;
  bottom: 1.25rem;
  z-index: 5;
  min-height: 52px;
  padding: 0 1.2rem;
  border: 0;
  border-top: 4px solid var(--marigold);
  border-radius: 4px;
  background: var(--indigo-deep);
  color: #fff;
  font-weight: 650;
}
.more {
  display: flex;
  align-items: center;
  gap: 0.6rem;
}
@media (max-width: 900px) {
  .wide {
    display: none;
  }
}
/* In the hand a thread is two rows: what it is, and what can be done with it. */
@media (max-width: 560px) {
  thead {
    display: none;
  }
  tr {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    border-top: 1px solid var(--rule);
    padding-block: 0.4rem;
  }
  td {
    border-top: 0;
  }
  td:has(.acts) {
    flex: 1 0 100%;
  }
}
</style>
