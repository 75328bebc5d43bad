import { describe, expect, it } from "vitest";
import { boundaryFrom, ringsOf } from "../src/field/ground";
import {
  areaOf,
  bearing,
  crossings,
  distance,
  inside,
  nested,
  onward,
  planeAround,
  roundLength,
  simplified,
} from "../src/field/plane";

describe("the plane that fields are drawn on", () => {
  it("is metres around its middle", () => {
    // Lengths of a degree at 45° on WGS 84: 111,131.7 m along the meridian, 78,846.8 m along the parallel
    // (National Geospatial-Intelligence Agency, length of a degree calculator's table; from memory).
    const plane = planeAround([10, 45]);
    const north = plane.flat([10, 46]);
    const east = plane.flat([11, 45]);
    expect(north.y).toBeCloseTo(111131.7, -1);
    expect(east.x).toBeCloseTo(78846.8, -1);
    const [lon, lat] = plane.degrees(plane.flat([10.123, 44.987]));
    expect(lon).toBeCloseTo(10.123, 9);
    expect(lat).toBeCloseTo(44.987, 9);
  });

  it("goes on by bearing and length as a compass does", () => {
    const start = { x: 0, y: 0 };
    const corners = [0, 90, 180].reduce(
      (line, turn) => [...line, onward(line.at(-1) ?? start, turn, 100)],
      [start],
    );
    expect(corners.at(-1)?.x).toBeCloseTo(100, 9);
    expect(corners.at(-1)?.y).toBeCloseTo(0, 9);
    expect(inside(corners)).toBeCloseTo(10_000, 6);
    expect(bearing(start, { x: -1, y: 0 })).toBe(270);
    expect(distance(start, { x: 3, y: 4 })).toBe(5);
  });

  it("finds where a ring crosses itself, and not where it meets itself at corners", () => {
    const square = [
      { x: 0, y: 0 },
      { x: 2, y: 0 },
      { x: 2, y: 2 },
      { x: 0, y: 2 },
    ];
    expect(crossings(square)).toEqual([]);
    const [a, b, c, d] = square as [{ x: number; y: number }, never, never, never];
    expect(crossings([a, c, b, d])).toEqual([{ x: 1, y: 1 }]);
  });

  it("takes a ring inside another for a hole, and one beside it for a part", () => {
    const square = (x: number, y: number, size: number) => [
      { x, y },
      { x: x + size, y },
      { x: x + size, y: y + size },
      { x, y: y + size },
    ];
    const [field, pond, island, beside] = [
      square(0, 0, 10),
      square(2, 2, 6),
      square(4, 4, 1),
      square(20, 0, 5),
    ];
    expect(nested([pond, field, island, beside])).toEqual([
      { outline: field, holes: [pond] },
      { outline: island, holes: [] },
      { outline: beside, holes: [] },
    ]);
    expect(areaOf([pond, field, island, beside])).toBeCloseTo(100 - 36 + 1 + 25, 9);
    // A ring that cuts into another is shown where it does.
    expect(crossings(square(8, 8, 4), [field])).toHaveLength(2);
    const plane = planeAround([10, 45]);
    const boundary = boundaryFrom([field, pond, beside], plane);
    expect(boundary.type).toBe("MultiPolygon");
    expect(ringsOf(boundary, plane).map((ring) => ring.length)).toEqual([4, 4, 4]);
    expect(boundaryFrom([field], plane).type).toBe("Polygon");
  });

  it("keeps the corners that matter of a walk", () => {
    const walk = Array.from({ length: 101 }, (_, at) =>
      at <= 50 ? { x: at, y: 0.3 * Math.sin(at) } : { x: 50, y: at - 50 },
    );
    const kept = simplified(walk, 1);
    expect(kept.length).toBeLessThan(6);
    expect(kept[0]).toEqual(walk[0]);
    expect(kept.at(-1)).toEqual({ x: 50, y: 50 });
    expect(kept.some(({ x, y }) => distance({ x, y }, { x: 50, y: 0 }) < 1.5)).toBe(true);
  });

  it.each([
    [99, 50],
    [100, 100],
    [340, 200],
    [7, 5],
    [0.3, 0.2],
  ])("a scale of at most %d is %d long", (most, length) => {
    expect(roundLength(most)).toBeCloseTo(length, 9);
  });
});
