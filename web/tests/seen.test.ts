import { describe, expect, it } from "vitest";
import { Problem } from "../src/api/client";
import { differing, useSeen } from "../src/composables/seen";
import { megabytes } from "../src/words";

describe("two hands on one row", () => {
  it("tells the fields that differ, whatever their order, and nothing else", () => {
    const now = { name: "Tern 40", note: "tablet", bought: null, thread: { value: 40, system: "wt" }, plies: 3 };
    const mine = { note: "here", name: "Tern 40", bought: null, thread: { system: "wt", value: 40 } };
    expect(differing(now, mine)).toEqual([{ field: "note", now: "tablet", mine: "here" }]);
    expect(differing(now, { thread: { system: "wt", value: 50 }, needle_system: "134" })).toEqual([
      { field: "thread", now: "40, wt", mine: "wt, 50" },
    ]);
    expect(differing({ note: "" }, { note: "x" })).toEqual([{ field: "note", now: "nothing", mine: "x" }]);
    expect(differing(null, { note: "x" })).toEqual([]);
  });
  it("changes what was seen, and over it once the other side is known", () => {
    const seen = useSeen(3);
    expect(seen.header()).toEqual({ "if-match": '"3"' });
    seen.writeOver(new Problem("changed", {}, false, { now: {}, version: 5 }));
    expect(seen.header()).toEqual({ "if-match": '"5"' });
    seen.writeOver(new Problem("lost"));
    expect(seen.header()).toEqual({ "if-match": '"5"' });
    seen.look(undefined);
    expect(seen.header()).toEqual({});
  });
});

it("says sizes as people do", () => {
  expect([120, 372_736, 3_400_000, 82e9].map(megabytes)).toEqual(["1 kB", "373 kB", "3.4 MB", "82 GB"]);
});
