import { describe, expect, it } from "vitest";
import { named } from "../src/field/geojson";

const polygon = { type: "Polygon", coordinates: [[]] };
const feature = (name?: unknown) => ({
  type: "Feature",
  properties: name === undefined ? null : { NAME: name },
  geometry: polygon,
});
const file = (...features: unknown[]) => JSON.stringify({ type: "FeatureCollection", features });

describe("boundaries of a file", () => {
  it("takes one by the name that was written, or its own", () => {
    expect(named(JSON.stringify(polygon), "Home")).toEqual([{ name: "Home", boundary: polygon }]);
    expect(named(file(feature("Long")), "")).toEqual([{ name: "Long", boundary: feature("Long") }]);
    expect(named(file(feature("Long")), "Longer")).toEqual([{ name: "Longer", boundary: feature("Long") }]);
  });

  it("takes many by their own names", () => {
    const shapes = named(file(feature("North"), feature(7)), "ignored");
    expect(Array.isArray(shapes) && shapes.map((shape) => shape.name)).toEqual(["North", "7"]);
  });

  it.each([
    ["hay", "not GeoJSON"],
    ["[1]", "not GeoJSON"],
    ["7", "not GeoJSON"],
    [file(), "no boundary"],
    [JSON.stringify(polygon), "has no name; enter one"],
    [file(feature("A"), feature()), "boundary 2 of 2 has no name"],
    [file(feature("A"), feature("A")), "two boundaries"],
  ])("says what is wrong with %s", (text, said) => {
    expect(named(text, "")).toContain(said);
  });
});
