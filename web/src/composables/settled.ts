import { useIsFetching } from "@tanstack/vue-query";
import { computed, onUnmounted, provide, ref, watch, type Ref } from "vue";
import { SETTLED, turnsLeft } from "./turns";

/** What a station asks for once it has its first answer begins within this time. */
const STILL_MS = 40;
/** A station is shown after this time whatever is missing. */
const PATIENCE_MS = 3000;

/**
 * Whether what a station asks for first has come and is drawn, so that it can be shown all at once: nothing then moves
 * under the hand. Begins anew with each `station`.
 */
export function useSettled(station: Ref<string>): Ref<boolean> {
  const asking = useIsFetching({ predicate: (query) => query.state.data === undefined });
  const waiting = computed(() => asking.value + turnsLeft.value);
  const settled = ref(false);
  provide(SETTLED, settled);
  let still = 0;
  let patience = 0;
  const show = () => {
    settled.value = true;
    window.clearTimeout(still);
    window.clearTimeout(patience);
  };
  watch(
    station,
    () => {
      settled.value = false;
      window.clearTimeout(patience);
      patience = window.setTimeout(show, PATIENCE_MS);
    },
    { immediate: true },
  );
  watch(
    [waiting, station],
    ([left]) => {
      window.clearTimeout(still);
      if (!settled.value && left === 0) still = window.setTimeout(show, STILL_MS);
    },
    { immediate: true, flush: "post" },
  );
  onUnmounted(() => {
    window.clearTimeout(still);
    window.clearTimeout(patience);
  });
  return settled;
}
