import { polygonContains } from "d3-polygon";

/** A place in metres, east and north of a middle. */
export interface Spot {
  x: number;
  y: number;
}

/** Degrees, longitude first, as GeoJSON has them. */
export type Degrees = [number, number];

export const isDegrees = (one: unknown): one is Degrees =>
  Array.isArray(one) && one.length === 2 && one.every((axis) => Number.isFinite(axis));

/** Rings of places in what was kept, of whatever shape; what is none is left out. */
export const degreesIn = (kept: unknown): Degrees[][] =>
  Array.isArray(kept) ? kept.filter(Array.isArray).map((ring: unknown[]) => ring.filter(isDegrees)) : [];

/** A flat sheet around a middle: for drawing alone, what is kept is measured by the server. */
export interface Plane {
  flat: (at: Degrees) => Spot;
  degrees: (at: Spot) => Degrees;
}

/** Metres in a degree on the WGS 84 ellipsoid at a latitude: along the meridian, and along the parallel. */
function perDegree(latitude: number): { north: number; east: number } {
  const e2 = 0.00669437999014;
  const turn = (latitude * Math.PI) / 180;
  const bend = 1 - e2 * Math.sin(turn) ** 2;
  const radius = (Math.PI / 180) * 6378137;
  return {
    north: (radius * (1 - e2)) / bend ** 1.5,
    east: (radius * Math.cos(turn)) / Math.sqrt(bend),
  };
}

export function planeAround([longitude, latitude]: Degrees): Plane {
  const { north, east } = perDegree(latitude);
  return {
    flat: ([lon, lat]) => ({ x: (lon - longitude) * east, y: (lat - latitude) * north }),
    degrees: ({ x, y }) => [longitude + x / east, latitude + y / north],
  };
}

export const distance = (a: Spot, b: Spot) => Math.hypot(b.x - a.x, b.y - a.y);

/** Degrees clockwise from north. */
export function bearing(a: Spot, b: Spot): number {
  const turn = (Math.atan2(b.x - a.x, b.y - a.y) * 180) / Math.PI;
  return (turn + 360) % 360;
}

/** So far from a spot, on a bearing. */
export function onward(from: Spot, turn: number, length: number): Spot {
  const angle = (turn * Math.PI) / 180;
  return { x: from.x + length * Math.sin(angle), y: from.y + length * Math.cos(angle) };
}

/** Square metres inside a ring of corners, the last joined to the first. */
export function inside(corners: readonly Spot[]): number {
  let twice = 0;
  corners.forEach((here, index) => {
    const next = corners[(index + 1) % corners.length] ?? here;
    twice += here.x * next.y - next.x * here.y;
  });
  return Math.abs(twice) / 2;
}

/** Whether a spot lies within a ring. */
export const within = (ring: readonly Spot[], { x, y }: Spot) =>
  polygonContains(
    ring.map((corner): [number, number] => [corner.x, corner.y]),
    [x, y],
  );

/** A part of a field: its outline, and what is left out of it. */
export interface Part {
  outline: readonly Spot[];
  holes: readonly (readonly Spot[])[];
}

/** Rings as parts: one that lies in an odd number of others is a hole, in the smallest of them. */
export function nested(rings: readonly (readonly Spot[])[]): Part[] {
  const drawn = rings.filter((ring) => ring.length >= 3);
  const around = (ring: readonly Spot[]) =>
    drawn.filter((other) => other !== ring && ring[0] && within(other, ring[0]));
  const isHole = (ring: readonly Spot[]) => around(ring).length % 2 === 1;
  const smallest = (all: (readonly Spot[])[]) => all.sort((a, b) => inside(a) - inside(b))[0];
  const holes = drawn.filter(isHole);
  return drawn
    .filter((ring) => !isHole(ring))
    .map((outline) => ({
      outline,
      holes: holes.filter((hole) => smallest(around(hole)) === outline),
    }));
}

/** Square metres of a field of so many rings. */
export const areaOf = (rings: readonly (readonly Spot[])[]) =>
  nested(rings).reduce(
    (sum, { outline, holes }) => sum + inside(outline) - holes.reduce((out, hole) => out + inside(hole), 0),
    0,
  );

/** Where two stretches cross, ends apart; none where they don't. */
export function crossing(a: Spot, b: Spot, c: Spot, d: Spot): Spot | null {
  const [r, s] = [
    { x: b.x - a.x, y: b.y - a.y },
    { x: d.x - c.x, y: d.y - c.y },
  ];
  const across = r.x * s.y - r.y * s.x;
  if (Math.abs(across) < 1e-12) return null;
  const t = ((c.x - a.x) * s.y - (c.y - a.y) * s.x) / across;
  const u = ((c.x - a.x) * r.y - (c.y - a.y) * r.x) / across;
  const within = (at: number) => at > 1e-9 && at < 1 - 1e-9;
  return within(t) && within(u) ? { x: a.x + t * r.x, y: a.y + t * r.y } : null;
}

type Edge = [Spot, Spot];

const edges = (ring: readonly Spot[]): Edge[] =>
  ring.map((from, index) => [from, ring[(index + 1) % ring.length] ?? from]);

/** Where a ring of corners crosses itself, or one of the others. */
export function crossings(corners: readonly Spot[], others: readonly (readonly Spot[])[] = []): Spot[] {
  const own = edges(corners);
  const foreign = others.flatMap(edges);
  return own.flatMap((one, index) =>
    [...own.slice(index + 1), ...foreign].flatMap((other) => crossing(...one, ...other) ?? []),
  );
}

/** The corners that matter: none of those left out lies further than `most` from the line (Douglas & Peucker 1973). */
export function simplified(line: readonly Spot[], most: number): Spot[] {
  const [first, last] = [line[0], line.at(-1)];
  if (!first || !last || line.length < 3) return [...line];
  let [far, at] = [0, 0];
  line.forEach((spot, index) => {
    const off = offLine(spot, first, last);
    if (off > far) [far, at] = [off, index];
  });
  if (far <= most) return [first, last];
  return [...simplified(line.slice(0, at + 1), most).slice(0, -1), ...simplified(line.slice(at), most)];
}

function offLine(spot: Spot, from: Spot, to: Spot): number {
  const length = distance(from, to);
  if (length === 0) return distance(spot, from);
  const along = ((spot.x - from.x) * (to.x - from.x) + (spot.y - from.y) * (to.y - from.y)) / length ** 2;
  const nearest = Math.min(1, Math.max(0, along));
  return distance(spot, { x: from.x + nearest * (to.x - from.x), y: from.y + nearest * (to.y - from.y) });
}

/** A length that reads well on a scale: 1, 2 or 5 times a power of ten, at most so long. */
export function roundLength(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most));
  const step = [5, 2, 1].find((one) => one * power <= most) ?? 1;
  return step * power;
}
