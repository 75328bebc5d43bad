import { polygonContains } from "d3-polygon";
import type { Position } from "geojson";
import { partsOf } from "../draw/polygon";

/** Degrees, as the device tells them. */
export interface Place {
  latitude: number;
  longitude: number;
}

type Pair = [number, number];
const pair = (at: Position): Pair => [at[0] ?? 0, at[1] ?? 0];

/** The field that a place lies in: within the outline of one of its parts and in none of its holes. */
export function fieldAt<F extends { boundary?: unknown }>(fields: readonly F[], place: Place): F | undefined {
  const here: Pair = [place.longitude, place.latitude];
  const within = (ring: Position[]) => polygonContains(ring.map(pair), here);
  return fields.find((field) =>
    partsOf(field.boundary).some(([outline, ...holes]) => outline && within(outline) && !holes.some(within)),
  );
}
