import { polygonContains } from "d3-polygon";
import type { Position } from "geojson";
import { polygonOf } from "../draw/polygon";

/** Degrees, as the device tells them. */
export interface Place {
  latitude: number;
  longitude: number;
}

type Pair = [number, number];
const pair = (at: Position): Pair => [at[0] ?? 0, at[1] ?? 0];

/** The field that a place lies in: within its outline and in none of its holes. */
export function fieldAt<F extends { boundary?: unknown }>(fields: readonly F[], place: Place): F | undefined {
  const here: Pair = [place.longitude, place.latitude];
  return fields.find((field) => {
    const [outline, ...holes] = polygonOf(field.boundary)?.coordinates ?? [];
    if (!outline || !polygonContains(outline.map(pair), here)) return false;
    return !holes.some((hole) => polygonContains(hole.map(pair), here));
  });
}
