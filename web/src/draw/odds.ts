import { day, isoDay } from "../units/format";
import type { TimeScale } from "./Axis";

const DAY = 86_400_000;

export interface Curve {
  from: string;
  odds: number[];
}

/** What a curve says of a day; nothing where it does not reach. */
export function valueOn(from: string, values: readonly number[], on: string): number | undefined {
  return values[Math.round((day(on).getTime() - day(from).getTime()) / DAY)];
}

export function oddsOn(curve: Curve, on: string): number | undefined {
  return valueOn(curve.from, curve.odds, on);
}

/** Of several windows, what the likeliest says of a day. */
export function bestOn<T extends Curve>(
  windows: readonly T[],
  on: string,
): { window: T; odds: number } | undefined {
  let best: { window: T; odds: number } | undefined;
  for (const window of windows) {
    const odds = oddsOn(window, on);
    if (odds !== undefined && (!best || odds > best.odds)) best = { window, odds };
  }
  return best;
}

/** The chance at a pixel: the likeliest window's. */
export function chanceAt(windows: readonly Curve[], scale: TimeScale): (x: number) => number {
  return (x) => bestOn(windows, isoDay(scale.invert(x)))?.odds ?? 0;
}

/** "58%". */
export function percent(share: number): string {
  return `${Math.round(share * 100)}%`;
}

/** "62–84%". */
export const percentRange = (low: number, high: number) =>
  `${percent(low).replace("%", "")}–${percent(high)}`;
