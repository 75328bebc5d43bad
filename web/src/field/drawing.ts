import type { Spot } from "./plane";

/** A ring being drawn: its corners, the one that is picked, and how it stood before each change. */
export interface Drawing {
  corners: readonly Spot[];
  picked: number | null;
  before: readonly (readonly Spot[])[];
}

export type Change =
  /** One more corner: after the picked one, at the end where none is picked. */
  | { to: "add"; at: Spot }
  /** Several, as walked. */
  | { to: "follow"; line: readonly Spot[] }
  /** Between a corner and the next. */
  | { to: "insert"; after: number; at: Spot }
  /** Take hold of a corner that is going to be moved: undone, it stands where it stood now. */
  | { to: "take"; corner: number }
  | { to: "move"; corner: number; at: Spot }
  | { to: "remove"; corner: number }
  | { to: "pick"; corner: number | null }
  | { to: "undo" };

export const begun = (corners: readonly Spot[]): Drawing => ({ corners, picked: null, before: [] });

const kept = 200;

function changed(drawing: Drawing, corners: readonly Spot[], picked: number | null): Drawing {
  return { corners, picked, before: [...drawing.before, drawing.corners].slice(-kept) };
}

/** The drawing after a change; the same one where there is nothing to change. */
export function drawn(drawing: Drawing, change: Change): Drawing {
  const { corners, picked } = drawing;
  switch (change.to) {
    case "add": {
      const at = picked === null ? corners.length : picked + 1;
      return changed(drawing, corners.toSpliced(at, 0, change.at), picked === null ? null : at);
    }
    case "follow":
      return changed(drawing, [...corners, ...change.line], null);
    case "insert":
      return changed(drawing, corners.toSpliced(change.after + 1, 0, change.at), change.after + 1);
    case "take":
      return changed(drawing, corners, change.corner);
    case "move":
      return { ...drawing, corners: corners.with(change.corner, change.at) };
    case "remove":
      return changed(drawing, corners.toSpliced(change.corner, 1), null);
    case "pick":
      return { ...drawing, picked: change.corner };
    case "undo": {
      const last = drawing.before.at(-1);
      return last ? { corners: last, picked: null, before: drawing.before.slice(0, -1) } : drawing;
    }
  }
}
