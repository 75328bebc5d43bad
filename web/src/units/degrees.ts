import { plainNumber } from "./number";

/** The letters of the half of the globe: the first is positive. */
export type Halves = readonly [string, string];
export const LATITUDE: Halves = ["N", "S"];
export const LONGITUDE: Halves = ["E", "W"];

/**
 * Degrees as maps and people write them: "40.8", "-73.97", "73.97 W", "40 48 N", "40° 48′ 30″ N".
 *
 * Nothing for nothing; NaN for what can't be read, among it minutes or seconds of sixty and more.
 */
export function degreesOf(text: string, [positive, negative]: Halves): number | null {
  const trimmed = text.trim().toUpperCase();
  if (trimmed === "") return null;
  const letter = [positive, negative].find((one) => trimmed.endsWith(one) || trimmed.startsWith(one));
  const rest = letter ? trimmed.replace(letter, " ").trim() : trimmed;
  const whole = plainNumber(rest);
  if (whole !== null && Number.isFinite(whole) && !/\s/.test(rest)) return signed(whole, letter, negative);
  const parts = rest.split(/[\s°º'′’"″”:]+/).filter((part) => part !== "");
  const numbers = parts.map((part) => plainNumber(part) ?? NaN);
  const [degrees = NaN, minutes = 0, seconds = 0] = numbers;
  const small = [minutes, seconds].every((part) => part >= 0 && part < 60);
  if (parts.length > 3 || !numbers.every(Number.isFinite) || !small) return NaN;
  const size = Math.abs(degrees) + minutes / 60 + seconds / 3600;
  return signed(rest.startsWith("-") || rest.startsWith("−") ? -size : size, letter, negative);
}

function signed(value: number, letter: string | undefined, negative: string): number {
  if (letter === undefined) return value;
  // "-73 W" is west, not east.
  return letter === negative ? -Math.abs(value) : Math.abs(value);
}
