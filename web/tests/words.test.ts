import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { choices, day, duration, localMoment, momentsOf, moment, percent, time, unprinted, whole } from "../src/words";

beforeEach(() => {
  vi.useFakeTimers();
  vi.setSystemTime(new Date("2026-06-15T12:00:00Z"));
});
afterEach(() => vi.useRealTimers());

it("writes stitching time as people say it", () => {
  const said = ["0 min", "59 min", "1 h", "1 h 25 min", "1 h 25 min", "10 h"];
  expect([0, 59, 60, 85, 85.9, 600].map(duration)).toEqual(said);
});

it("names the year only when it is another", () => {
  expect(day("2026-03-04T10:00:00Z")).toBe("Mar 4");
  expect(day("2025-03-04T10:00:00Z")).toBe("Mar 4, 2025");
});

it("shows an instant in the zone of the screen", () => {
  // The tests run in Auckland (see vite.config.ts): the evening before in London is the next morning there.
  expect(day("2026-06-14T20:30:00+00:00")).toBe("Jun 15");
  expect(time("2026-06-14T20:30:00+00:00")).toBe("8:30 AM");
});

it("puts a day and its time together as an American reads them", () => {
  expect(moment("2026-06-14T20:30:00+00:00")).toBe("Jun 15, 8:30 AM");
  expect(moment("2025-12-01T00:00:00+00:00")).toBe("Dec 1, 2025, 1:00 PM");
  expect(whole(1204.4)).toBe("1,204");
});

it("reads back the moment it puts into a field, and sends it with its offset", () => {
  const noon = new Date("2026-06-15T12:34:00Z");
  expect(localMoment(noon)).toBe("2026-06-16T00:34");
  expect(momentsOf(localMoment(noon))).toEqual(["2026-06-15T12:34:00.000Z"]);
  expect(momentsOf("")).toEqual([]);
});

it("rounds a share to whole per cent", () => {
  expect([0, 0.004, 0.006, 0.995, 1].map(percent)).toEqual(["0%", "0%", "1%", "100%", "100%"]);
});

it("has no choices before the server has named them", () => {
  expect(choices(undefined)).toEqual([]);
  expect(choices<"a">([{ value: "a", name: "A" }])).toEqual([{ value: "a", name: "A" }]);
});

it("knows that a clock set back shows an hour twice, and one set forward leaves one out", () => {
  // Auckland goes back at 3:00 on 5 April 2026 and forward at 2:00 on 27 September.
  expect(momentsOf("2026-04-05T02:30")).toEqual(["2026-04-04T13:30:00.000Z", "2026-04-04T14:30:00.000Z"]);
  expect(momentsOf("2026-04-05T02:30").map((one) => localMoment(new Date(one)))).toEqual(
    Array(2).fill("2026-04-05T02:30"),
  );
  expect(momentsOf("2026-04-05T03:30")).toHaveLength(1);
  expect(momentsOf("2026-09-27T02:30")).toHaveLength(1);
});

it("names the letters that paper has no font for, and no others", () => {
  for (const name of ["Ebb 40", "Żółty “Łoś” ½", "Trần Thị", "Αθηνά", "Иволга"]) expect(unprinted(name)).toBe("");
  expect(unprinted("שלום 40")).toBe("שלום");
  expect(unprinted("Thread 🧵 縫")).toBe("🧵縫");
});
