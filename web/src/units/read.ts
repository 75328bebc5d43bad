import { dimensionOf } from "./base";
import type { Quantity } from "./format";
import { plainNumber } from "./number";

const AMOUNT = /^([\d.,/¼½¾ ]*[\d¼½¾]) *([^\d ]\S*)?$/;
/** Wholes, where there are some, and a part of one. */
const FRACTION = /^(?:(\d+) )?(\d+)\/(\d+)$/;
const PART = /^(\d+)? ?([¼½¾])$/;
const PARTS: Record<string, number> = { "¼": 0.25, "½": 0.5, "¾": 0.75 };

/**
 * A plain amount, where nobody answers: a number or a fraction in the unit that the field stands for, or with the
 * symbol of a unit of its kind. The grammar is the server's: all else waits until there is signal.
 */
export function readHere(text: string, bare: string): Quantity | null {
  const [, number = "", symbol = bare] = AMOUNT.exec(text.trim().replace(/\s+/g, " ")) ?? [];
  const value = valueOf(number);
  const alike =
    symbol === bare || (dimensionOf(symbol) !== undefined && dimensionOf(symbol) === dimensionOf(bare));
  return Number.isFinite(value) && alike ? { value, unit: symbol } : null;
}

function valueOf(text: string): number {
  // A space parts a number from its fraction here.
  const plain = text.includes(" ") ? NaN : plainNumber(text);
  if (plain !== null && Number.isFinite(plain)) return plain;
  const [, wholes = "0", above, below] = FRACTION.exec(text) ?? [];
  if (above !== undefined) return Number(wholes) + Number(above) / Number(below);
  const [, before = "0", part = ""] = PART.exec(text) ?? [];
  return Number(before) + (PARTS[part] ?? NaN);
}
