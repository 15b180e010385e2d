import { decimalMark, locale } from "./locale";

/** How numbers and times are written on every screen: decimals with the reader's own mark. */
export const figure = (value: number) => String(value).replace(".", decimalMark);
export const fixed = (value: number, digits = 0) => value.toFixed(digits).replace(".", decimalMark);
export const percent = (value: number) => `${Math.round(value * 100)}%`;

/** How a motion is called. */
export const MOTION_SAYS = { free_motion: "free-motion", straight: "straight", decorative: "decorative" };

/** How careful a quilt wants its maker to be. */
export const CARES = [
  { value: "matters" as const, name: "It matters" },
  { value: "usual" as const, name: "As usual" },
  { value: "scrap" as const, name: "Scrap" },
];

/** Stitching time as people say it: 58 min, 1 h 25 min, 2 h. */
export function duration(minutes: number): string {
  const [hours, rest] = [Math.floor(minutes / 60), Math.floor(minutes % 60)];
  return hours ? `${hours} h${rest ? ` ${rest} min` : ""}` : `${rest} min`;
}

const DATE = { month: "short", day: "numeric" } as const;
const CLOCK = { hour: "numeric", minute: "2-digit" } as const;
/** Each is made when it is first used: together they hold up the start. */
function written(options: Intl.DateTimeFormatOptions) {
  let made: Intl.DateTimeFormat | undefined;
  return (date: Date) => (made ??= new Intl.DateTimeFormat(locale, options)).format(date);
}
const DAY = written(DATE);
const DAY_AND_YEAR = written({ ...DATE, year: "numeric" });
const TIME = written(CLOCK);
const MOMENT = written({ ...DATE, ...CLOCK });
const MOMENT_AND_YEAR = written({ ...DATE, ...CLOCK, year: "numeric" });
const thisYear = (date: Date) => date.getFullYear() === new Date().getFullYear();
// A narrow space before AM and PM is a letter that people search for in vain.
const plain = (text: string) => text.replace(/\u202f/g, " ");

/** A day: "Nov 24", with its year where that is another. */
export function day(iso: string): string {
  const date = new Date(iso);
  return (thisYear(date) ? DAY : DAY_AND_YEAR)(date);
}
export const time = (iso: string) => plain(TIME(new Date(iso)));
/** A day with its time: "Nov 24, 3:31 PM". */
export function moment(iso: string): string {
  const date = new Date(iso);
  return plain((thisYear(date) ? MOMENT : MOMENT_AND_YEAR)(date));
}
/** A whole number with its thousands apart: "1,204". */
export const whole = (value: number) => Math.round(value).toLocaleString(locale);

/** The value of a datetime-local field for a moment, in this machine's zone. */
export function localMoment(date: Date): string {
  const shifted = new Date(date.getTime() - date.getTimezoneOffset() * 60_000);
  return shifted.toISOString().slice(0, 16);
}
const AROUND = [-60, -30, 0, 30, 60].map((minutes) => minutes * 60_000);
/** What a datetime-local field means: none when it is empty, two in the hour that a clock set back shows twice. */
export function momentsOf(local: string): string[] {
  if (!local) return [];
  const middle = new Date(local).getTime();
  const times = AROUND.map((by) => new Date(middle + by)).filter((one) => localMoment(one) === local.slice(0, 16));
  // An hour that a clock set forward leaves out is taken as the browser takes it.
  return (times.length ? times : [new Date(middle)]).map((one) => one.toISOString());
}

/** A size in bytes, as people say it. */
export const megabytes = (bytes: number) =>
  bytes < 1e6
    ? `${Math.max(1, Math.round(bytes / 1e3))} kB`
    : bytes < 1e9
      ? `${fixed(bytes / 1e6, 1)} MB`
      : `${(bytes / 1e9).toFixed(0)} GB`;

const LISTED = new Intl.ListFormat("en-US");
/** Several things in one sentence: "a, b, and c". */
export const listed = (things: string[]) => LISTED.format(things);

/** So many of a thing: "1 record", "3 records". */
export const counted = (count: number, one: string, many = `${one}s`) => `${count} ${count === 1 ? one : many}`;

/** How far a fact can be trusted, in words. */
export const STANDING = {
  published: "published",
  common_practice: "common practice",
  own_records: "your records",
  memory: "from memory",
  estimate: "our estimate",
};

/** A list of choices from the server, as a field of that type wants it. */
export const choices = <T extends string>(list?: readonly { value: string; name: string }[]) =>
  (list ?? []) as { value: T; name: string }[];

/** What can differ between two set-ups. */
export const CHANGED = {
  top_thread: "Top thread",
  bobbin_thread: "Bobbin thread",
  bobbin_case: "Case",
  bobbin_reading: "Bobbin",
  needle: "Needle",
  new_needle: "Needle",
  sandwich: "Batting",
  setting: "Top tension",
};

/** The letters of a name that no font of ours has, so that paper can't show them: the first few. */
export function unprinted(name: string): string {
  const known = /[\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic}]/u;
  const letters = [...name].filter((c) => /\p{L}|\p{Extended_Pictographic}/u.test(c) && !known.test(c));
  return letters.slice(0, 6).join("");
}
