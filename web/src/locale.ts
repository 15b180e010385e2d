/**
 * How dates, times and numbers are written where the reader lives: English words, in the order and with the clock of the
 * region that the browser names. Every screen takes them from here; paper follows the same region by the
 * `Accept-Language` header that each request carries.
 */
const INCHES = new Set(["US", "LR", "MM"]);
const LETTER = new Set("US CA MX PH CL CO VE CR GT PA SV DO NI HN PR BO EC".split(" "));

function regionOf(tag: string): string {
  try {
    const known = new Intl.Locale(tag);
    return (known.region ? known : known.maximize()).region ?? "US";
  } catch {
    return "US";
  }
}

const language = typeof navigator === "undefined" ? "en-US" : navigator.language;
export const region = regionOf(language);
/** English as it is written in this region. */
export const locale = `en-${region}`;
/** Whether lengths are yards and inches unless somebody chose otherwise, and the papers, the usual one first. */
export const usesInches = INCHES.has(region);
export const papers = LETTER.has(region) ? (["letter", "a4"] as const) : (["a4", "letter"] as const);
export const PAPER_SAYS = { letter: "letter", a4: "A4" };

const parts = new Intl.NumberFormat(language).formatToParts(1.5);
/** The mark between a whole number and its decimals, as this reader types it. */
export const decimalMark = parts.find((part) => part.type === "decimal")?.value === "," ? "," : ".";
