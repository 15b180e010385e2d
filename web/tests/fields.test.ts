import { describe, expect, it } from "vitest";
import { Problem } from "../src/api/client";
import { numberIn, numbersIn, optionalNumber, readNumber, readPulls } from "../src/composables/fields";

function refused(call: () => unknown): Problem {
  try {
    call();
  } catch (error) {
    if (error instanceof Problem) return error;
    throw error;
  }
  throw new Error("nothing was refused");
}

describe("a number as it is typed", () => {
  it.each([
    ["204", 204],
    [" 2,5 ", 2.5],
    ["2.5", 2.5],
    ["-1", -1],
    ["0", 0],
  ])("%j is %d", (text, value) => expect(readNumber(text)).toBe(value));

  it.each(["", "   ", "abc", "2.5.1", "1,5,2", "12 mN", "Infinity", "NaN"])("%j is none", (text) =>
    expect(readNumber(text)).toBeUndefined(),
  );
});

describe("the fields of a form", () => {
  it("come as numbers, never as text", () => {
    expect(numbersIn({ low: "160", high: "166,5" })).toEqual({ low: 160, high: 166.5 });
    expect(numberIn("meters", "500")).toBe(500);
  });

  it("are all named when they are none, and nothing is sent", () => {
    const problem = refused(() => numbersIn({ low: "tight", mean: "200", high: " " }));
    expect(Object.keys(problem.fields)).toEqual(["low", "high"]);
    expect(problem.fields.low).toContain("“tight” is not a number");
    expect(problem.fields.high).toBe("Put in a number here.");
    expect(problem.message).toBe(problem.fields.low);
  });

  it("repeat no more than the beginning of a long text", () => {
    const { message } = refused(() => numberIn("price", "x".repeat(500)));
    expect(message.length).toBeLessThan(120);
  });

  it("may be left out where the server allows it", () => {
    expect(optionalNumber("price", "  ")).toBeNull();
    expect(optionalNumber("price", "1,2")).toBe(1.2);
    expect(refused(() => optionalNumber("price", "dear")).fields).toHaveProperty("price");
  });
});

describe("pulls", () => {
  it("are single values or a swing, by blanks or semicolons", () => {
    expect(readPulls(" 204  199-210;201,5 198–202 ")).toEqual([
      { value: 204 },
      { low: 199, high: 210 },
      { value: 201.5 },
      { low: 198, high: 202 },
    ]);
    expect(readPulls("   ")).toEqual([]);
  });

  it("name what is no number", () => {
    expect(refused(() => readPulls("204 tight")).fields.pulls).toContain("“tight”");
    expect(refused(() => readPulls("199-")).fields).toEqual({ high: "Put in a number here." });
  });
});
