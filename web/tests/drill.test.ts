import { describe, expect, it } from "vitest";
import { caughtOf, courseOf, elsewhere, seenOf, type Written } from "../src/bench/drill";

const empty: Written = {
  also: [],
  drill: "",
  aim: null,
  pls: null,
  spacing: null,
  by: "rows",
  way: "measured",
  course: null,
  turns: "",
  circumference: null,
  lifted: true,
  skid: null,
  unit: "g",
  rows: [],
  mass: "",
  many: "",
  per_mass: null,
  beside: false,
  on: "row",
  seeds: "",
  along: null,
  patch: null,
  setting: "",
};
const g = (value: number) => ({ value, unit: "g" });
const ft = (value: number) => ({ value, unit: "ft" });

describe("what a drill dropped", () => {
  it("is each row's, rows that were not caught left out", () => {
    expect(caughtOf({ ...empty, rows: ["21", "", "20,5", "0"] })).toEqual({
      by: "rows",
      masses: [g(21), g(20.5), g(0)],
    });
    expect(caughtOf({ ...empty, rows: ["21", "much"] })).toBeNull();
    expect(caughtOf(empty)).toBeNull();
  });

  it("or that of so many rows together", () => {
    const together = { ...empty, by: "together" as const, mass: "168", many: "8" };
    expect(caughtOf(together)).toEqual({ by: "together", mass: g(168), rows: 8 });
    expect(caughtOf({ ...together, many: "" })).toBeNull();
  });

  it("over a way, or turns of a wheel of which one is known", () => {
    expect(courseOf({ ...empty, course: ft(200) })).toEqual({ by: "measured", length: ft(200) });
    expect(courseOf(empty)).toBeNull();
    const turns = { ...empty, way: "turns" as const, turns: "20", circumference: ft(7) };
    expect(courseOf(turns)).toMatchObject({
      by: "turns",
      turns: 20,
      circumference: ft(7),
      off_the_ground: true,
    });
    expect(courseOf({ ...turns, circumference: null })).toBeNull();
  });
});

describe("seeds that were counted", () => {
  it("lie along a row, or on a sheet or tray, of which the size is told", () => {
    const row = { ...empty, seeds: "30 28 35", along: ft(1) };
    expect(seenOf(row)).toEqual({ by: "in-rows", counts: [30, 28, 35], length: ft(1) });
    const sheet = { ...row, on: "ground" as const };
    expect(seenOf(sheet)).toBeNull();
    const patch = { value: 4, unit: "ft2" };
    expect(seenOf({ ...sheet, patch })).toEqual({ by: "on-ground", counts: [30, 28, 35], patch });
    expect(seenOf({ ...row, seeds: "" })).toBeNull();
  });
});

describe("a draft beside the plan", () => {
  const planned = { bulk_rate: { value: 19.5, unit: "lb/ac" }, pls: { value: 92, unit: "%" } } as never;

  it.each([
    ["nothing was written", {}, false],
    ["what the plan has", { aim: { value: 19.52, unit: "lb/ac" } }, false],
    ["more", { aim: { value: 20, unit: "lb/ac" } }, true],
    ["another lot", { pls: { value: 85, unit: "%" } }, true],
  ])("%s", (_, part, beside) => expect(elsewhere({ ...empty, ...part }, planned)).toBe(beside));
});
