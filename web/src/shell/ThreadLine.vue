<script setup lang="ts">
import type { Schemas } from "../api/client";
import { outbox } from "../api/outbox";
import { computed, nextTick, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useLine, useMachines, usePlanNow } from "../api/queries";
import { useMachine, useMachineId } from "../composables/machine";
import { headWords } from "../machines";
import { STATIONS } from "../router";
import KnotMark from "./KnotMark.vue";
import SewnPart from "./SewnPart.vue";

defineProps<{ evening: boolean }>();
const emit = defineEmits<{ evening: []; help: [] }>();

const STATE_WORDS = { ready: "ready", to_do: "to do", caution: "caution", trouble: "trouble" };
const machine = useMachineId();
const route = useRoute();
const router = useRouter();
const { data: machines } = useMachines();
const item = useMachine();
const { data: line, isError } = useLine(machine);
const { data: plan } = usePlanNow(machine);

const chosen = computed({
  get: () => machine.value,
  set: (id) => void router.push({ name: String(route.name), params: { machine: id } }),
});
const options = computed(() =>
  (machines.value ?? [])
    .filter((m) => !m.spec.retired || m.id === machine.value)
    .map((m) => ({ id: m.id, name: m.spec.nickname })),
);
const head = computed(() => {
  return item.value ? headWords(item.value.spec) : "";
});
const knots = computed(() =>
  STATIONS.map((s) => ({ ...s, knot: line.value?.knots.find((k) => k.station === s.station) })),
);
/** The line is sewn in the threads that are on; before there are any, in white. */
const WHITE = "#fbfaf5";
const colors = computed(() => ({
  top: line.value?.setup.top?.[0]?.color || WHITE,
  bobbin: line.value?.setup.bobbin?.color || WHITE,
}));
/** A quilt that is sewn by plan says where it is in it, unless the bobbin runs out. */
const fact = (station: string, knot?: Schemas["Knot"]) =>
  (station === "run" && knot?.state === "ready" && plan.value?.fact) || (knot?.fact ?? "…");
const stations = ref<HTMLElement>();
// On a narrow screen the line is longer than the screen: the station you are at stays in sight.
watch(
  () => [route.name, line.value],
  () =>
    void nextTick(() => stations.value?.querySelector(".here")?.scrollIntoView({ inline: "center", block: "nearest" })),
  { immediate: true },
);
const notes = computed(() => (outbox.waiting.length === 1 ? "1 note waits," : `${outbox.waiting.length} notes wait,`));
</script>

<template>
  <header class="thread-line">
    <div class="machine">
      <select v-model="chosen" aria-label="Machine" class="chooser">
        <option v-for="each in options" :key="each.id" :value="each.id">{{ each.name }}</option>
      </select>
      <span class="head">{{ head }}</span>
    </div>
    <nav ref="stations" aria-label="Stations">
      <ol>
        <li v-for="{ station, name, knot } in knots" :key="station">
          <SewnPart class="sewn" :state="knot?.state ?? 'to_do'" v-bind="colors" />
          <RouterLink :to="{ name: station, params: { machine } }" :class="{ here: route.name === station }">
            <KnotMark :state="knot?.state ?? 'to_do'" :here="route.name === station" />
            <span class="name"
              >{{ name }}<span class="sr">, {{ knot ? STATE_WORDS[knot.state] : "" }}</span></span
            >
            <span class="fact">{{ fact(station, knot) }}</span>
          </RouterLink>
        </li>
      </ol>
    </nav>
    <div class="tools">
      <RouterLink :to="{ name: 'mend', params: { machine } }" class="wrong">It went wrong</RouterLink>
      <button type="button" :aria-pressed="evening" :aria-label="evening ? 'Day' : 'Dark'" @click="emit('evening')">
        <svg viewBox="0 0 24 24" aria-hidden="true">
          <path d="M20 14.500A8.500 8.500 0 1 1 9.500 4a7 7 0 0 0 10.500 10.500Z" />
        </svg>
        <span>{{ evening ? "Day" : "Dark" }}</span>
      </button>
      <RouterLink :to="{ name: 'workshop', params: { machine } }" class="plain" aria-label="Workshop">
        <svg viewBox="0 0 24 24" aria-hidden="true"><path d="M4 4h16v16H4ZM4 12h16M10 8h4M10 16h4" /></svg>
        <span>Workshop</span>
      </RouterLink>
      <button type="button" aria-label="Help" @click="emit('help')">
        <svg viewBox="0 0 24 24" aria-hidden="true">
          <path d="M8 9a4 4 0 1 1 5.500 3.700c-1 .500-1.500 1.200-1.500 2.300M12 19v.500" />
        </svg>
        <span>Help</span>
      </button>
    </div>
    <p v-if="isError" class="lost" role="alert">
      The server doesn't answer. {{ outbox.waiting.length ? `${notes} saved here` : "What you typed is saved here" }}.
      Start Weftonos again.
    </p>
  </header>
</template>

<style scoped>
nav a {
  position: relative;
  display: grid;
  justify-items: center;
  gap: 0.05rem;
  text-decoration: none;
  color: inherit;
  padding-bottom: 0.75rem;
  text-align: center;
}
.thread-line {
  position: sticky;
  top: 0;
  z-index: 10;
  background: var(--indigo);
  color: var(--thread-white);
  display: grid;
  grid-template-columns: 11rem 1fr auto;
  align-items: start;
  padding: 0.85rem 1.25rem 0;
}
/* The seam runs behind the knots, from station to station. */
li {
  position: relative;
}
.sewn {
  position: absolute;
  left: 0;
  top: 8px;
  width: 100%;
  height: 28px;
  overflow: visible;
  pointer-events: none;
}
.machine {
  position: relative;
  display: grid;
  gap: 0.3rem;
  justify-items: start;
}
.chooser {
  background: var(--indigo-deep);
  border: 2px solid var(--thread-white);
  min-height: 44px;
  /* A long name ends in dots before the first knot; the names that arrive move nothing. */
  width: 10.6rem;
  color: #fff;
  font: inherit;
  font-size: var(--type-lead);
  font-weight: 700;
  padding-inline: 0.5rem 0.2rem;
  border-radius: 4px;
  text-overflow: ellipsis;
}
.head {
  font-size: var(--type-small);
  color: #cfd7ee;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(7, minmax(0, 1fr));
}
a {
  text-decoration: none;
}
a.here::after {
  content: "";
  position: absolute;
  bottom: 0;
  width: 0;
  border: 11px solid transparent;
  border-bottom-color: var(--marigold);
  border-top: 0;
}
.name {
  font-weight: 700;
  font-size: 1rem;
}
.here .name {
  color: #ffd27a;
}
.fact {
  font-size: var(--type-small);
  color: #e3e8f7;
  line-height: 1.2;
}
.tools {
  position: relative;
  display: grid;
  grid-template-columns: auto auto auto;
  gap: 0.35rem;
}
.tools .wrong {
  grid-column: 1 / -1;
  display: grid;
  place-items: center;
  min-height: 46px;
  padding: 0 0.8rem;
  background: var(--thread-white);
  color: #8f1f0c;
  border-radius: 4px;
  font-weight: 700;
  white-space: nowrap;
}
.tools button,
.tools .plain {
  display: grid;
  place-items: center;
  background: var(--indigo);
  color: #e3e8f7;
  border: 1.5px solid #6d7bb0;
  border-radius: 4px;
  min-height: 44px;
  padding: 0 0.7rem;
  font-size: var(--type-small);
}
.lost {
  grid-column: 1 / -1;
  background: var(--vermilion-wash);
  color: var(--vermilion);
  padding: 0.5rem 1rem;
  margin: 0 -1.25rem;
  font-weight: 650;
}
.tools svg {
  display: none;
  width: 24px;
  height: 24px;
  fill: none;
  stroke: currentcolor;
  stroke-width: 2;
  stroke-linejoin: round;
}
/* On a narrow screen the head is two rows of a finger's height: the stations slide past, knot and words side by side. */
@media (max-width: 900px) {
  .thread-line {
    grid-template-columns: minmax(0, 1fr) auto;
    padding: 2px 0.7rem 0;
  }
  .sewn {
    top: auto;
    bottom: 1px;
    height: 7px;
    --thin: 1;
  }
  .machine {
    display: flex;
    align-items: center;
    gap: 0.8rem;
  }
  .chooser {
    min-height: 44px;
  }
  .tools {
    grid-row: 1;
    grid-column: 2;
    display: flex;
  }
  .tools .wrong {
    min-height: 44px;
    padding: 0 0.7rem;
  }
  nav {
    grid-column: 1 / -1;
    grid-row: 2;
    min-width: 0;
    overflow-x: auto;
    scrollbar-width: none;
  }
  nav ol {
    display: flex;
    width: max-content;
    min-width: 100%;
    justify-content: space-between;
  }
  nav a {
    grid-template-columns: 28px auto;
    column-gap: 0.35rem;
    justify-items: start;
    align-content: center;
    min-height: 48px;
    padding: 0 0.45rem 9px 0.15rem;
    text-align: left;
  }
  nav a :deep(svg) {
    grid-row: span 2;
    width: 28px;
    height: 28px;
    align-self: center;
  }
  a.here::after {
    display: none;
  }
  .name {
    font-size: 1rem;
    line-height: 1.1;
  }
  .fact {
    font-size: var(--type-small);
    line-height: 1.1;
    white-space: nowrap;
  }
}
/* A laptop's screen at 200%: one row, the marks alone but for the station that one is at. */
@media (max-height: 500px) and (min-width: 561px) and (max-width: 900px) {
  .thread-line {
    grid-template-columns: 8rem minmax(0, 1fr) auto;
    align-items: center;
    column-gap: 0.4rem;
    padding-block: 4px;
  }
  .chooser {
    width: 8rem;
  }
  .fact,
  a:not(.here) .name {
    display: none;
  }
  nav {
    grid-row: 1;
    grid-column: 2;
  }
  nav a {
    grid-template-columns: auto auto;
    min-height: 44px;
    min-width: 36px;
  }
  .tools {
    grid-column: 3;
    gap: 0.2rem;
  }
}
/* There and in the hand the machine's name needs no kind beside it, and the tools no words. */
@media (max-width: 560px), (max-height: 500px) and (max-width: 900px) {
  .tools svg {
    display: block;
  }
  .head,
  .tools span {
    display: none;
  }
  .tools .wrong {
    width: 4.4rem;
    padding: 0 0.3rem;
    font-size: var(--type-small);
    line-height: 1.1;
    text-align: center;
    white-space: normal;
  }
  .tools button,
  .tools .plain {
    width: 44px;
    padding: 0;
  }
}
/* Zoomed to 400% the head goes with the page. */
@media (max-height: 300px) {
  .thread-line {
    position: static;
  }
}
@media (max-width: 560px) {
  /* Seven marks with their states in sight, and the station that one is at by its name. */
  nav {
    overflow: visible;
  }
  nav ol {
    display: grid;
    width: auto;
  }
  nav a {
    grid-template-columns: auto;
    justify-items: center;
    align-content: start;
    min-height: 48px;
    padding: 2px 0 0;
  }
  .sewn {
    top: 5px;
    bottom: auto;
    height: 22px;
  }
  .name {
    font-size: var(--type-small);
    white-space: nowrap;
  }
  .fact,
  a:not(.here) .name {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
  .chooser {
    font-size: var(--type-lead);
  }
  .tools {
    gap: 0.3rem;
    margin-left: 0.4rem;
  }
  .machine,
  .chooser {
    min-width: 0;
    width: 100%;
  }
}
/* The narrowest: the machine's name can still be read. */
@media (max-width: 360px) {
  .tools {
    gap: 2px;
    margin-left: 0.2rem;
  }
  .tools .wrong {
    width: 3.7rem;
  }
  .tools button,
  .tools .plain {
    width: 40px;
  }
  .chooser {
    font-size: 1rem;
    padding-inline: 0.3rem 0;
  }
}
</style>
