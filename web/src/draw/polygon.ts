import type { Position } from "geojson";

/** The parts of a boundary, however it is wrapped: of each its outline, then its holes. */
export function partsOf(value: unknown): Position[][][] {
  const object = value as { type?: string; geometry?: unknown; features?: unknown[]; coordinates?: unknown };
  switch (object?.type) {
    case "Polygon":
      return [object.coordinates as Position[][]];
    case "MultiPolygon":
      return object.coordinates as Position[][][];
    case "Feature":
      return partsOf(object.geometry);
    case "FeatureCollection":
      return partsOf(object.features?.[0]);
    default:
      return [];
  }
}
