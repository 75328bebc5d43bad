import { describe, expect, it } from "vitest";
import { spanOf, zooms } from "../src/draw/span";
import { ticks, timeScale } from "../src/draw/Axis";
import { day, isoDay } from "../src/units/format";

const ends = (zoom: (typeof zooms)[number], middle: string, begins = 1) => {
  const { from, to } = spanOf(zoom, day(middle), begins);
  return [isoDay(from), isoDay(to)];
};

describe("the stretch of time shown", () => {
  it.each([
    ["the northern year", "year", "2026-05-14", 1, ["2026-01-01", "2027-01-01"]],
    [
      "the southern year before its winter, with half a year ahead",
      "year",
      "2026-05-14",
      7,
      ["2025-12-01", "2026-12-01"],
    ],
    ["a year that ends next month", "year", "2026-11-30", 1, ["2026-06-01", "2027-06-01"]],
    ["the southern year after it", "year", "2026-08-14", 7, ["2026-07-01", "2027-07-01"]],
    ["a year from October on", "year", "2026-02-14", 10, ["2025-10-01", "2026-10-01"]],
    ["a fortnight", "fortnight", "2026-05-14", 1, ["2026-05-09", "2026-05-24"]],
    ["the life of a stand", "stand life", "2026-05-14", 1, ["2023-01-01", "2030-01-01"]],
  ] as const)("%s", (_, zoom, middle, begins, expected) => {
    expect(ends(zoom, middle, begins)).toEqual(expected);
  });

  it.each(Array.from({ length: 12 }, (_, month) => month + 1))(
    "half a year is ahead in month %i",
    (month) => {
      for (const begins of [1, 4, 7, 10]) {
        const today = day(`2026-${String(month).padStart(2, "0")}-28`);
        const { from, to } = spanOf("year", today, begins);
        expect(from <= today).toBe(true);
        expect(to.getTime() - today.getTime()).toBeGreaterThan(182 * 86_400_000);
      }
    },
  );

  it("has ticks that can be read at every zoom", () => {
    for (const zoom of zooms) {
      const width = 900;
      const marks = ticks(timeScale(spanOf(zoom, day("2026-05-14"), 1), width), width);
      expect(marks.length).toBeGreaterThan(2);
      const gaps = marks.slice(1).map((tick, index) => tick.x - (marks[index]?.x ?? 0));
      expect(Math.min(...gaps)).toBeGreaterThan(40);
    }
  });
});
