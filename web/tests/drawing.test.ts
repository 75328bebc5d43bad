import { describe, expect, it } from "vitest";
import { begun, drawn, type Change } from "../src/field/drawing";
import { degreesIn } from "../src/field/plane";

const spot = (x: number, y = 0) => ({ x, y });
const after = (...changes: Change[]) => changes.reduce(drawn, begun([]));

describe("drawing a ring", () => {
  it("adds at the end, or after the corner that is picked", () => {
    const line: Change[] = [0, 1, 2].map((x) => ({ to: "add", at: spot(x) }));
    expect(after(...line).corners).toEqual([spot(0), spot(1), spot(2)]);
    const more = after(
      ...line,
      { to: "pick", corner: 0 },
      { to: "add", at: spot(9) },
      { to: "add", at: spot(8) },
    );
    expect(more.corners.map(({ x }) => x)).toEqual([0, 9, 8, 1, 2]);
  });

  it("undoes a whole drag at once, and nothing beyond the beginning", () => {
    const start = after({ to: "add", at: spot(0) }, { to: "take", corner: 0 });
    const moved = [1, 2, 3].reduce((now, x) => drawn(now, { to: "move", corner: 0, at: spot(x) }), start);
    expect(moved.corners).toEqual([spot(3)]);
    const undone = drawn(moved, { to: "undo" });
    expect(undone.corners).toEqual([spot(0)]);
    const empty = drawn(drawn(undone, { to: "undo" }), { to: "undo" });
    expect(empty.corners).toEqual([]);
  });

  it("inserts between, removes, and follows a walk", () => {
    const now = after(
      { to: "follow", line: [spot(0), spot(4), spot(4, 4)] },
      { to: "insert", after: 0, at: spot(2) },
      { to: "remove", corner: 3 },
    );
    expect(now.corners).toEqual([spot(0), spot(2), spot(4)]);
    expect(now.picked).toBeNull();
  });

  it("takes over what was left, and undone it is as it was", () => {
    const ring = [spot(0), spot(1), spot(2)];
    const taken = drawn(begun([ring]), { to: "take-over", rings: [[spot(9)], ring] });
    expect([taken.corners, taken.others]).toEqual([[spot(9)], [ring]]);
    const undone = drawn(taken, { to: "undo" });
    expect([undone.corners, undone.others]).toEqual([ring, []]);
    expect(drawn(begun([ring]), { to: "take-over", rings: [] }).corners).toEqual([]);
  });

  it("reads rings of places in what was kept, and nothing else", () => {
    const kept = [[[1, 2], [3, 4], "here", [5]], "no", []];
    expect(degreesIn(kept)).toEqual([
      [
        [1, 2],
        [3, 4],
      ],
      [],
    ]);
    for (const other of [null, 7, {}, "no"]) expect(degreesIn(other)).toEqual([]);
  });

  it("puts a ring down, takes it in hand again, and undoes both", () => {
    const ring = [spot(0), spot(4), spot(4, 4)];
    const two = after({ to: "follow", line: ring }, { to: "next" }, { to: "add", at: spot(9) });
    expect([two.corners, two.others]).toEqual([[spot(9)], [ring]]);
    // What is no ring yet is not kept for one.
    const held = drawn(two, { to: "hold", ring: 0 });
    expect([held.corners, held.others]).toEqual([ring, []]);
    const undone = drawn(held, { to: "undo" });
    expect([undone.corners, undone.others]).toEqual([[spot(9)], [ring]]);
    expect(drawn(after({ to: "add", at: spot(1) }), { to: "next" }).corners).toEqual([spot(1)]);
  });
});
