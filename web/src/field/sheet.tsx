import type { ReactNode } from "react";
import { roundLength, type Spot } from "./plane";
import { useGroundUnits } from "./useGroundUnits";

/** Which part of the ground is seen: its middle in metres, and how many pixels a metre takes. */
export interface View {
  middle: Spot;
  scale: number;
}

export interface Size {
  width: number;
  height: number;
}

export const toScreen = ({ middle, scale }: View, { width, height }: Size, { x, y }: Spot): Spot => ({
  x: width / 2 + (x - middle.x) * scale,
  y: height / 2 - (y - middle.y) * scale,
});

export const toGround = ({ middle, scale }: View, { width, height }: Size, { x, y }: Spot): Spot => ({
  x: middle.x + (x - width / 2) / scale,
  y: middle.y - (y - height / 2) / scale,
});

/** A view of all the spots, with room around them; of a quarter of a mile where there are none. */
export function viewOf(spots: readonly Spot[], { width, height }: Size): View {
  if (spots.length === 0 || width === 0)
    return { middle: { x: 0, y: 0 }, scale: Math.min(width, height) / 400 || 1 };
  const [xs, ys] = [spots.map(({ x }) => x), spots.map(({ y }) => y)];
  const [west, east] = [Math.min(...xs), Math.max(...xs)];
  const [south, north] = [Math.min(...ys), Math.max(...ys)];
  const room = width < 500 ? 20 : 44;
  const fits = Math.min(
    (width - 2 * room) / Math.max(east - west, 20),
    (height - 2 * room) / Math.max(north - south, 20),
  );
  return { middle: { x: (west + east) / 2, y: (south + north) / 2 }, scale: Math.max(fits, 1e-4) };
}

/** A ring on the screen, as an SVG path. */
export function ringPath(ring: readonly Spot[], view: View, size: Size): string {
  const points = ring.map((spot) => toScreen(view, size, spot));
  return (
    points.map(({ x, y }, index) => `${index ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`).join("") + "Z"
  );
}

/** How long a stretch of the screen is on the ground, in the reader's units; and which way is north. */
export function Measures({ view, size }: { view: View; size: Size }): ReactNode {
  const { unit, length } = useGroundUnits();
  const metres = roundLength(140 / view.scale / unit.metres) * unit.metres;
  const pixels = metres * view.scale;
  const y = size.height - 14;
  return (
    <g aria-hidden stroke="var(--ink)" fill="none">
      <path d={`M16 ${y - 5}V${y}H${16 + pixels}V${y - 5}`} strokeWidth={1.5} />
      <text x={22 + pixels} y={y + 1} fill="var(--ink)" stroke="none" fontSize={14}>
        {length(metres)}
      </text>
      <g transform={`translate(${size.width - 22} 34)`}>
        <path d="M0 14V-12M-5 -4L0 -14L5 -4" strokeWidth={1.5} />
        <text y={-18} textAnchor="middle" fill="var(--ink)" stroke="none" fontSize={14} fontWeight={600}>
          N
        </text>
      </g>
    </g>
  );
}
