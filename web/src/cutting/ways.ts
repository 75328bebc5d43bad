import type { Schemas } from "../api/client";
import { shown, type Quantity } from "../units/format";

export type Cutting = NonNullable<Schemas["CuttingView"]["told"]>["value"];

export type Way = Cutting["ways"][number];

const DAY = 86_400_000;

/** The middle of three: half of the years have less, half more. */
export const middleOf = ({ values, unit }: Schemas["Series"]): Quantity => ({ value: values[1] ?? 0, unit });

/** Low and high of three as one text without its unit: "4.1–5.2". */
export function spreadOf({ values, unit }: Schemas["Series"]): string {
  const number = (value: number | null | undefined) => shown({ value: value ?? 0, unit }).number;
  const [low, high] = [number(values[0]), number(values[2])];
  return low === high ? high : `${low}–${high}`;
}

/** "3", or "3–4" where the years differ. */
export function timesOf([low, , high]: readonly number[]): string {
  return low === high ? String(high) : `${low}–${high}`;
}

/** What a way gives more or less than another, with its sign: "+0.4", "−0.4"; nothing where it is the same. */
export function against(way: Quantity, held: Quantity): string | undefined {
  const difference = way.value - held.value;
  const { number } = shown({ value: Math.abs(difference), unit: way.unit });
  if (!/[1-9]/.test(number)) return undefined;
  return `${difference < 0 ? "−" : "+"}${number}`;
}

/** Days with one of them moved: in their order, none twice, none before the first day or from the end on. */
export function movedTo(
  days: readonly string[],
  at: number,
  to: string,
  from: string,
  end: string,
): string[] {
  const low = at > 0 ? after(days[at - 1] ?? from, 1) : from;
  const high = at < days.length - 1 ? after(days[at + 1] ?? end, -1) : after(end, -1);
  const held = to < low ? low : to > high ? high : to;
  return days.map((day, place) => (place === at ? held : day));
}

/** A day so many days on. */
export function after(day: string, days: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) + days * DAY).toISOString().slice(0, 10);
}
