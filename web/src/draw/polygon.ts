import type { Polygon } from "geojson";

/** The one polygon of a boundary, however it is wrapped. */
export function polygonOf(value: unknown): Polygon | null {
  const object = value as { type?: string; geometry?: unknown; features?: unknown[] };
  if (object?.type === "Polygon") return value as Polygon;
  if (object?.type === "Feature") return polygonOf(object.geometry);
  if (object?.type === "FeatureCollection") return polygonOf(object.features?.[0]);
  return null;
}
