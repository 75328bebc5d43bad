import { scaleLinear } from "d3-scale";
import { describe, expect, it } from "vitest";
import { timeScale } from "../src/draw/Axis";
import { describeGrowth, growthPaths, mostOf, stretchOf, type Growth } from "../src/draw/growthPaths";
import { day, isoDay } from "../src/units/format";

const series = (values: number[]) => ({ unit: "lb/ac", values });

/** Three days that were, two to come, and a cut among each. */
const growth = {
  from: "2026-05-12",
  so_far: series([100, 200, 300]),
  low: series([320, 340]),
  middle: series([350, 400]),
  high: series([380, 700]),
  above: { value: 300, unit: "lb/ac" },
  cuts: [
    { on: "2026-05-13", done: true },
    { on: "2026-05-16", done: false },
  ],
} as unknown as Growth;

describe("growth as it is drawn", () => {
  it("goes from its first day through today to its last", () => {
    const { from, today, to } = stretchOf(growth);
    expect([from, today, to].map(isoDay)).toEqual(["2026-05-12", "2026-05-15", "2026-05-17"]);
  });

  it("the most that stands is that of nine years in ten, or of half of them for the scale of a farm", () => {
    expect(mostOf(growth)).toBe(700);
    expect(mostOf(growth, "middle")).toBe(400);
  });

  it("is solid as far as today, and a fan from there on", () => {
    const scale = timeScale({ from: day("2026-05-12"), to: day("2026-05-17") }, 500);
    const { stood, fan, middle } = growthPaths(growth, scale, scaleLinear([0, 700], [70, 0]));
    // 100 of 700 stand 10 above the ground of 70, on the first day.
    expect(stood.startsWith("M0,60")).toBe(true);
    expect(fan.startsWith("M300,32")).toBe(true);
    expect(middle).toBe("M300,35L400,30");
  });

  it("is told in words", () => {
    expect(describeGrowth(growth, "2026-05-15")).toBe(
      "Standing dry matter: 300 lb/ac above the stubble, cut 13 May, planned cut 16 May",
    );
  });
});
