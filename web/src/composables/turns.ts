import { computed, inject, nextTick, onUnmounted, ref, shallowReactive, type InjectionKey, type Ref } from "vue";

/** Whether a station is shown: what is drawn until then takes turns. */
export const SETTLED: InjectionKey<Ref<boolean>> = Symbol("settled");
/** So long the screen may be busy at a stretch; a tap or a key comes in between. */
const STRETCH_MS = 12;

const waiting = shallowReactive(new Set<() => void>());
/** How many parts of a station still wait to be drawn. */
export const turnsLeft = computed(() => waiting.size);

async function draw() {
  const began = performance.now();
  for (const turn of waiting) {
    waiting.delete(turn);
    turn();
    // What is drawn may hold parts that wait for a turn of their own.
    await nextTick();
    if (performance.now() - began > STRETCH_MS) break;
  }
  if (waiting.size) window.setTimeout(() => void draw());
}

/** Whether it is this part's turn to be drawn; at once on a station that is shown. */
export function useTurn(): Ref<boolean> {
  const mine = ref(inject(SETTLED, ref(true)).value);
  if (mine.value) return mine;
  const turn = () => (mine.value = true);
  if (!waiting.size) window.setTimeout(() => void draw());
  waiting.add(turn);
  onUnmounted(() => waiting.delete(turn));
  return mine;
}
