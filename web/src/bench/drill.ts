import type { Schemas } from "../api/client";
import { numbersIn } from "../records/amounts";
import type { Quantity } from "../units/format";

/** By weight, row by row or together, or by count. */
export type By = "rows" | "together" | "count";

/** What is written on the bench for one box, as it was typed. */
export interface Written {
  /** What else is in the box. */
  also: string[];
  drill: string;
  aim: Quantity | null;
  pls: Quantity | null;
  spacing: Quantity | null;
  by: By;
  way: "measured" | "turns";
  course: Quantity | null;
  turns: string;
  circumference: Quantity | null;
  lifted: boolean;
  skid: Quantity | null;
  unit: string;
  rows: string[];
  mass: string;
  many: string;
  /** Seeds in a mass of the lot, by its tag. */
  per_mass: Quantity | null;
  /** Counted beside what was weighed. */
  beside: boolean;
  on: "row" | "ground";
  seeds: string;
  along: Quantity | null;
  patch: Quantity | null;
  setting: string;
}

/** Ways to find out what falls. */
export const bys: { value: By; text: string }[] = [
  { value: "rows", text: "weigh each row" },
  { value: "together", text: "weigh rows together" },
  { value: "count", text: "count seeds" },
];

/** What was written aims at something else than the plan does now. */
export function elsewhere(now: Written, planned: Schemas["NeededSeed"]): boolean {
  const off = (a: Quantity | null, b: Quantity | null | undefined) =>
    a !== null && b != null && (a.unit !== b.unit || Math.abs(a.value - b.value) > 0.005 * Math.abs(b.value));
  return off(now.aim, planned.bulk_rate) || off(now.pls, planned.pls);
}

/** What was weighed, as the core takes it; nothing until it is all there. */
export function caughtOf(now: Written): Schemas["DrillCatch"] | null {
  const mass = (value: number) => ({ value, unit: now.unit }) as Schemas["Mass"];
  if (now.by === "rows") {
    const rows = numbersIn(now.rows);
    return rows && { by: "rows", masses: rows.map(mass) };
  }
  const [all] = numbersIn([now.mass]) ?? [];
  const [many] = numbersIn([now.many]) ?? [];
  return all === undefined || many === undefined
    ? null
    : { by: "together", mass: mass(all), rows: Math.round(many) };
}

/** The way that it stands for. */
export function courseOf(now: Written): Schemas["DrillCourse"] | null {
  if (now.way === "measured")
    return now.course && { by: "measured", length: now.course as Schemas["Length"] };
  const [turns] = numbersIn([now.turns]) ?? [];
  if (turns === undefined || now.circumference === null) return null;
  return {
    by: "turns",
    turns,
    circumference: now.circumference as Schemas["Length"],
    off_the_ground: now.lifted,
    skid: now.skid as Schemas["Fraction"] | null,
  };
}

/** Seeds that were counted. */
export function seenOf(now: Written): Schemas["DrillCount"] | null {
  const counts = numbersIn(now.seeds.split(/[\s,;]+/));
  if (!counts) return null;
  if (now.on === "ground")
    return now.patch && { by: "on-ground", counts, patch: now.patch as Schemas["Area"] };
  return now.along && { by: "in-rows", counts, length: now.along as Schemas["Length"] };
}
