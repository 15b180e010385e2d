import { describe, expect, it } from "vitest";
import { Problem } from "../src/api/client";
import { minutesTyped, numberIn, numbersIn, optionalNumber, readNumber, readPulls } from "../src/composables/fields";

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
    ["5,500", 5500],
    ["1,204,000.5", 1204000.5],
    ["1 200", 1200],
    ["1\u202f200,5", 1200.5],
    ["1.204.000", 1204000],
    ["1.204", 1.204],
    ["0,125", 0.125],
    ["½", 0.5],
    ["2½", 2.5],
    ["1/2", 0.5],
    ["60 1/2", 60.5],
    ["-1/4", -0.25],
  ])("%j is %d", (text, value) => expect(readNumber(text)).toBe(value));

  it.each([
    ["5.500", 5500],
    ["1.204,5", 1204.5],
    ["2,5", 2.5],
    ["12.5", 12.5],
  ])("%j is %d where decimals have a comma", (text, value) => expect(readNumber(text, ",")).toBe(value));

  it.each(["", "   ", "abc", "2.5.1", "1,5,2", "12 mN", "1/0", "12,34,56", "Infinity", "NaN"])("%j is none", (text) =>
    expect(readNumber(text)).toBeUndefined(),
  );
});

describe("minutes", () => {
  it.each([
    ["45", 45],
    ["12 min", 12],
    ["1:30", 90],
    ["0:05", 5],
    ["1.5 h", 90],
    ["2 hours", 120],
    ["1½ h", 90],
  ])("%j is %d", (text, value) => expect(minutesTyped("minutes", text)).toBe(value));

  it("are asked for anew when they are none", () => {
    expect(refused(() => minutesTyped("minutes", "a while")).fields).toHaveProperty("minutes");
    expect(refused(() => minutesTyped("minutes", "1:75")).fields).toHaveProperty("minutes");
  });
});

describe("the fields of a form", () => {
  it("come as numbers, never as text", () => {
    expect(numbersIn({ low: "160", high: "166,5" })).toEqual({ low: 160, high: 166.5 });
    expect(numberIn("meters", "500")).toBe(500);
  });

  it("are all named when they are none, and nothing is sent", () => {
    const problem = refused(() => numbersIn({ low: "tight", mean: "200", high: " " }));
    expect(Object.keys(problem.fields)).toEqual(["low", "high"]);
    expect(problem.fields.low).toContain("“tight” isn't a number");
    expect(problem.fields.high).toBe("Type a number here.");
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
    expect(refused(() => readPulls("199-")).fields).toEqual({ high: "Type a number here." });
  });
});
