import { computed, reactive, readonly, watch, type Ref } from "vue";
import { Problem, type Schemas } from "./api/client";
import { unitsHeader } from "./api/keys";
import { notANumber, numberIn, readNumber } from "./composables/fields";
import { decimalMark, papers, usesInches } from "./locale";
import { figure, fixed } from "./words";

/**
 * The units of this screen: pulls as the machine's gauge is marked unless another unit was chosen here, lengths in
 * meters and millimeters or in yards and inches. The server makes its sentences in them, and what is typed is turned
 * into mN, m and mm here and nowhere else.
 */
export type Force = Schemas["ForceUnit"];
export type Lengths = "metric" | "inch";
const CHOSEN = "weftonos.units";
const SPOKEN = "weftonos.spoken";

interface Choice {
  /** `null`: as the machine's gauge is marked. */
  force: Force | null;
  lengths: Lengths;
}
function stored<T extends object>(name: string, usual: T): T {
  try {
    return { ...usual, ...(JSON.parse(localStorage.getItem(name) ?? "{}") as Partial<T>) };
  } catch {
    return usual;
  }
}
export const choice = reactive<Choice>(
  stored<Choice>(CHOSEN, { force: null, lengths: usesInches ? "inch" : "metric" }),
);
/** What is spoken now; remembered, so that the first question of the next visit is asked in it. */
const now = reactive(
  stored<{ force: Force; lengths: Lengths }>(SPOKEN, { force: "mN", lengths: usesInches ? "inch" : "metric" }),
);
export const spoken = readonly(now);
/** The header, or the part of a link, that tells the server. */
export const unitsSaid = () => `${now.force},${now.lengths}${decimalMark === "," ? ",comma" : ""}`;
unitsHeader.said = unitsSaid;

/** Follows the choice and the machine; `changed` when answers already here are in other units. */
export function followUnits(gauge: Ref<Force | null | undefined>, changed: () => void) {
  watch(
    [() => choice.force, () => choice.lengths, gauge],
    ([force, lengths, marked]) => {
      localStorage.setItem(CHOSEN, JSON.stringify(choice));
      const before = unitsSaid();
      now.force = force ?? marked ?? now.force;
      now.lengths = lengths;
      localStorage.setItem(SPOKEN, JSON.stringify(now));
      if (unitsSaid() !== before) changed();
    },
    { immediate: true },
  );
}

/** What the server says of units, put here once: millinewton in each unit, meters in a yard, millimeters in an inch. */
const known = reactive({ mN: { mN: 1, gf: 1, cN: 1 } as Record<Force, number>, yard: 1, inch: 1 });
export function learnUnits(words: Pick<Schemas["Words"], "mn_per" | "meters_per_yard" | "mm_per_inch">) {
  Object.assign(known.mN, words.mn_per);
  known.yard = words.meters_per_yard;
  known.inch = words.mm_per_inch;
}

const DIGITS: Record<Force, number> = { mN: 0, gf: 1, cN: 1 };
export const pullIn = (mN: number, unit: Force) => fixed(mN / known.mN[unit], DIGITS[unit]);
/** A pull in the unit of this screen, without and with the unit's name. */
export const pullFigure = (mN: number) => pullIn(mN, now.force);
/** What a unit is called behind a number: quilters say grams. */
export const FORCE_SAYS: Record<Force, string> = { mN: "mN", gf: "g", cN: "cN" };
export const FORCE_NAMES: Record<Force, string> = { mN: "mN", gf: "grams", cN: "cN" };
export const forceUnit = () => FORCE_SAYS[now.force];
export const pull = (mN: number) => `${pullFigure(mN)} ${FORCE_SAYS[now.force]}`;
export const pulls = (low: number, high: number) => `${pullFigure(low)}–${pull(high)}`;
/** The same pull in the other unit that people know it by. */
export const pullBeside = (mN: number) => {
  const other: Force = now.force === "mN" ? "gf" : "mN";
  return `${pullIn(mN, other)} ${FORCE_SAYS[other]}`;
};
export const mnPer = (unit: Force) => known.mN[unit];

const inches = computed(() => now.lengths === "inch");
/** Thread and stitching: "120 m" or "131 yd". */
export const stretch = (m: number, digits = 0) => `${fixed(m / perStretch(), digits)} ${stretchUnit()}`;
const perStretch = () => (inches.value ? known.yard : 1);
export const stretchUnit = () => (inches.value ? "yd" : "m");
export const stretchFigure = (m: number) => +(m / perStretch()).toFixed(2);
/** A quilt's side: centimeters or inches. */
export const sideUnit = () => (inches.value ? "in" : "cm");
/** What is small: millimeters or inches. */
export const smallUnit = () => (inches.value ? "in" : "mm");
/** A stitch: millimeters, or stitches per inch. */
export const stitchUnit = () => (inches.value ? "stitches per inch" : "mm");

type Table = Record<string, number>;
const lengthTable = (): Table => ({
  mm: 1,
  cm: 10,
  m: 1000,
  meter: 1000,
  meters: 1000,
  metre: 1000,
  metres: 1000,
  in: known.inch,
  inch: known.inch,
  inches: known.inch,
  '"': known.inch,
  "″": known.inch,
  ft: 12 * known.inch,
  yd: 1000 * known.yard,
  yds: 1000 * known.yard,
  yards: 1000 * known.yard,
});
const forceTable = (): Table => ({
  mn: known.mN.mN,
  gf: known.mN.gf,
  g: known.mN.gf,
  grams: known.mN.gf,
  cn: known.mN.cN,
});

/** The number and the unit of what was typed: "60 in", "1.5 m", "0,18", "22 g". */
function quantity(field: string, text: string, table: Table, unit: string, what: string): number {
  const feet = /^\s*(\d+)\s*(?:ft|feet|foot|['′])\s*(?:(\d[^a-z"″]*?)\s*(?:in|inch|inches|["″])?)?\s*$/i.exec(text);
  if (feet && table.ft) {
    const inch = feet[2] ? quantity(field, feet[2], table, "in", what) : 0;
    return Number(feet[1]) * table.ft + inch;
  }
  const found = /^\s*(.*?[\d¼½¾⅓⅔⅛⅜⅝⅞])\s*([^\d\s¼½¾⅓⅔⅛⅜⅝⅞]*)\s*$/.exec(text);
  const value = found ? readNumber(found[1] ?? "") : undefined;
  if (value === undefined || !found) {
    const said = notANumber(text);
    throw new Problem(said, { [field]: said });
  }
  // Asks where it can be read two ways.
  numberIn(field, found[1] ?? "");
  const named = (found[2] || unit).toLowerCase();
  const factor = table[named];
  if (factor === undefined) {
    const said = `${what} isn't given in “${found[2]}”. Use ${Object.keys(table).slice(0, 5).join(", ")}.`;
    throw new Problem(said, { [field]: said });
  }
  return value * factor;
}
/** Reads several fields; what is wrong with each of them is said at once, and nothing is sent. */
export function allTyped<Field extends string>(readings: Record<Field, () => number>): Record<Field, number> {
  const numbers = {} as Record<Field, number>;
  const fields: Record<string, string> = {};
  for (const [field, read] of Object.entries<() => number>(readings)) {
    try {
      numbers[field as Field] = read();
    } catch (problem) {
      fields[field] = (problem as Problem).message;
    }
  }
  const [first] = Object.values(fields);
  if (first) throw new Problem(first, fields);
  return numbers;
}
/** A range of pulls, in mN. */
export const rangeTyped = (low: string, high: string) =>
  allTyped({ low: () => mnTyped("low", low), high: () => mnTyped("high", high) });
/** Millinewton from what was typed, in this screen's unit where none was. */
export const mnTyped = (field: string, text: string, unit: Force = now.force) =>
  quantity(field, text, forceTable(), unit.toLowerCase(), "A pull");
const mmTyped = (field: string, text: string, unit: string) => quantity(field, text, lengthTable(), unit, "A length");
/** A pull in the gauge's own unit from what was typed, in that unit or with another: 22 g. */
export const pullTyped = (field: string, text: string, unit: Force | null) =>
  unit ? mnTyped(field, text, unit) / mnPer(unit) : numberIn(field, text);
/** Meters of thread or stitching. */
export const metersTyped = (field: string, text: string) => mmTyped(field, text, stretchUnit()) / 1000;
export const optionalMeters = (field: string, text: string) => (text.trim() ? metersTyped(field, text) : null);
/** Meters of a quilt's side. */
export const sideTyped = (field: string, text: string) => mmTyped(field, text, sideUnit()) / 1000;
export const smallTyped = (field: string, text: string) => mmTyped(field, text, smallUnit());
/** A stitch length in mm from millimeters, or from stitches per inch where those are spoken and no unit was typed. */
export function stitchTyped(field: string, text: string): number {
  const plain = readNumber(text);
  if (inches.value && plain !== undefined && plain > 0) return known.inch / plain;
  return mmTyped(field, text, "mm");
}
/** What a field begins with, in this screen's units. */
export const begins = {
  side: (m: number) => String(+((m * 1000) / (inches.value ? known.inch : 10)).toFixed(0)),
  small: (mm: number) => String(+(mm / (inches.value ? known.inch : 1)).toFixed(inches.value ? 2 : 1)),
  stitch: (mm: number) => String(+(inches.value ? known.inch / mm : mm).toFixed(1)),
  stretch: (m: number) => String(stretchFigure(m)),
};

/** A stitch length, or a range of them: "3–3.5 mm", "7–8.5 to the inch". */
export function stitchWords(low: number, high: number): string {
  if (high === 0) return "0";
  const said = inches.value ? [known.inch / high, known.inch / low] : [low, high];
  const span = [...new Set(said.map((n) => figure(+n.toFixed(1))))].join("–");
  return inches.value ? `${span} to the inch` : `${span} mm`;
}

/** The time zone of this screen, by its name. */
export const zone = () => Intl.DateTimeFormat().resolvedOptions().timeZone;

/** What a link to a card says: the time zone and the units of this screen. */
export const printed = () => `zone=${encodeURIComponent(zone())}&units=${encodeURIComponent(unitsSaid())}`;
/** What a link to whole sheets says: the paper of the reader's country, too. */
export const onPaper = (paper: string = papers[0]) => `paper=${paper}&${printed()}`;
