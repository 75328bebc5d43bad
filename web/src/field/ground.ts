import type { Polygon } from "geojson";
import { polygonOf } from "../draw/polygon";
import type { Degrees, Plane, Spot } from "./plane";

/** A field's rings in metres, the closing corner left out; none of a field that is not drawn. */
export function ringsOf(boundary: unknown, plane: Plane): Spot[][] {
  const rings = polygonOf(boundary)?.coordinates ?? [];
  return rings.map((ring) => ring.slice(0, -1).map(([lon = 0, lat = 0]) => plane.flat([lon, lat])));
}

/** The middle of all that is drawn; of the farm where nothing is. */
export function middleOf(boundaries: readonly unknown[], farm: Degrees): Degrees {
  const corners = boundaries.flatMap((one) => polygonOf(one)?.coordinates[0] ?? []);
  if (corners.length === 0) return farm;
  const [lons, lats] = [corners.map(([lon = 0]) => lon), corners.map(([, lat = 0]) => lat)];
  const between = (values: number[]) => (Math.min(...values) + Math.max(...values)) / 2;
  return [between(lons), between(lats)];
}

/** Rings as a polygon, corners to a tenth of a millimetre. */
export function polygonFrom(rings: readonly (readonly Spot[])[], plane: Plane): Polygon {
  const round = ([lon, lat]: Degrees): Degrees => [Number(lon.toFixed(9)), Number(lat.toFixed(9))];
  return {
    type: "Polygon",
    coordinates: rings.map((ring) => {
      const corners = ring.map((spot) => round(plane.degrees(spot)));
      return [...corners, ...corners.slice(0, 1)];
    }),
  };
}
