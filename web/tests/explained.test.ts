import { describe, expect, it } from "vitest";
import { formsPattern, placesIn } from "../src/composables/explained";

const words = [
  { term: "wt", says: "", forms: ["wt"] },
  { term: "burr", says: "", forms: ["burr", "burrs"] },
  { term: "test line", says: "", forms: ["test line", "test lines"] },
  { term: "minutes", says: "", forms: [] },
];
const pattern = formsPattern(words)!;
const found = (text: string, met = new Set<string>()) =>
  placesIn(text, words, pattern, met).map((place) => text.slice(place.from, place.upTo));

describe("words that a tap explains", () => {
  it("are whole words in any of their forms", () => {
    expect(found("Feel the hook for burrs, then sew two test lines in 40 wt.")).toEqual(["burrs", "test lines", "wt"]);
    expect(found("The burring and the 40wt-like newt")).toEqual([]);
  });
  it("are told once on a page", () => {
    const met = new Set<string>();
    expect(found("A burr. Another burr.", met)).toEqual(["burr"]);
    expect(found("A third burr.", met)).toEqual([]);
  });
  it("are none of those with an everyday sense", () => {
    expect(found("It takes two minutes.")).toEqual([]);
    expect(formsPattern(words.slice(3))).toBeNull();
  });
});
