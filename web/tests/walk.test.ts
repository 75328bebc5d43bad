import { describe, expect, it } from "vitest";
import { walked, type Walk } from "../src/field/useWalk";

const still: Walk = { line: [], accuracy: null, leftOut: 0, trouble: null };
const at = (x: number) => ({ x, y: 0 });

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
    const walk = fixes.reduce((now, [x, accuracy]) => walked(now, at(x), accuracy), still);
    expect(walk.line).toEqual([at(0), at(10), at(20)]);
    expect(walk.leftOut).toBe(2);
    expect(walk.accuracy).toBe(6);
  });
});
