import { describe, expect, it } from "vitest";
import { planeAround, type Degrees } from "../src/field/plane";
import { begun, walked } from "../src/field/useWalk";

const plane = planeAround([-76.5, 42.5]);
const at = (x: number) => plane.degrees({ x, y: 0 });

describe("a walk along a boundary", () => {
  it("follows good fixes and leaves out poor ones and leaps", () => {
    const fixes: [number, number][] = [
      [0, 4],
      [1, 4],
      [10, 5],
      [14, 40],
      [5000, 4],
      [20, 6],
    ];
    const walk = fixes.reduce((now, [x, accuracy]) => walked(now, at(x), accuracy), begun(null));
    expect(walk.places).toEqual([at(0), at(10), at(20)]);
    expect(walk.leftOut).toBe(2);
    expect(walk.accuracy).toBe(6);
  });

  it("goes on where a kept one ended, and takes nothing of another shape for a place", () => {
    const kept = JSON.parse(JSON.stringify([at(0), at(10)])) as Degrees[];
    expect(walked(begun(kept), at(20), 4).places).toEqual([at(0), at(10), at(20)]);
    expect(begun([at(0), "here", [1], [1, null], { x: 3, y: 4 }]).places).toEqual([at(0)]);
    for (const other of [null, 7, "no", {}, { line: [] }]) expect(begun(other).places).toEqual([]);
  });
});
