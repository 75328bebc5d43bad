import { describe, expect, it } from "vitest";
import { countedOf, numbersOf } from "../src/records/counted";
import { numbersIn } from "../src/records/amounts";
import { away } from "../src/young/away";
import {
  begun,
  countedSoFar,
  forRecord,
  here,
  next,
  pending,
  TOSS,
  undone,
  type Counting,
} from "../src/young/count";

const frame = { value: 1, unit: "ft2" };
const looked = { frame, length: { value: 3, unit: "ft" }, spacing: { value: 7.5, unit: "in" } };
const tapped = (now: Counting, ...cells: number[]): Counting => ({
  ...now,
  cells: now.cells.map((on, at) => (cells.includes(at) ? !on : on)),
});

describe("a count by the grid", () => {
  it("goes from toss to toss, and after the fourth to the next place", () => {
    let now = begun("switchgrass", "grid", looked);
    expect(countedSoFar(now)).toBeNull();
    for (const toss of [1, 2, 3, 4]) {
      expect([now.toss, now.places.length]).toEqual([toss, 0]);
      now = next(tapped(now, 0, 7, 24));
    }
    expect([now.toss, now.places, here(now)]).toEqual([1, [12], 0]);
    expect(countedSoFar(now)).toEqual({ by: "grid", cells: 4 * TOSS, hits: [12] });
  });

  it("counts a place where nothing grows", () => {
    const now = next({ ...begun("switchgrass", "grid", looked), tosses: 1 });
    expect(countedSoFar(now)).toEqual({ by: "grid", cells: TOSS, hits: [0] });
  });

  it("takes back what is being counted, and else the last place", () => {
    const place = next(tapped({ ...begun("switchgrass", "grid", looked), tosses: 1 }, 1, 2));
    const slip = tapped(place, 3);
    expect(pending(slip)).toBe(true);
    expect(undone(slip)).toEqual(place);
    expect(undone(place).places).toEqual([]);
    expect(undone(undone(place)).places).toEqual([]);
  });

  it("takes back the tosses before of the same place", () => {
    const begin = begun("switchgrass", "grid", looked);
    const second = next(tapped(begin, 5));
    expect([second.toss, here(second)]).toEqual([2, 1]);
    expect(undone(second)).toEqual(begin);
  });
});

describe("a count by more and less", () => {
  const counted = (by: Parameters<typeof begun>[1], ...tallies: number[]) =>
    tallies.reduce((now, tally) => next({ ...now, tally }), begun("alfalfa", by, looked));

  it("of plants and stems is by the frame", () => {
    expect(countedSoFar(counted("plants", 12, 9))).toEqual({ by: "frame", frame, counts: [12, 9] });
    expect(countedSoFar(counted("stems", 50))).toEqual({ by: "frame", frame, counts: [50] });
    expect(forRecord(counted("stems", 50))).toMatchObject({ by: "frame", stems: true, counts: [50], frame });
  });

  it("of seedlings along a row says how much of it, and how far rows lie apart", () => {
    const now = counted("row", 14, 11);
    expect(countedSoFar(now)).toEqual({
      by: "row",
      length: looked.length,
      row_spacing: looked.spacing,
      counts: [14, 11],
    });
    expect(forRecord(now)).toMatchObject({ by: "row", counts: [14, 11], length: looked.length });
    // Nobody knows how much ground they stand for.
    expect(countedSoFar({ ...now, spacing: null })).toBeNull();
  });

  it("of plants that live says of how many", () => {
    expect(countedSoFar({ ...counted("alive", 7, 9), of: "10" })).toEqual({
      by: "alive",
      alive: [7, 9],
      stations: [10, 10],
    });
  });

  it("of points says how many there were", () => {
    expect(countedSoFar({ ...counted("points", 31), of: "50" })).toEqual({
      by: "points",
      points: 50,
      hits: [31],
    });
  });
});

describe("numbers as people write them", () => {
  it("stand one after another", () => {
    expect(numbersOf(" 12, 9;11\n14 ")).toEqual([12, 9, 11, 14]);
    expect(numbersOf("")).toEqual([]);
    expect(numbersOf("12 x").every(Number.isFinite)).toBe(false);
  });

  it("are all numbers, or none is taken", () => {
    expect(numbersIn(["21", "", "20,5"])).toEqual([21, 20.5]);
    expect(numbersIn(["21", "x"])).toBeNull();
    expect(numbersIn(["", " "])).toBeNull();
  });

  it("become what was counted", () => {
    expect(countedOf("grid", [40, 55], [100], undefined)).toEqual({ by: "grid", cells: 100, hits: [40, 55] });
    expect(countedOf("stems", [50], [], { value: 0.1, unit: "m2" })).toEqual({
      by: "frame",
      frame: { value: 0.1, unit: "m2" },
      counts: [50],
    });
    // One number for all places, or one for each.
    expect(countedOf("alive", [7, 9], [10], undefined)).toMatchObject({ stations: [10, 10] });
    expect(countedOf("alive", [7, 9], [10, 12], undefined)).toMatchObject({ stations: [10, 12] });
    const row = { length: { value: 3, unit: "ft" }, spacing: { value: 7.5, unit: "in" } };
    expect(countedOf("row", [14], [], undefined, row)).toEqual({
      by: "row",
      length: row.length,
      row_spacing: row.spacing,
      counts: [14],
    });
    expect(countedOf("points", [30], [50], undefined)).toEqual({ by: "points", points: 50, hits: [30] });
  });
});

describe("the way to the next place", () => {
  const here = { latitude: 42.5, longitude: -76.5 };

  // A degree of latitude is 111.2 km on a sphere of the Earth's mean radius.
  it.each([
    ["north", { latitude: 42.501, longitude: -76.5 }, 111.2],
    ["south", { latitude: 42.499, longitude: -76.5 }, 111.2],
    ["east", { latitude: 42.5, longitude: -76.499 }, 82],
    ["west", { latitude: 42.5, longitude: -76.501 }, 82],
    ["north-east", { latitude: 42.501, longitude: -76.49865 }, 157.2],
  ])("lies to the %s", (towards, to, metres) => {
    const off = away(here, to);
    expect(off.towards).toBe(towards);
    expect(off.metres).toBeCloseTo(metres, -0.5);
  });

  it("is nothing where one stands", () => {
    expect(away(here, here).metres).toBe(0);
  });
});
