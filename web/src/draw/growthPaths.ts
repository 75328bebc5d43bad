import type { ScaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import type { Schemas } from "../api/client";
import { day, dayText, plain, yearOf } from "../units/format";
import type { TimeScale } from "./Axis";

export type Growth = NonNullable<Schemas["GrowthView"]["told"]>["value"];

/** What stands day by day: up to yesterday, and from today on by the years. */
export type Curves = Pick<Growth, "from" | "so_far" | "low" | "middle" | "high">;

const DAY = 86_400_000;

interface Paths {
  /** What stood, filled down to the ground, and its edge. */
  stood: string;
  edge: string;
  /** Ahead: eight years in ten, and half of them. */
  fan: string;
  middle: string;
  today: Date;
}

const told = ({ values }: Schemas["Series"]) => values.map((value) => value ?? 0);

/** When a growth is told of: its first day, today, and its last. */
export function stretchOf(growth: Curves): { from: Date; today: Date; to: Date } {
  const from = day(growth.from);
  const today = new Date(from.getTime() + growth.so_far.values.length * DAY);
  return { from, today, to: new Date(today.getTime() + growth.middle.values.length * DAY) };
}

/** The most that stands at any time: in nine years of ten, or in half of them. */
export const mostOf = (growth: Curves, of: "high" | "middle" = "high") =>
  Math.max(1, ...told(growth.so_far), ...told(growth[of]));

/** Dry matter by day as outlines: solid as far as today, a fan beyond. */
export function growthPaths(growth: Curves, scale: TimeScale, y: ScaleLinear<number, number>): Paths {
  const { from, today } = stretchOf(growth);
  const [soFar, low, middle, high] = [growth.so_far, growth.low, growth.middle, growth.high].map(told) as [
    number[],
    number[],
    number[],
    number[],
  ];
  const at = (start: Date) => (_: number, index: number) => scale(new Date(start.getTime() + index * DAY));
  const [past, ahead] = [at(from), at(today)];
  const height = (value: number) => y(value);
  return {
    stood: area<number>().x(past).y0(y(0)).y1(height)(soFar) ?? "",
    edge: line<number>().x(past).y(height)(soFar) ?? "",
    fan:
      area<number>()
        .x(ahead)
        .y0((_, index) => y(low[index] ?? 0))
        .y1(height)(high) ?? "",
    middle: line<number>().x(ahead).y(height)(middle) ?? "",
    today,
  };
}

/** The same in words. */
export function describeGrowth(growth: Growth, today: string): string {
  const cuts = growth.cuts.map(
    (cut) => `${cut.done ? "cut" : "planned cut"} ${dayText(cut.on, yearOf(today))}`,
  );
  return [`Standing dry matter: ${plain(growth.above)} above the stubble`, ...cuts].join(", ");
}
