import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { createApp, ref } from "vue";
import { SETTLED, turnsLeft, useTurn } from "../src/composables/turns";

/** Parts of a station that is being opened, or of one that is shown. */
function parts(many: number, shown: boolean) {
  const app = createApp({});
  app.provide(SETTLED, ref(shown));
  return app.runWithContext(() => Array.from({ length: many }, () => useTurn()));
}
/** What the screen does once it has seen to taps and keys. */
let later: (() => void)[] = [];
/** Lets one stretch pass, with all that is drawn in it. */
async function stretch() {
  later.shift()?.();
  for (let at = 0; at < 50; at += 1) await Promise.resolve();
}
beforeEach(() => {
  later = [];
  vi.stubGlobal("window", { setTimeout: (run: () => void) => later.push(run) });
  vi.spyOn(console, "warn").mockImplementation(() => undefined);
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

test("what is shown already draws at once", () => {
  expect(parts(3, true).map((part) => part.value)).toEqual([true, true, true]);
  expect(turnsLeft.value).toBe(0);
});

test("parts are drawn in their order, and a busy screen lets a tap in between", async () => {
  // Each part takes longer than a stretch.
  let clock = 0;
  vi.spyOn(performance, "now").mockImplementation(() => (clock += 20));
  const drawn = parts(3, false);
  expect(turnsLeft.value).toBe(3);
  for (const done of [1, 2, 3]) {
    await stretch();
    expect(drawn.map((part) => part.value)).toEqual([0, 1, 2].map((at) => at < done));
    expect(turnsLeft.value).toBe(3 - done);
  }
  expect(later).toHaveLength(0);
});

test("quick parts are drawn in one stretch", async () => {
  vi.spyOn(performance, "now").mockReturnValue(5);
  const drawn = parts(4, false);
  await stretch();
  expect(drawn.every((part) => part.value)).toBe(true);
  expect(turnsLeft.value).toBe(0);
});
