import type { Schemas } from "./api/client";
import { counted } from "./words";

type Scale = Schemas["TopScale"];

/** The usual scale of each kind on a head. A domestic display runs like a dial, a longarm's in a gauge's numbers. */
export function usualScale(kind: Schemas["ScaleKind"], head: Schemas["MachineKind"]): Scale {
  if (kind === "turns") return { kind, low: -4, high: 4, step: 0.25, unit: "" };
  if (kind === "readout" && head === "longarm") return { kind, low: 80, high: 400, step: 5, unit: "" };
  return { kind, low: 0, high: 10, step: 0.5, unit: "" };
}

/** The guide with holes before the discs, as it is asked for. */
export const GUIDE_HOLES: { value: number | null; name: string }[] = [0, 1, 2, 3].map((n) => ({
  value: n,
  name: n ? counted(n, "hole") : "no such guide",
}));

/** What a head is, in short: "24 in longarm", "sit-down longarm", "domestic machine". */
export function headWords(spec: Schemas["Machine"]): string {
  if (spec.kind === "home") return "domestic machine";
  const throat = spec.throat_in ? `${spec.throat_in} in ` : "";
  return `${throat}${spec.on_frame === false ? "sit-down longarm" : "longarm"}`;
}
