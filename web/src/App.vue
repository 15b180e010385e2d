<script setup lang="ts">
import { day } from "./words";
import { useQueryClient } from "@tanstack/vue-query";
import { computed, defineAsyncComponent, onMounted, onUnmounted, ref, useTemplateRef, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { listen } from "./api/changes";
import { nicknames } from "./api/describe";
import { useMachine, useMachineId } from "./composables/machine";
import { useMedia } from "./composables/media";
import { holdFocus } from "./composables/focus";
import { useSettled } from "./composables/settled";
import { askAnew, useMachines, useWords } from "./api/queries";
import { notice } from "./notices";
import { fetchAhead, rememberMachine, STATIONS } from "./router";
import OpeningNote from "./shell/OpeningNote.vue";
import PlanMoves from "./shell/PlanMoves.vue";
import RecipeMoves from "./shell/RecipeMoves.vue";
import ThreadLine from "./shell/ThreadLine.vue";
import WaitingLine from "./shell/WaitingLine.vue";
import WarningLine from "./shell/WarningLine.vue";
import { followUnits, learnUnits } from "./units";

const TermNote = defineAsyncComponent(() => import("./shell/TermNote.vue"));
const ShortcutHelp = defineAsyncComponent(() => import("./shell/ShortcutHelp.vue"));
const router = useRouter();
const route = useRoute();
const machine = useMachineId();
const station = computed(() => `${machine.value}-${String(route.name)}`);
const settled = useSettled(station);
/** Nobody looks at an empty page for longer than this without a word. */
const SAID_AFTER_MS = 400;
const slow = ref(false);
watch(
  [station, settled],
  (_now, _before, over) => {
    slow.value = false;
    if (settled.value) return;
    const timer = window.setTimeout(() => (slow.value = !settled.value), SAID_AFTER_MS);
    over(() => window.clearTimeout(timer));
  },
  { immediate: true },
);
const help = ref(false);
const main = useTemplateRef<HTMLElement>("main");
const title = computed(
  () =>
    STATIONS.find((s) => s.station === route.name)?.name ??
    ({ workshop: "Workshop", practice: "Practice" } as Record<string, string>)[String(route.name)] ??
    "Weftonos",
);
const EVENING = "weftonos.evening";
/** What was chosen on this screen; until then it is as dark as the system. */
const darkness = useMedia("(prefers-color-scheme: dark)");
const chosen = ref(localStorage.getItem(EVENING));
const evening = computed(() => (chosen.value ? chosen.value === "yes" : darkness.value));
function choose(dark: boolean) {
  chosen.value = dark ? "yes" : "no";
  localStorage.setItem(EVENING, chosen.value);
}

watch(
  evening,
  (dark) => {
    document.documentElement.classList.toggle("evening", dark);
  },
  { immediate: true },
);
watch(machine, (id) => id > 0 && rememberMachine(id), { immediate: true });

function typing(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && target.matches("input, textarea, select, [contenteditable], [role=combobox]");
}

function onKey(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
  if (document.querySelector("[role=dialog]")) return;
  const wantedStation = STATIONS.find((s) => s.digit === event.key);
  if (wantedStation && machine.value) {
    void router.push({ name: wantedStation.station, params: { machine: machine.value } });
  } else if (event.key === "w" && machine.value) {
    void router.push({ name: "mend", params: { machine: machine.value } });
  } else if (event.key === "?") {
    help.value = true;
  } else if (event.key === "/" || event.key === "n") {
    const wanted = document.querySelector<HTMLElement>(event.key === "/" ? "[data-search]" : "[data-new]");
    if (!wanted) return;
    wanted.focus();
    if (event.key === "n") wanted.click();
  } else {
    return;
  }
  event.preventDefault();
}
const queries = useQueryClient();
const { data: machines } = useMachines();
const item = useMachine();
watch(machines, (known) => known?.forEach((m) => (nicknames[m.id] = m.spec.nickname)), { immediate: true });
/** The page is found again among others: "Bobbin · Heron · Weftonos". */
watch(
  [title, () => item.value?.spec.nickname],
  ([page, name]) => (document.title = [...new Set([page, name, "Weftonos"])].filter(Boolean).join(" · ")),
  { immediate: true },
);
const gauge = computed(() => item.value?.spec.gauge_unit);
followUnits(gauge, () => void askAnew(queries));
const { data: words } = useWords();
watch(words, (known) => known && learnUnits(known), { immediate: true });
/** The day a page is printed, worked out when it is: a page may stay open over midnight. */
const printedOn = ref("");
const onPrint = () => (printedOn.value = day(new Date().toISOString()));
onMounted(() => {
  window.addEventListener("beforeprint", onPrint);
  window.addEventListener("keydown", onKey);
  listen(queries);
  fetchAhead();
});
onUnmounted(() => {
  window.removeEventListener("beforeprint", onPrint);
  window.removeEventListener("keydown", onKey);
});

function undo() {
  const giveBack = holdFocus();
  notice.now?.undo?.();
  giveBack();
  notice.now = null;
}
</script>

<template>
  <a class="skip" href="#main" @click.prevent="main?.focus()">Skip to the answer</a>
  <ThreadLine v-if="machine" :evening="evening" @evening="choose(!evening)" @help="help = true" />
  <RecipeMoves v-if="machine" />
  <PlanMoves v-if="machine" />
  <main id="main" ref="main" tabindex="-1">
    <h1 class="sr">{{ title }}</h1>
    <p class="print-only">{{ [item?.spec.nickname, printedOn].filter(Boolean).join(", ") }}</p>
    <OpeningNote />
    <WarningLine />
    <WaitingLine />
    <p v-if="slow" class="loading" aria-live="polite">One moment, reading the records …</p>
    <RouterView :key="station" :class="{ unsettled: !settled }" />
  </main>
  <div class="notice" role="status" aria-live="polite">
    <template v-if="notice.now">
      <span>{{ notice.now.text }}</span>
      <button v-if="notice.now.undo" type="button" @click="undo">{{ notice.now.act ?? "Undo" }}</button>
    </template>
  </div>
  <TermNote v-if="settled" :key="station" :page="main" />
  <ShortcutHelp v-if="help" v-model="help" />
</template>

<style scoped>
main:focus {
  outline: none;
}
.skip {
  position: fixed;
  z-index: 30;
  top: 0.4rem;
  left: 0.4rem;
  display: grid;
  place-items: center;
  min-width: 44px;
  min-height: 44px;
  padding: 0 1rem;
  background: var(--panel);
  color: var(--ink);
  border-radius: 4px;
}
.skip:not(:focus) {
  clip-path: inset(50%);
}
.loading {
  position: absolute;
  left: 0;
  right: 0;
  padding: 3rem 1rem;
  text-align: center;
  font-size: var(--type-lead);
}
.unsettled {
  opacity: 0;
}
.notice {
  position: fixed;
  left: 50%;
  bottom: 1rem;
  translate: -50% 0;
  z-index: 20;
  max-width: min(92vw, 44rem);
  display: flex;
  gap: 1rem;
  align-items: center;
  background: var(--indigo-deep);
  color: #fff;
  border-radius: 4px;
  border-top: 4px solid var(--marigold);
  padding: 0.7rem 1.1rem;
  /* What lies beneath takes taps. */
  pointer-events: none;
}
/* Hidden by eye alone: a screen reader listens where the next one will stand. */
.notice:empty {
  opacity: 0;
  padding: 0;
  border: 0;
}
@media (max-width: 600px) {
  .notice {
    left: 0.5rem;
    right: 0.5rem;
    bottom: 0.5rem;
    max-width: none;
    translate: none;
    justify-content: space-between;
    padding: 0.5rem 0.8rem;
  }
}
.notice button {
  pointer-events: auto;
  min-height: 44px;
  padding: 0 1rem;
  background: none;
  border: 2px solid #fff;
  border-radius: 4px;
  color: #fff;
  font-weight: 650;
}
</style>
