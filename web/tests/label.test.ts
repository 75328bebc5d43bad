import { describe, expect, it } from "vitest";
import { labelSpot } from "../src/field/label";

const ring = (...corners: [number, number][]) => corners.map(([x, y]) => ({ x, y }));

describe("where a field bears its name", () => {
  it("is its middle, with its whole width", () => {
    const { middle, room } = labelSpot(ring([0, 0], [10, 0], [10, 4], [0, 4]));
    expect([middle.x, middle.y, room]).toEqual([5, 2, 10]);
  });

  it("lies inside of a field that is bent around something", () => {
    // A horseshoe, open to the right: its centre lies in the gap or at its edge.
    const shoe = ring([0, 0], [10, 0], [10, 2], [3, 2], [3, 8], [10, 8], [10, 10], [0, 10]);
    const { middle, room } = labelSpot(shoe);
    expect(middle.x).toBe(1.5);
    expect(room).toBe(3);
  });
});
