import { describe, expect, it } from "vitest";
import { CLEARED, dayOrNone, dayTrouble, isDay, partsOf, textOf, wholeDay, wholeOr } from "../src/units/day";

describe("a day as far as it is typed", () => {
  it.each([
    ["2027-08-12", { year: 2027, month: 8, day: 12 }],
    ["2027--12", { year: 2027, month: null, day: 12 }],
    ["0202-08-", { year: 202, month: 8, day: null }],
    ["", { year: null, month: null, day: null }],
  ])("%s and back", (text, parts) => {
    expect(partsOf(text)).toEqual(parts);
    expect(textOf(parts)).toBe(text);
  });

  it.each([
    ["2027--12", "Enter the month."],
    ["-08-", "Enter the day and the year."],
    ["0202-08-12", "The year is 202; enter a year from 1900 to 2200."],
    ["2026-00-12", "The month is 0; enter 1 to 12."],
    ["2027-02-29", "February 2027 has 28 days; there is no day 29."],
    ["2026-06-31", "June 2026 has 30 days; there is no day 31."],
    ["12 August", "This is not a date."],
  ])("%s is refused: %s", (text, told) => {
    expect(dayTrouble(text)).toBe(told);
    expect(isDay(text)).toBe(false);
    expect(wholeDay.safeParse(text).error?.issues[0]?.message).toBe(told);
    expect(dayOrNone.safeParse(text).success).toBe(false);
  });

  // Leap years by the Gregorian rule: 1900 and 2100 have none, 2000 has.
  it.each(["2028-02-29", "2000-02-29", "1900-02-28", "2026-12-31"])("%s is a day", (text) =>
    expect(isDay(text)).toBe(true),
  );

  it("1900 and 2100 have no leap day", () => {
    expect(isDay("1900-02-29")).toBe(false);
    expect(isDay("2100-02-29")).toBe(false);
  });

  it("nothing is asked for where a day has to be told, and taken where it may be left out", () => {
    for (const empty of ["", CLEARED]) {
      expect(wholeDay.safeParse(empty).error?.issues[0]?.message).toBe("Enter the date.");
      expect(dayOrNone.safeParse(empty).success).toBe(true);
      expect(isDay(empty)).toBe(false);
    }
  });

  it("is reckoned with when it is whole or left out; until then the last one is", () => {
    expect(wholeOr("2027-08-12", "2026-05-11")).toBe("2027-08-12");
    expect(wholeOr("2027--12", "2026-05-11")).toBe("2026-05-11");
    expect(wholeOr(CLEARED, "2026-05-11")).toBe("2026-05-11");
    expect(wholeOr("", "2026-05-11")).toBe("");
  });
});
