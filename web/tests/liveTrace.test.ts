import { expect, it } from "vitest";
import { LiveTrace } from "../src/stations/bobbin/liveTrace";

const sample = (n: number) => [n / 50, n / 10, 200 + n] as const;

it("keeps samples in the order they came", () => {
  const trace = new LiveTrace();
  expect(trace.size).toBe(0);
  trace.add([sample(0), sample(1), sample(2)]);
  expect(trace.columns()).toEqual([
    [0, 0.1, 0.2],
    [200, 201, 202],
  ]);
  expect(trace.at(0)).toEqual([0.04, 202]);
  expect(trace.at(2)).toEqual([0, 200]);
});

it("lets the oldest go when it is full, and counts on", () => {
  const trace = new LiveTrace();
  const all = Array.from({ length: LiveTrace.KEPT + 7 }, (_, n) => sample(n));
  for (let i = 0; i < all.length; i += 500) trace.add(all.slice(i, i + 500));
  expect(trace.total).toBe(LiveTrace.KEPT + 7);
  expect(trace.size).toBe(LiveTrace.KEPT);
  const [mm, mn] = trace.columns();
  expect(mm[0]).toBeCloseTo(0.7);
  expect(mn.at(-1)).toBe(200 + LiveTrace.KEPT + 6);
  expect(mn.every((value, i) => i === 0 || value > (mn[i - 1] ?? 0))).toBe(true);
  expect(trace.at(LiveTrace.KEPT - 1)[1]).toBe(207);
});

it("begins anew when it is cleared", () => {
  const trace = new LiveTrace();
  trace.add([sample(5), sample(6)]);
  trace.clear();
  expect(trace.columns()).toEqual([[], []]);
  trace.add([sample(9)]);
  expect(trace.at(0)).toEqual([9 / 50, 209]);
});

it("is written as a recorded pull, with two figures", () => {
  const trace = new LiveTrace();
  trace.add([
    [0, 0, 200],
    [0.02, 1.006, 203.456],
  ]);
  expect(trace.csv(false)).toBe("length_mm,tension_mn\n0.00,200.00\n1.01,203.46\n");
  expect(trace.csv(true)).toBe("length_mm,tension_mn,stand_in\n0.00,200.00,1\n1.01,203.46,1\n");
});
