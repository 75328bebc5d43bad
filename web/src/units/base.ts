import type { Quantity } from "./format";

/** Of a metre, a square metre, a gram or a second: what amounts that come in whichever unit reads best are held side by side by. */
const FACTORS = {
  length: { m: 1, cm: 0.01, mm: 0.001, km: 1_000, in: 0.0254, ft: 0.3048, yd: 0.9144, mi: 1_609.344 },
  mass: { g: 1, kg: 1_000, t: 1_000_000, oz: 28.349_523_125, lb: 453.592_37, ton: 907_184.74 },
  area: { m2: 1, ha: 10_000, ac: 4_046.856_422_4, ft2: 0.092_903_04 },
  time: { s: 1, min: 60, h: 3_600, d: 86_400 },
};

export type Kind = keyof typeof FACTORS;

const UNITS = new Map<string, readonly [Kind, number]>(
  Object.entries(FACTORS).flatMap(([kind, units]) =>
    Object.entries(units).map(([unit, factor]) => [unit, [kind as Kind, factor]] as const),
  ),
);

/** Whether a unit is one of length, mass, area or time; undefined for others. */
export const dimensionOf = (unit: string): Kind | undefined => UNITS.get(unit)?.[0];

/** The same in another unit of its kind. */
export const turned = (amount: Quantity, unit: string): Quantity => ({
  value: inBase(amount) / inBase({ value: 1, unit }),
  unit,
});

/** A length in metres, an area in square metres, a mass in grams, a time in seconds; not a number of another unit. */
export const inBase = ({ value, unit }: Quantity): number => value * (UNITS.get(unit)?.[1] ?? NaN);
