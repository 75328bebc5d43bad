import { useState } from "react";
import { wholeOr } from "../units/day";

/**
 * What is reckoned with while a day is being typed: the day itself when it is whole or left out, and until then the
 * last that was.
 */
export function useWholeDay(text: string): { day: string; half: boolean } {
  const [held, setHeld] = useState(() => wholeOr(text, ""));
  const day = wholeOr(text, held);
  if (day !== held) setHeld(day);
  return { day, half: day !== text };
}
