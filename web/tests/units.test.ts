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
  onPaper,
  optionalMeters,
  printed,
  pull,
  pullBeside,
  pulls,
  pullTyped,
  rangeTyped,
  sideTyped,
  smallTyped,
  stitchTyped,
  stitchUnit,
  stitchWords,
  stretch,
  stretchFigure,
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

it("says the same pull in the unit beside, and lengths as numbers", async () => {
  expect([pullBeside(204), stretchFigure(110), stitchUnit(), begins.small(0.18), begins.stretch(2.345)]).toEqual([
    "20.8 g",
    110,
    "mm",
    "0.2",
    "2.35",
  ]);
  await says("gf", "inch");
  expect([pullBeside(204), stretchFigure(110), stitchUnit(), begins.small(12.7), begins.stretch(9.144)]).toEqual([
    "204 mN",
    120.3,
    "stitches per inch",
    "0.5",
    "10",
  ]);
  await says("cN", "metric");
  expect(pullBeside(204)).toBe("204 mN");
});

it("reads a range of pulls, and says what is wrong with either end", () => {
  expect(rangeTyped("180", "22.4 g")).toEqual({ low: 180, high: 22.4 * 9.80665 });
  const fields = (low: string, high: string) => {
    try {
      rangeTyped(low, high);
    } catch (problem) {
      return (problem as Problem).fields;
    }
    return {};
  };
  expect(Object.keys(fields("x", ""))).toEqual(["low", "high"]);
  expect(fields("180", "12 kg")).toEqual({ high: "A pull isn't given in “kg”. Use mn, gf, g, grams, cn." });
  expect(fields("180", "220")).toEqual({});
});

it("reads yards by every name, feet with and without inches, and nothing where nothing was typed", () => {
  for (const name of ["yd", "yds", "yards", "YD"]) expect(metersTyped("m", `10 ${name}`)).toBeCloseTo(9.144, 9);
  for (const name of ["ft", "feet", "foot", "'", "′"]) expect(sideTyped("w", `12 ${name}`)).toBeCloseTo(3.6576, 9);
  expect(sideTyped("w", " 5 ft 10 in ")).toBeCloseTo(1.778, 9);
  expect(sideTyped("w", "5'10½″")).toBeCloseTo(1.7907, 9);
  expect([optionalMeters("m", "  "), optionalMeters("m", "12")]).toEqual([null, 12]);
  expect(pullTyped("value", "0.7", null)).toBe(0.7);
  expect(pullTyped("value", "22 g", "gf")).toBeCloseTo(22, 9);
  expect(() => sideTyped("w", "3 kg")).toThrow("A length isn't given in “kg”. Use mm, cm, m, meter, meters.");
});

it("takes stitches to the inch for that only where inches are spoken, and none for no stitch", async () => {
  expect(stitchTyped("stitch", "8")).toBe(8);
  await says("mN", "inch");
  expect(stitchTyped("stitch", "8")).toBeCloseTo(3.175, 9);
  expect(stitchTyped("stitch", "0")).toBe(0);
});

it("tells a link to paper the zone, the units and the paper", async () => {
  await says("gf", "inch");
  expect(printed()).toBe("zone=Pacific%2FAuckland&units=gf%2Cinch");
  expect(onPaper("a4")).toBe("paper=a4&zone=Pacific%2FAuckland&units=gf%2Cinch");
});

it("says nothing of a change where nothing that is said has changed", async () => {
  await says("mN", "metric");
  const before = changes;
  await says(null, "metric");
  expect(changes).toBe(before);
});
