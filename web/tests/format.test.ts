import { describe, expect, it } from "vitest";
import { payIn } from "../src/units/currency";
import { tellDaysFor } from "../src/units/order";
import { day, dayText, isoDay, plain, range, shareOf, shown, typed } from "../src/units/format";

describe("quantities as text", () => {
  it.each([
    [{ value: 15.04, unit: "lb/ac" }, "15 lb/ac"],
    [{ value: 15.06, unit: "lb/ac" }, "15.1 lb/ac"],
    [{ value: 220_000, unit: "/lb" }, "220,000/lb"],
    [{ value: -0.04, unit: "degC" }, "0 °C"],
    [{ value: -3.2, unit: "degC" }, "−3.2 °C"],
    [{ value: 1234.6, unit: "money" }, "$1,235"],
    [{ value: 4.5, unit: "money" }, "$4.50"],
    [{ value: 0.816, unit: "money/lb nutrient" }, "$0.82/lb"],
    [{ value: 46.15, unit: "%" }, "46.2%"],
    [{ value: 0.25, unit: "in" }, "0.25 in"],
    [{ value: 0.25, unit: "gal/ac" }, "0.25 gal/ac"],
    [{ value: 300, unit: "gal" }, "300 gal"],
  ])("%o", (quantity, expected) => expect(plain(quantity)).toBe(expected));

  it("money is in what the farm pays", () => {
    payIn("EUR");
    expect(plain({ value: 4.5, unit: "money/kg" })).toBe("€4.50/kg");
    payIn("ARS");
    expect(plain({ value: -1234.6, unit: "money" })).toBe("−ARS\u00a01,235");
    payIn("USD");
  });

  it("a column keeps its decimals, a sentence does not", () => {
    expect(shown({ value: 50, unit: "lb" }).number).toBe("50.0");
    expect(plain({ value: 50, unit: "lb" })).toBe("50 lb");
  });

  it("what a person would type again gives the same", () => {
    expect(typed({ value: 12.345678, unit: "in" })).toBe("12.3457 in");
    expect(typed({ value: 1247.03, unit: "ft" })).toBe("1247 ft");
  });

  it("a share is a share in percent too", () => {
    expect(shareOf({ value: 62.5, unit: "%" })).toBe(0.625);
  });
});

describe("days", () => {
  it.each([
    ["2026-05-14", 2026, "14 May"],
    ["2025-05-14", 2026, "14 May 2025"],
    ["not yet", 2026, "not yet"],
  ])("%s", (text, year, expected) => expect(dayText(text, year)).toBe(expected));

  it("the month comes first for who reads US units", () => {
    tellDaysFor("us");
    expect(dayText("2026-05-14")).toBe("May 14");
    expect(dayText("2025-05-14", 2026)).toBe("May 14, 2025");
    tellDaysFor("metric");
    expect(dayText("2025-05-14", 2026)).toBe("14 May 2025");
  });

  it("a year of many digits is a year too", () => {
    expect(day("12026-05-14").getUTCFullYear()).toBe(12026);
    expect(isoDay(day("2026-05-14"))).toBe("2026-05-14");
  });
});

describe("small amounts", () => {
  it.each([
    [0.7408, "oz", "0.74 oz"],
    [12.34, "oz", "12.3 oz"],
    [0.216, "ac", "0.22 ac"],
    [7.2, "ac", "7.2 ac"],
    [0, "ac", "0 ac"],
    [140.4, "ac", "140 ac"],
  ])("%d %s is read as %s", (value, unit, text) => {
    expect(plain({ value, unit }).replace(/\u2009|\u00a0/g, " ")).toBe(text);
  });
});

describe("a range", () => {
  it("says its unit once", () => {
    expect(range({ value: 15, unit: "lb/ac" }, { value: 20, unit: "lb/ac" })).toBe("15–20 lb/ac");
    expect(range({ value: 0, unit: "in" }, { value: 6, unit: "in" })).toBe("0–6 in");
    expect(range({ value: 10, unit: "%" }, { value: 12.5, unit: "%" })).toBe("10–12.5%");
  });

  it("keeps both units where they differ", () => {
    expect(range({ value: 1, unit: "ft" }, { value: 2, unit: "in" })).toBe("1 ft to 2 in");
  });
});
