import { Problem } from "../api/client";

const NOT_A_NUMBER = (text: string) => `“${text.slice(0, 40)}” is not a number. Put in figures, such as 204.`;

/** The number a text means, with comma or point; `undefined` for what is none. */
export function readNumber(text: string): number | undefined {
  const plain = text.trim().replace(",", ".");
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
    if (value === undefined) fields[field] = text.trim() ? NOT_A_NUMBER(text) : "Put in a number here.";
    else numbers[field as Field] = value;
  }
  const [first] = Object.values(fields);
  if (first) throw new Problem(first, fields);
  return numbers;
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
