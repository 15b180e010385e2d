import { computed } from "vue";
import { useRoute } from "vue-router";

/** The id of the machine at the left end of the thread line; 0 before one is chosen. */
export function useMachineId() {
  const route = useRoute();
  return computed(() => Number(route.params.machine ?? 0));
}

/** The machine's place in an address of the server: `client.POST("/api/machines/{machine_id}/…", here())`. */
export function useHere() {
  const machine = useMachineId();
  return () => ({ params: { path: { machine_id: machine.value } } });
}
