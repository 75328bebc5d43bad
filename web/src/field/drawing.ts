import type { Spot } from "./plane";

type Ring = readonly Spot[];

/** Rings being drawn: the corners of the one in hand, the other ones, the corner that is picked, and how they stood
 * before each change. */
export interface Drawing {
  corners: Ring;
  others: readonly Ring[];
  picked: number | null;
  before: readonly { corners: Ring; others: readonly Ring[] }[];
}

export type Change =
  /** One more corner: after the picked one, at the end where none is picked. */
  | { to: "add"; at: Spot }
  /** Other rings instead of these, as they were left before. */
  | { to: "take-over"; rings: readonly Ring[] }
  /** Several, as walked. */
  | { to: "follow"; line: readonly Spot[] }
  /** Between a corner and the next. */
  | { to: "insert"; after: number; at: Spot }
  /** Take hold of a corner that is going to be moved: undone, it stands where it stood now. */
  | { to: "take"; corner: number }
  | { to: "move"; corner: number; at: Spot }
  | { to: "remove"; corner: number }
  | { to: "pick"; corner: number | null }
  /** Put this ring down and begin another. */
  | { to: "next" }
  /** Take another one in hand. */
  | { to: "hold"; ring: number }
  | { to: "undo" };

export const begun = ([corners = [], ...others]: readonly Ring[]): Drawing => ({
  corners,
  others,
  picked: null,
  before: [],
});

const kept = 200;

function changed(drawing: Drawing, corners: Ring, picked: number | null, others = drawing.others): Drawing {
  const before = [...drawing.before, { corners: drawing.corners, others: drawing.others }].slice(-kept);
  return { corners, others, picked, before };
}

/** The drawing after a change; the same one where there is nothing to change. */
export function drawn(drawing: Drawing, change: Change): Drawing {
  const { corners, picked } = drawing;
  switch (change.to) {
    case "add": {
      const at = picked === null ? corners.length : picked + 1;
      return changed(drawing, corners.toSpliced(at, 0, change.at), picked === null ? null : at);
    }
    case "take-over": {
      const [first = [], ...others] = change.rings;
      return changed(drawing, first, null, others);
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
    case "next":
      return corners.length < 3 ? drawing : changed(drawing, [], null, [...drawing.others, corners]);
    case "hold": {
      const held = drawing.others[change.ring];
      if (!held) return drawing;
      const rest = drawing.others.toSpliced(change.ring, 1);
      // What is no ring yet is thrown away.
      return changed(drawing, held, null, corners.length < 3 ? rest : [...rest, corners]);
    }
    case "undo": {
      const last = drawing.before.at(-1);
      return last ? { ...last, picked: null, before: drawing.before.slice(0, -1) } : drawing;
    }
  }
}
