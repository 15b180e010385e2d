import { beforeEach, expect, it } from "vitest";
import { ref } from "vue";
import { Problem } from "../src/api/client";
import {
  allTyped,
  begins,
  choice,
  followUnits,
  learnUnits,
  metersTyped,
  mnTyped,
  pull,
  pulls,
  pullTyped,
  sideTyped,
  smallTyped,
  stitchTyped,
  stitchWords,
  stretch,
  unitsSaid,
} from "../src/units";

// By definition: standard gravity (BIPM), and the international yard and inch of 1959.
learnUnits({ mn_per: { mN: 1, gf: 9.80665, cN: 10 }, meters_per_yard: 0.9144, mm_per_inch: 25.4 });
let changes = 0;
followUnits(ref("mN" as const), () => (changes += 1));

beforeEach(() => Object.assign(choice, { force: "mN", lengths: "metric" }));
const says = async (force: typeof choice.force, lengths: typeof choice.lengths) => {
  Object.assign(choice, { force, lengths });
  await Promise.resolve();
  await Promise.resolve();
};

it("says a pull and a length in the units of this screen, and tells the server", async () => {
  expect([pull(204), pulls(180, 220), stretch(110)]).toEqual(["204 mN", "180–220 mN", "110 m"]);
  const before = changes;
  await says("gf", "inch");
  expect([pull(204), pulls(180, 220), stretch(110)]).toEqual(["20.8 g", "18.4–22.4 g", "120 yd"]);
  expect(unitsSaid()).toBe("gf,inch");
  expect(changes).toBeGreaterThan(before);
});

it("understands a unit that is typed with the number", async () => {
  expect(mnTyped("value", "22 g")).toBeCloseTo(215.7463, 4);
  expect(mnTyped("value", "20,4 cN")).toBeCloseTo(204, 9);
  expect(sideTyped("width", "60 in")).toBeCloseTo(1.524, 9);
  expect(sideTyped("width", "1.5 m")).toBe(1.5);
  expect(sideTyped("width", "150")).toBe(1.5);
  expect(smallTyped("apart", "0,18")).toBe(0.18);
  expect(metersTyped("meters", "10 yd")).toBeCloseTo(9.144, 9);
  expect(stitchTyped("stitch", "3")).toBe(3);
  await says("gf", "inch");
  expect(mnTyped("value", "22")).toBeCloseTo(215.7463, 4);
  expect(sideTyped("width", "60")).toBeCloseTo(1.524, 9);
  expect(stitchTyped("stitch", "8")).toBeCloseTo(3.175, 9);
  expect(stitchTyped("stitch", "3 mm")).toBe(3);
  expect(begins.stitch(3.175)).toBe("8");
  expect(sideTyped("width", "60 1/2")).toBeCloseTo(1.5367, 9);
  expect(sideTyped("width", "5 ft 3")).toBeCloseTo(1.6002, 9);
  expect(sideTyped("width", "5' 3½\"")).toBeCloseTo(1.6129, 9);
  expect(smallTyped("apart", "½")).toBeCloseTo(12.7, 9);
  expect(metersTyped("length_m", "5,500 yd")).toBeCloseTo(5029.2, 6);
  expect(pullTyped("value", "22 g", "mN")).toBeCloseTo(215.7463, 4);
  expect(begins.side(1.524)).toBe("60");
});

it("says what is wrong with each field at once", () => {
  const wrong = () =>
    allTyped({ value: () => mnTyped("value", "12 kg"), width: () => sideTyped("width", ""), ok: () => 1 });
  expect(wrong).toThrow(Problem);
  try {
    wrong();
  } catch (problem) {
    const { fields } = problem as Problem;
    expect(Object.keys(fields)).toEqual(["value", "width"]);
    expect(fields.value).toContain("“kg”");
  }
});

it("says a stitch in millimeters, or in stitches to the inch", async () => {
  expect([stitchWords(1.5, 2), stitchWords(4.5, 4.5), stitchWords(0, 0)]).toEqual(["1.5–2 mm", "4.5 mm", "0"]);
  await says("mN", "inch");
  expect(stitchWords(3, 3.5)).toBe("7.3–8.5 to the inch");
});
