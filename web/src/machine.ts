import { computed } from "vue";
import { useRoute } from "vue-router";

/** The id of the machine at the left end of the thread line; 0 before one is chosen. */
export function useMachineId() {
  const route = useRoute();
  return computed(() => Number(route.params.machine ?? 0));
}
