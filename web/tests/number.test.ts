import { describe, expect, it } from "vitest";
import { degreesOf, LATITUDE, LONGITUDE } from "../src/units/degrees";
import { plainNumber, readBack } from "../src/units/number";
import { apart } from "../src/sign-in/apart";

describe("a number as people write it", () => {
  it.each([
    ["1,200", 1200],
    ["35,000", 35_000],
    ["1,234,567.5", 1_234_567.5],
    ["1.234,5", 1234.5],
    ["1 200", 1200],
    ["12,5", 12.5],
    ["0,125", 0.125],
    ["1,2345", 1.2345],
    ["−3", -3],
    [".5", 0.5],
    ["7.", 7],
  ])("%s", (text, value) => expect(plainNumber(text)).toBe(value));

  it("nothing is nothing, and words are no number", () => {
    expect(plainNumber("  ")).toBeNull();
    for (const text of ["eight", "8 bags", "1e5", "0x10", "1,2,3", "Infinity", "--1"])
      expect(plainNumber(text)).toBeNaN();
  });

  it("says what was read where a comma can be either", () => {
    expect(readBack("1,200")).toBe("Read as 1,200");
    expect(readBack("1,25")).toBe("Read as 1.25");
    expect(readBack("1200")).toBeUndefined();
    expect(readBack("a,b")).toBeUndefined();
  });
});

describe("degrees", () => {
  it.each([
    ["40.8", 40.8],
    ["40 48 N", 40.8],
    ["40°48'N", 40.8],
    ["40° 48′ 36″ N", 40.81],
    ["33.9 S", -33.9],
    ["S 33 54", -33.9],
    ["-34,5", -34.5],
  ])("%s", (text, value) => expect(degreesOf(text, LATITUDE)).toBeCloseTo(value, 10));

  it("knows the half of the globe by its letter", () => {
    expect(degreesOf("73.97 W", LONGITUDE)).toBe(-73.97);
    expect(degreesOf("-73.97w", LONGITUDE)).toBe(-73.97);
    expect(degreesOf("56 12 E", LONGITUDE)).toBeCloseTo(56.2, 10);
    expect(degreesOf("", LONGITUDE)).toBeNull();
  });

  it("refuses what is no place", () => {
    for (const text of ["forty", "40 75 N", "40 48 30 12", "12 N E"])
      expect(degreesOf(text, LATITUDE)).toBeNaN();
  });
});

describe("hours between two time zones", () => {
  it("tells a place on the other side of the earth", () => {
    expect(apart("America/New_York", "Asia/Shanghai")).toBeGreaterThan(10);
    expect(apart("America/New_York", "America/Chicago")).toBe(1);
    expect(apart("America/New_York", "")).toBe(0);
    expect(apart("America/New_York", "No/Where")).toBe(0);
  });
});
