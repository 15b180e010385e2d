import { Problem } from "../api/client";
import { decimalMark } from "../locale";

const NOT_A_NUMBER = (text: string) => `“${text.slice(0, 40)}” isn't a number. Type figures, such as 204.`;
const TWO_WAYS = (text: string) => {
  const digits = text.trim().replace(/[.,]/, "");
  const decimals = text.trim().replace(/0+$/, "").replace(/[.,]$/, `${decimalMark}0`);
  return `“${text.trim()}” can be read two ways. Type ${digits} or ${decimals}.`;
};
const PARTS: Record<string, number> = {
  "¼": 1 / 4,
  "½": 1 / 2,
  "¾": 3 / 4,
  "⅓": 1 / 3,
  "⅔": 2 / 3,
  "⅛": 1 / 8,
  "⅜": 3 / 8,
  "⅝": 5 / 8,
  "⅞": 7 / 8,
};
const WITH_SIGN = new RegExp(`^(-?)(?:(\\d+)[ -]?)?([${Object.keys(PARTS).join("")}])$`);
const WITH_SLASH = /^(-?)(?:(\d+)[ -])?(\d+)\s*[/⁄]\s*(\d+)$/;
/** Thousands apart by commas, points, blanks or apostrophes: 5,500 and 1 200 and 1.204.000,5. */
const GROUPED = /^-?[1-9]\d{0,2}([,.' \u00a0\u202f])\d{3}(?:\1\d{3})*(?:[.,]\d+)?$/;
const ONE_MARK = /^-?[1-9]\d{0,2}[.,]\d{3}$/;

/** Whether somebody whose decimals have a comma may mean thousands by this, or not: 1.204 and 1,204. */
const canBeTwo = (text: string, mark: string) => mark === "," && ONE_MARK.test(text.trim());

/**
 * The number a text means as people type it: 2.5 and 2,5, thousands apart (5,500, 1 200), fractions (½, 60 1/2);
 * `undefined` for what is none. A comma before three digits parts thousands where the reader's decimals have a point.
 */
export function readNumber(text: string, mark: string = decimalMark): number | undefined {
  const typed = text.trim();
  const found = WITH_SIGN.exec(typed) ?? WITH_SLASH.exec(typed);
  if (found) {
    const part = found[4] ? Number(found[3]) / Number(found[4]) : (PARTS[found[3] ?? ""] ?? NaN);
    const value = Number(found[2] ?? 0) + part;
    return Number.isFinite(value) ? (found[1] ? -value : value) : undefined;
  }
  const apart = GROUPED.exec(typed)?.[1];
  const groups = apart !== undefined && !(ONE_MARK.test(typed) && apart === mark);
  const plain = (groups ? typed.split(apart).join("") : typed).replace(",", ".");
  const value = Number(plain);
  return plain === "" || !Number.isFinite(value) ? undefined : value;
}

/**
 * The numbers typed into a form, by the names the server gives its fields. What is no number is thrown as a
 * {@link Problem} with a sentence for each such field, as if the server had refused it, and nothing is sent.
 */
export function numbersIn<Field extends string>(texts: Record<Field, string>): Record<Field, number> {
  const numbers = {} as Record<Field, number>;
  const fields: Record<string, string> = {};
  for (const [field, text] of Object.entries<string>(texts)) {
    const value = readNumber(text);
    if (value === undefined) fields[field] = notANumber(text);
    else if (canBeTwo(text, decimalMark)) fields[field] = TWO_WAYS(text);
    else numbers[field as Field] = value;
  }
  const [first] = Object.values(fields);
  if (first) throw new Problem(first, fields);
  return numbers;
}

/** What is said of a text that is no number. */
export const notANumber = (text: string) => (text.trim() ? NOT_A_NUMBER(text) : "Type a number here.");

/** Minutes from what was typed: 45, 12 min, 1.5 h, 1:30. */
export function minutesTyped(field: string, text: string): number {
  const clock = /^\s*(\d{1,3}):([0-5]\d)\s*h?\s*$/.exec(text);
  if (clock) return 60 * Number(clock[1]) + Number(clock[2]);
  const named = /^(.*?\d[^a-z]*)\s*(h|hr|hrs|hours?|min|mins|minutes?|m)\.?\s*$/i.exec(text);
  const value = numberIn(field, named?.[1] ?? text);
  return named?.[2]?.toLowerCase().startsWith("h") ? 60 * value : value;
}

/** One number of a form; see {@link numbersIn}. */
export const numberIn = (field: string, text: string) => numbersIn({ [field]: text })[field] as number;

/** A number that may be left out: `null` for an empty field. */
export const optionalNumber = (field: string, text: string) => (text.trim() ? numberIn(field, text) : null);

/** The pulls of a reading as they are typed: `"204  199-210"`. */
export function readPulls(text: string) {
  return text
    .split(/[\s;]+/)
    .filter(Boolean)
    .map((pull) => {
      const [low = "", high] = pull.split(/[-–]/);
      return high === undefined ? { value: numberIn("pulls", low) } : numbersIn({ low, high });
    });
}
