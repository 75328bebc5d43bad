import { describe, expect, it } from "vitest";
import { fieldAt } from "../src/shell/place";

const square = (west: number, south: number, size: number) => [
  [west, south],
  [west + size, south],
  [west + size, south + size],
  [west, south + size],
  [west, south],
];
const field = (id: string, ...rings: number[][][]) => ({
  id,
  boundary: { type: "Feature", geometry: { type: "Polygon", coordinates: rings } },
});

describe("the field one stands in", () => {
  const fields = [
    field("ring", square(0, 0, 10), square(4, 4, 2)),
    field("clockwise", square(20, 0, 10).reverse()),
    {
      id: "parts",
      boundary: { type: "MultiPolygon", coordinates: [[square(40, 0, 1)], [square(50, 0, 1)]] },
    },
    { id: "none", boundary: null },
  ];
  it.each([
    ["inside", { longitude: 1, latitude: 1 }, "ring"],
    ["in a hole", { longitude: 5, latitude: 5 }, undefined],
    ["whichever way the boundary runs", { longitude: 25, latitude: 5 }, "clockwise"],
    ["in its other part", { longitude: 50.5, latitude: 0.5 }, "parts"],
    ["between its parts", { longitude: 45, latitude: 0.5 }, undefined],
    ["on the road", { longitude: 15, latitude: 5 }, undefined],
  ])("%s", (_, place, expected) => expect(fieldAt(fields, place)?.id).toBe(expected));
});
