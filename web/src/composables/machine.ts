import { computed, type Ref } from "vue";
import { useRoute } from "vue-router";
import { useMachineItem } from "../api/queries";

/** The id of the machine at the left end of the thread line; 0 before one is chosen. */
export function useMachineId() {
  const route = useRoute();
  return computed(() => Number(route.params.machine ?? 0));
}

/** The machine itself, that at the left end of the line or another; `undefined` until the machines are known. */
export const useMachine = (id: Ref<number> = useMachineId()) => useMachineItem(id);

/** The machine's place in an address of the server: `client.POST("/api/machines/{machine_id}/…", here())`. */
export function useHere() {
  const machine = useMachineId();
  return () => ({ params: { path: { machine_id: machine.value } } });
}
