import type { Schemas } from "../api/client";
import type { Quantity } from "../units/format";

/** How a stand is counted. */
export type CountBy = "grid" | "plants" | "row" | "stems" | "alive" | "points";

export const countWays: Record<CountBy, string> = {
  grid: "grid cells",
  plants: "plants in frame",
  row: "seedlings per length of row",
  stems: "stems in frame",
  alive: "live plants of those planted",
  points: "points on the crop",
};

/** Cells of one toss of the grid: five by five. */
export const TOSS = 25;

/** A count in the making: what was counted at each place so far, and what is being counted. */
export interface Counting {
  crop: string;
  by: CountBy;
  /** Of the places that are done. */
  places: number[];
  /** Of this place: cells of the toss with a plant. */
  cells: boolean[];
  /** Of this place: cells of the tosses before. */
  before: number;
  /** Which toss of this place, from 1. */
  toss: number;
  /** Tosses in a place. */
  tosses: number;
  /** Of this place: what was counted by plus and minus. */
  tally: number;
  /** Looked at in a place: points, or stations. */
  of: string;
  /** Side or area of the frame, as an area. */
  frame: { value: number; unit: string };
  /** Along a row: so much of it is looked at in a place, and rows lie so far apart. */
  length: Quantity | null;
  spacing: Quantity | null;
  /** So much is taken for enough, and below so much it is thin, where nobody else has told. */
  full: Quantity | null;
  thin: Quantity | null;
  /** Places that were inked with it. */
  inked: number;
}

export const emptyToss = (): boolean[] => Array.from({ length: TOSS }, () => false);

/** What is looked at in a place, to begin with. */
export type Looked = Pick<Counting, "frame" | "length" | "spacing">;

export function begun(crop: string, by: CountBy, looked: Looked): Counting {
  return {
    crop,
    by,
    places: [],
    cells: emptyToss(),
    before: 0,
    toss: 1,
    tosses: 4,
    tally: 0,
    of: by === "alive" ? "20" : "50",
    ...looked,
    full: null,
    thin: null,
    inked: 0,
  };
}

const hits = (cells: readonly boolean[]) => cells.filter(Boolean).length;

/** This place as it stands. */
export function here(now: Counting): number {
  return now.by === "grid" ? now.before + hits(now.cells) : now.tally;
}

/** This toss, or this place, is done. */
export function next(now: Counting): Counting {
  if (now.by === "grid" && now.toss < now.tosses)
    return { ...now, before: now.before + hits(now.cells), cells: emptyToss(), toss: now.toss + 1 };
  return { ...now, places: [...now.places, here(now)], cells: emptyToss(), before: 0, toss: 1, tally: 0 };
}

/** Something of this place was counted already. */
export const pending = (now: Counting): boolean => here(now) > 0 || now.toss > 1;

/** Take the last back: what is being counted, or else the last place. */
export function undone(now: Counting): Counting {
  if (pending(now)) return { ...now, cells: emptyToss(), before: 0, toss: 1, tally: 0 };
  return { ...now, places: now.places.slice(0, -1) };
}

/** What was counted, as the core takes it; nothing before the first place, or before it is told how much was looked at. */
export function countedSoFar(now: Counting): Schemas["Counted"] | null {
  if (now.places.length === 0) return null;
  const of = Math.round(Number(now.of.replace(",", ".")));
  switch (now.by) {
    case "grid":
      return { by: "grid", cells: now.tosses * TOSS, hits: now.places };
    case "plants":
    case "stems":
      return { by: "frame", frame: now.frame as Schemas["Area"], counts: now.places };
    case "row":
      return now.length && now.spacing
        ? {
            by: "row",
            length: now.length as Schemas["Length"],
            row_spacing: now.spacing as Schemas["Length"],
            counts: now.places,
          }
        : null;
    case "alive":
      return { by: "alive", alive: now.places, stations: now.places.map(() => of) };
    case "points":
      return { by: "points", points: of, hits: now.places };
  }
}

/** What the form of the record begins with. */
export function forRecord(now: Counting): Record<string, unknown> {
  const of = Math.round(Number(now.of.replace(",", ".")));
  return {
    crop: now.crop,
    by: now.by === "plants" || now.by === "stems" ? "frame" : now.by,
    stems: now.by === "stems",
    counts: now.places,
    of: now.by === "grid" ? now.tosses * TOSS : of,
    ...(now.by === "plants" || now.by === "stems" ? { frame: now.frame } : {}),
    ...(now.by === "row" ? { length: now.length, spacing: now.spacing } : {}),
    ...(now.full ? { full: now.full } : {}),
    ...(now.thin ? { thin: now.thin } : {}),
  };
}
