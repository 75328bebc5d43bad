import { dimensionOf } from "./base";
import type { Quantity } from "./format";

const PLAIN = /^(\d+(?:\.\d+)?)\s*(\S*)$/;

/**
 * A plain amount, where nobody answers: a number in the unit that the field stands for, or with the symbol of a unit
 * of its kind. The grammar is the server's: all else waits until there is signal.
 */
export function readHere(text: string, bare: string): Quantity | null {
  const [, number, symbol = ""] = PLAIN.exec(text.trim()) ?? [];
  if (number === undefined) return null;
  const unit = symbol === "" ? bare : symbol;
  const alike = unit === bare || (dimensionOf(unit) !== undefined && dimensionOf(unit) === dimensionOf(bare));
  return alike ? { value: Number(number), unit } : null;
}
