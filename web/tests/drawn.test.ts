import { describe, expect, it } from "vitest";
import { NO_COLOR, drawnPair } from "../src/drawn";

describe("top and bobbin in a picture that is judged", () => {
  it("have their own colors where they differ", () => {
    expect(drawnPair({ color: "#b92a2f" }, { color: "#f7f7f5" })).toEqual({ top: "#b92a2f", bobbin: "#f7f7f5" });
  });
  it("are a neutral pair where nobody noted a color", () => {
    const { top, bobbin } = drawnPair({ color: NO_COLOR }, { color: NO_COLOR });
    expect(top).not.toBe(bobbin);
    expect(drawnPair()).toEqual({ top, bobbin });
  });
  it.each(["#1c1c1f", "#f7f7f5", "#3b6fb0", "#d8c9a8", "#4f6378"])("never look alike: %s over itself", (color) => {
    const { top, bobbin } = drawnPair({ color }, { color });
    expect(top).toBe(color);
    expect(bobbin).not.toBe(color);
  });
});
