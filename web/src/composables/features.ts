import { computed } from "vue";
import type { Schemas } from "../api/client";
import { useMachines } from "../api/queries";
import { useMachineId } from "./machine";

/** Says of what the machine at the left end of the line has, or may have: what cannot be there is never mentioned. */
export function useHas() {
  const id = useMachineId();
  const { data: machines } = useMachines();
  const features = computed(() => machines.value?.find((m) => m.id === id.value)?.features ?? []);
  return (feature: Schemas["Feature"]) => features.value.includes(feature);
}
