<script setup lang="ts">
import { onMounted, onUnmounted, ref, watch } from "vue";
import { useProcedures } from "../api/queries";
import { LEFT_ALONE, tappedWord, wordsOn, type OnPage } from "../composables/explained";
import { useMachineId } from "../composables/machine";

/** Words of the glossary, underlined where they stand on a page; a tap on one says what it means. */
const props = defineProps<{ page: HTMLElement | null }>();
const { data } = useProcedures(useMachineId());

/** Words are looked for so long after the page changed. */
const STILL_MS = 250;
const NOTE_WIDE = 300;
let found: OnPage[] = [];
let timer = 0;
const open = ref<{ term: string; says: string; left: string; top: string } | null>(null);

function look() {
  if (!props.page || !data.value || !("highlights" in CSS)) return;
  found = wordsOn(props.page, data.value.terms);
  CSS.highlights.set("explained", new Highlight(...found.map((each) => each.range)));
}
/** A clock ticks on the page: what is due is not put off by each tick. */
function soon() {
  timer ||= window.setTimeout(() => {
    timer = 0;
    look();
  }, STILL_MS);
}
function tap(event: MouseEvent) {
  const on = event.target as Element;
  open.value = null;
  if (on.closest(LEFT_ALONE) || !props.page?.contains(on)) return;
  const tapped = tappedWord(found, event.clientX, event.clientY);
  if (!tapped) return;
  const box = tapped.range.getBoundingClientRect();
  const left = Math.max(8, Math.min(box.left, window.innerWidth - NOTE_WIDE - 8));
  open.value = {
    term: tapped.word.term,
    says: tapped.word.says,
    left: `${left + window.scrollX}px`,
    top: `${box.bottom + window.scrollY + 6}px`,
  };
}
function close(event: KeyboardEvent) {
  if (event.key === "Escape") open.value = null;
}
const changes = new MutationObserver(soon);
watch(
  () => props.page,
  (page) => {
    changes.disconnect();
    // What is folded shows its words when it is opened.
    const open = { attributes: true, attributeFilter: ["open"] };
    if (page) changes.observe(page, { childList: true, characterData: true, subtree: true, ...open });
  },
  { immediate: true },
);
watch(data, soon);
onMounted(() => {
  document.addEventListener("click", tap);
  document.addEventListener("keydown", close);
  soon();
});
onUnmounted(() => {
  changes.disconnect();
  window.clearTimeout(timer);
  document.removeEventListener("click", tap);
  document.removeEventListener("keydown", close);
});
</script>

<template>
  <p class="term" aria-live="polite" :style="open ? { left: open.left, top: open.top } : undefined">
    <template v-if="open"
      ><b>{{ open.term }}</b> {{ open.says }}</template
    >
  </p>
</template>

<style scoped>
.term {
  position: absolute;
  z-index: 25;
  max-width: min(300px, calc(100vw - 16px));
  margin: 0;
  padding: 0.5rem 0.8rem;
  background: var(--amber-wash);
  color: var(--ink);
  border: 2px solid var(--marigold);
  border-radius: 4px;
}
.term:empty {
  padding: 0;
  border: 0;
}
</style>
