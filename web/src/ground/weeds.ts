import type { Schemas } from "../api/client";

type Weed = Schemas["Ground"]["weeds"][number];

/** A year, in days. */
const YEAR = 365;

/** Weeds seen within a year, the last look at each kind by name where it was seen without a place. */
export function recentWeeds(view: Schemas["GroundView"] | undefined, today: string): Weed[] {
  const since = Date.parse(today) - YEAR * 86_400_000;
  const recent = (view?.ground.weeds ?? []).filter((one) => Date.parse(one.on) >= since);
  // One told with its place stands for that place; of those told without, the last.
  return recent.filter(
    (one, index) =>
      one.what.at != null ||
      recent.findLastIndex((other) => other.what.at == null && other.what.name === one.what.name) === index,
  );
}

/** What sprays still forbid on a day. */
export function stillForbidden(view: Schemas["GroundView"], today: string) {
  return view.ground.unfree.flatMap(({ on, what }) =>
    (
      [
        ["cutting", what.cutting],
        ["grazing", what.grazing],
      ] as const
    ).flatMap(([deed, free]) => (free != null && free > today ? [{ deed, free, why: what.why, on }] : [])),
  );
}
