import { geoIdentity, geoPath } from "d3-geo";
import type { MultiPolygon } from "geojson";
import { partsOf } from "./polygon";

type Ring = number[][];

interface Props {
  boundary: unknown;
  size: number;
  height?: number;
  /** Rings inside the setback. */
  inside?: Ring[][];
  /** Places of something that was seen. */
  spots?: readonly { longitude: number; latitude: number }[];
  /** Spots unlike the rest, with how far they reach, in metres. */
  odd?: readonly { longitude: number; latitude: number; metres: number }[];
}

/** Of a degree of latitude, on a sphere of the earth's mean radius. */
const METRES = 111_195;

/** A field's outline on the paper: north up, degrees shrunk to a plane for drawing only. */
export function FieldShape({ boundary, size, height = size, inside, spots, odd }: Props) {
  const parts = partsOf(boundary);
  if (parts.length === 0) return null;
  const first = parts[0]?.[0]?.[0]?.[1] ?? 0;
  const shrink = Math.cos((first * Math.PI) / 180);
  const flat = (rings: Ring[]) => rings.map((ring) => ring.map(([x = 0, y = 0]) => [x * shrink, y]));
  const outline: MultiPolygon = { type: "MultiPolygon", coordinates: parts.map(flat) };
  const projection = geoIdentity().reflectY(true);
  projection.fitExtent(
    [
      [2, 2],
      [size - 2, height - 2],
    ],
    outline,
  );
  const path = geoPath(projection);
  return (
    <svg width={size} height={height} aria-hidden className="block shrink-0">
      <path
        d={path(outline) ?? ""}
        fill={inside ? "none" : "var(--wash)"}
        stroke="var(--ink)"
        strokeWidth={size > 60 ? 2 : 1.3}
        strokeLinejoin="round"
      />
      {inside?.map((rings, index) => (
        <path
          key={index}
          d={path({ type: "Polygon", coordinates: flat(rings) }) ?? ""}
          fill="var(--wash)"
          stroke="var(--growth)"
          strokeDasharray="5 3"
        />
      ))}
      {odd?.map(({ longitude, latitude, metres }, index) => {
        const [x, y] = projection([longitude * shrink, latitude]) ?? [];
        if (x === undefined || y === undefined) return null;
        return (
          <circle
            key={index}
            cx={x}
            cy={y}
            r={Math.max(3, (metres / METRES) * projection.scale())}
            fill="var(--straw)"
            fillOpacity={0.35}
            stroke="var(--straw)"
            strokeWidth={1.6}
            strokeDasharray="3 2"
          />
        );
      })}
      {spots?.map(({ longitude, latitude }, index) => {
        const [x, y] = projection([longitude * shrink, latitude]) ?? [];
        if (x === undefined || y === undefined) return null;
        return (
          <path
            key={index}
            d={`M${x - 4} ${y + 3}L${x} ${y - 5}L${x + 4} ${y + 3}Z`}
            fill="var(--paper)"
            stroke="var(--stop)"
            strokeWidth={1.6}
            strokeLinejoin="round"
          />
        );
      })}
    </svg>
  );
}
