import { ref } from "vue";
import type { Problem } from "../api/client";

/** The header that says which version is changed. */
export const ifMatch = (version: number) => ({ "if-match": `"${version}"` });

/**
 * What somebody changes has a version; they say which one they saw. When it was changed meanwhile on another screen,
 * the server refuses with what it says now, and whoever reads that may write over it.
 */
export function useSeen(version: number | undefined) {
  const seen = ref(version);
  return {
    /** The header of a change. */
    header: () => (seen.value === undefined ? {} : ifMatch(seen.value)),
    /** From now on the change is made over what the server told, if it did. */
    writeOver: (problem: Problem | null) => (seen.value = problem?.conflict?.version ?? seen.value),
    /** Another row is looked at. */
    look: (now: number | undefined) => (seen.value = now),
  };
}

/** One field of what two hands wrote. */
export interface Differing {
  field: string;
  now: string;
  mine: string;
}

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === "object" && value !== null;

/** Whether what was written stands there already; a field left out stands for nothing. */
function same(now: unknown, mine: unknown): boolean {
  if (!isObject(now) || !isObject(mine)) return (now ?? "") === (mine ?? "");
  return Object.keys(mine).every((key) => same(now[key], mine[key]));
}

const written = (value: unknown): string =>
  isObject(value) ? Object.values(value).map(written).join(", ") : String(value ?? "") || "nothing";

/** The fields in which what it says now differs from mine, in words. */
export function differing(now: unknown, mine: unknown): Differing[] {
  if (!isObject(now) || !isObject(mine)) return [];
  return Object.entries(mine)
    .filter(([field, value]) => field in now && !same(now[field], value))
    .map(([field, value]) => ({ field: field.replaceAll("_", " "), now: written(now[field]), mine: written(value) }));
}
