import type { Schemas } from "../api/client";
import { useMachine } from "./machine";

/** Says of what the machine at the left end of the line has, or may have: what cannot be there is never mentioned. */
export function useHas() {
  const machine = useMachine();
  return (feature: Schemas["Feature"]) => !!machine.value?.features.includes(feature);
}
