import type { MultiPolygon, Polygon } from "geojson";
import { partsOf } from "../draw/polygon";
import { nested, type Degrees, type Plane, type Spot } from "./plane";

/** All rings of a field in metres, the closing corner left out; none of a field that is not drawn. */
export function ringsOf(boundary: unknown, plane: Plane): Spot[][] {
  return partsOf(boundary)
    .flat()
    .map((ring) => ring.slice(0, -1).map(([lon = 0, lat = 0]) => plane.flat([lon, lat])));
}

/** The middle of all that is drawn; of the farm where nothing is. */
export function middleOf(boundaries: readonly unknown[], farm: Degrees): Degrees {
  const corners = boundaries.flatMap((one) => partsOf(one).flatMap(([outline]) => outline ?? []));
  if (corners.length === 0) return farm;
  const [lons, lats] = [corners.map(([lon = 0]) => lon), corners.map(([, lat = 0]) => lat)];
  const between = (values: number[]) => (Math.min(...values) + Math.max(...values)) / 2;
  return [between(lons), between(lats)];
}

/** Rings as a boundary, corners to a tenth of a millimetre: a ring inside another is a hole in it. */
export function boundaryFrom(rings: readonly (readonly Spot[])[], plane: Plane): Polygon | MultiPolygon {
  const round = ([lon, lat]: Degrees): Degrees => [Number(lon.toFixed(9)), Number(lat.toFixed(9))];
  const closed = (ring: readonly Spot[]) => {
    const corners = ring.map((spot) => round(plane.degrees(spot)));
    return [...corners, ...corners.slice(0, 1)];
  };
  const parts = nested(rings).map(({ outline, holes }) => [outline, ...holes].map(closed));
  const [only] = parts;
  return parts.length === 1 && only
    ? { type: "Polygon", coordinates: only }
    : { type: "MultiPolygon", coordinates: parts };
}
