import { counted } from "../words";
import type { Sent } from "./keys";

/** The machines' nicknames by their numbers, for what waits while nobody can be asked. */
export const nicknames: Record<string, string> = {};

type Said = Record<string, unknown>;
const text = (value: unknown) => (typeof value === "string" || typeof value === "number" ? String(value) : "");
const many = (value: unknown) => (Array.isArray(value) ? value.length : 0);
const lines = (rows: unknown) =>
  Array.isArray(rows) ? rows.reduce((sum: number, row: Said) => sum + many(row.steps), 0) : 0;

/** What a write says, by the end of its address. */
const SAYS: [RegExp, (said: Said) => string][] = [
  [/\/runs$/, (s) => `${text(s.minutes)} min${s.quilt ? ` on ${text(s.quilt)}` : ""}`],
  [/\/clock\/start$/, (s) => `Clock started${s.quilt ? ` on ${text(s.quilt)}` : ""}`],
  [/\/clock\/stop$/, () => "Clock stopped"],
  [/\/breaks$/, (s) => `Thread broke, kept going: ${text(s.symptom).replace(/_/g, " ")}`],
  [/\/bobbin\/again$/, (s) => (s.emptied ? "New bobbin, old one empty" : "New bobbin")],
  [/\/bobbin\/put-back$/, () => "Case put back"],
  [/\/bobbin$/, () => "Bobbin loaded"],
  [/\/top$/, () => "Top thread changed"],
  [/\/needle\/retire$/, () => "Needle taken out"],
  [/\/needle$/, (s) => `Needle ${text(s.metric)}/${text(s.american)} fitted`],
  [/\/sandwich$/, () => "Layers changed"],
  [/\/readings$/, (s) => `Bobbin reading, ${counted(many(s.pulls), "pull")}`],
  [/\/hang-test$/, (s) => `Hang test, ${text(s.grams)} g`],
  [/\/hand-looks$/, () => "Bobbin tested by hand"],
  [/\/purpose$/, () => "What the bobbin is set for"],
  [/\/screw$/, (s) => `Screw turned ${text(s.minutes)} min`],
  [/\/marks$/, () => "Case or bobbin marked"],
  [/\/looks$/, (s) => `Test line at ${text(s.setting)}`],
  [/\/ladders$/, (s) => `Test strip, ${counted(lines(s.rows), "line")}`],
  [/\/knob$/, (s) => (s.setting === null ? "Top tension on automatic" : `Top tension at ${text(s.setting)}`)],
  [/\/mark$/, (s) => `Mark reset${s.name ? `: ${text(s.name)}` : ""}`],
  [/\/good-enough$/, () => "Good enough as it is"],
  [/\/recipes\/\d+\/use$/, () => "Recipe begun"],
  [/\/recipe-in-use\/done$/, () => "Recipe: all moves done"],
  [/\/recipe-in-use\/drop$/, () => "Recipe left off"],
  [/\/recipes$/, (s) => `Recipe saved: ${text(s.name)}`],
  [/\/quilt$/, (s) => `Quilt: ${text(s.quilt)}`],
  [/\/preflight$/, (s) => `Checklist, ${counted(many(s.done), "check")}`],
  [/\/upkeep$/, (s) => `Upkeep: ${text(s.what).replace(/_/g, " ")}`],
  [/\/checks$/, (s) => `Checked: ${text(s.cause).replace(/_/g, " ")}`],
  [/\/answers$/, () => "Question answered"],
  [/\/outcome$/, () => "Trouble closed"],
];

/** What a write says, as a person would: "12 min on Avocet, Heron". */
export function sayWhat(sent: Pick<Sent, "url" | "body">): string {
  const path = new URL(sent.url).pathname;
  let said: Said = {};
  try {
    said = (JSON.parse(sent.body || "{}") ?? {}) as Said;
  } catch {
    // Told by its address alone.
  }
  const words = SAYS.find(([end]) => end.test(path))?.[1](said) ?? (path.split("/").at(-1) ?? "").replace(/-/g, " ");
  const machine = nicknames[/\/api\/machines\/(\d+)/.exec(path)?.[1] ?? ""];
  return machine ? `${words}, ${machine}` : words;
}

/** The fields of a body that can be typed anew, and what each says now. */
export function fieldsOf(body: string): [string, string | number][] {
  try {
    return Object.entries(JSON.parse(body || "{}") as Said).filter(
      (each): each is [string, string | number] => ["string", "number"].includes(typeof each[1]) && each[0] !== "kind",
    );
  } catch {
    return [];
  }
}

/** A body with one field typed anew; a number stays a number where it still is one. */
export function withField(body: string, field: string, typed: string): string {
  const said = JSON.parse(body) as Said;
  const number = Number(typed.replace(",", "."));
  said[field] = typeof said[field] === "number" && typed.trim() && Number.isFinite(number) ? number : typed;
  return JSON.stringify(said);
}
