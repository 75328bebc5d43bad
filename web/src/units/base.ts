import type { Quantity } from "./format";

/** Of a metre, a square metre, a gram or a second: what amounts that come in whichever unit reads best are held side by side by. */
const FACTORS: Record<string, number> = {
  m: 1,
  cm: 0.01,
  mm: 0.001,
  km: 1_000,
  in: 0.0254,
  ft: 0.3048,
  yd: 0.9144,
  mi: 1_609.344,
  g: 1,
  kg: 1_000,
  t: 1_000_000,
  oz: 28.349_523_125,
  lb: 453.592_37,
  ton: 907_184.74,
  m2: 1,
  ha: 10_000,
  ac: 4_046.856_422_4,
  ft2: 0.092_903_04,
  s: 1,
  min: 60,
  h: 3_600,
  d: 86_400,
};

/** A length in metres, an area in square metres, a mass in grams, a time in seconds; not a number of another unit. */
export const inBase = ({ value, unit }: Quantity): number => value * (FACTORS[unit] ?? NaN);
