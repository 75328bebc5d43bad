import { describe, expect, it } from "vitest";
import { oddPlaces } from "../src/ground/odd";
import { inBase, turned } from "../src/units/base";

describe("amounts side by side", () => {
  // The international avoirdupois pound and the international foot, exact by definition (1959).
  it.each([
    [16, "oz", inBase({ value: 1, unit: "lb" })],
    [2_000, "lb", inBase({ value: 1, unit: "ton" })],
    [1, "t", 1_000_000],
    [5_280, "ft", inBase({ value: 1, unit: "mi" })],
    [12, "in", inBase({ value: 1, unit: "ft" })],
    [36, "in", inBase({ value: 1, unit: "yd" })],
    [43_560, "ft2", inBase({ value: 1, unit: "ac" })],
    [90, "min", inBase({ value: 1.5, unit: "h" })],
  ])("%d %s", (value, unit, base) => expect(inBase({ value, unit })).toBeCloseTo(base, 6));

  it("are told in the unit that they were measured in", () => {
    // 21 g of a row, that came back in ounces.
    const ounces = turned({ value: 21, unit: "g" }, "oz");
    expect(ounces.value).toBeCloseTo(0.7408, 4);
    expect(turned(ounces, "g").value).toBeCloseTo(21, 9);
    expect(turned({ value: 1, unit: "ac" }, "ha").value).toBeCloseTo(0.404_686, 6);
  });

  it("says so of what is neither", () => expect(inBase({ value: 1, unit: "mph" })).toBeNaN());
});

describe("odd spots", () => {
  const spot = (what: object) => ({ entry: "e", on: "2026-05-14", what: { odd: "wet", ...what } });
  const view = (...odd: object[]) => ({ ground: { odd } }) as never;

  it("are drawn where both place and reach were told, in metres", () => {
    const at = { longitude: -76.5, latitude: 42.5 };
    const radius = { value: 100, unit: "ft" };
    const places = oddPlaces(view(spot({ at, radius }), spot({ at }), spot({ radius })));
    expect(places).toHaveLength(1);
    expect(places[0]?.metres).toBeCloseTo(30.48, 9);
  });

  it("are none before the ground is read", () => expect(oddPlaces(undefined)).toEqual([]));
});
