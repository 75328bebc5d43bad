import type { Schemas } from "../api/client";

/** Pixels for the strips of a desk's season, below the axis and the weather. */
const ROOM = 518;
const [LEAST, MOST] = [36, 76];

/** Few fields get taller strips, many thinner ones. */
export function stripHeight(strips: number): number {
  return Math.round(Math.min(MOST, Math.max(LEAST, ROOM / Math.max(1, strips) - 1)));
}

interface Stretch {
  from: string;
  to: string;
}

/** What the signs on the screen mean: a sentence for each that is there, none for one that is not. */
export function legend(
  strips: readonly Pick<Schemas["Strip"], "stands">[],
  { from, to }: Stretch,
  mayMove: boolean,
  level: string,
): string[] {
  const within = (on: string) => on >= from && on < to;
  const stands = strips.flatMap((strip) => strip.stands);
  const ink = stands.some((stand) => stand.marks.some((mark) => !mark.struck && within(mark.on)));
  const struck = stands.some((stand) => stand.marks.some((mark) => mark.struck && within(mark.on)));
  const open = stands.flatMap((stand) =>
    stand.plan.steps.filter((step) => !["done", "passed"].includes(step.state.is) && within(step.from)),
  );
  const blades = stands.some((stand) =>
    stand.windows.some((window) => window.odds.some((odds) => odds > 0.04)),
  );
  const moves = mayMove && open.some((step) => step.look.role === "sowing");
  const said: string[] = [];
  if (open.length > 0 && ink) said.push("Gray: planned (pencil). Dark: recorded (ink).");
  else if (open.length > 0) said.push("Gray: planned (pencil).");
  else if (ink) said.push("Dark: recorded (ink).");
  if (struck) said.push("Crossed out: struck.");
  if (blades)
    said.push(`Blades show sowing odds: taller and denser is better. Underlined: ${level} or more.`);
  if (moves) said.push("Drag a sowing mark to move it.");
  return said;
}
