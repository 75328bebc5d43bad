import { describe, expect, it } from "vitest";
import { blades } from "../src/draw/marks";
import { apart, roomFor, wordsAt, type Placed } from "../src/draw/Strip";
import { sideFor } from "../src/kit/working";
import { legend, stripHeight } from "../src/season/legend";

const mark = (key: string, x: number, more: Partial<Placed> = {}): Placed => ({
  key,
  mark: "ring",
  weight: 1,
  sowing: false,
  standing: "pencil",
  x,
  until: x,
  label: "",
  says: key,
  lane: 0,
  stand: { id: "s" } as Placed["stand"],
  ...more,
});

describe("marks on a strip", () => {
  it("that would cover each other go one lane up, and the lightest are left out", () => {
    const kept = apart([mark("a", 50, { weight: 3 }), mark("b", 52, { weight: 2 }), mark("c", 54)], 600);
    expect(kept.map((one) => [one.key, one.lane])).toEqual([
      ["a", 0],
      ["b", 1],
    ]);
  });

  it("of two stands with the same steps each keep their own words", () => {
    const two = ["one sow 1", "two sow 1"].map((key, index) =>
      mark(key, 100 + index * 200, { label: "sow" }),
    );
    expect(roomFor(two, 600).size).toBe(2);
  });

  it("words turn to the side that has room", () => {
    expect(roomFor([mark("edge", 590, { label: "count" })], 600).get("edge")).toBe("left");
    expect(roomFor([mark("middle", 300, { label: "count" })], 600).get("middle")).toBe("right");
    const crowded = [mark("a", 300, { label: "count", weight: 2 }), mark("b", 330), mark("c", 270)];
    expect(roomFor(crowded, 600).get("a")).toBeUndefined();
  });
});

describe("the season's frame", () => {
  it.each([
    [1, 76],
    [14, 36],
    [60, 36],
  ])("%i strips", (count, height) => expect(stripHeight(count)).toBe(height));

  const span = { from: "2026-01-01", to: "2027-01-01" };
  const stand = (steps: object[], marks: object[], odds: number[]) =>
    [{ stands: [{ plan: { steps }, marks, windows: [{ odds }] }] }] as unknown as Parameters<
      typeof legend
    >[0];

  it("says nothing of what is not on the screen", () => {
    expect(legend([], span, true, "50 %")).toEqual([]);
    expect(legend(stand([], [{ on: "2026-04-01", struck: false }], [0]), span, true, "50 %")).toEqual([
      "Dark: recorded (ink).",
    ]);
  });

  it("says of each sign what it means, and of moving only to who may", () => {
    const step = { state: { is: "ready" }, from: "2026-05-20", look: { role: "sowing" } };
    const strips = stand([step], [{ on: "2026-04-01", struck: true }], [0.5]);
    expect(legend(strips, span, true, "60 %").join(" ")).toMatch(/pencil.*struck.*60 %.*Drag/);
    expect(legend(strips, span, false, "60 %").join(" ")).not.toMatch(/Drag/);
  });
});

describe("the working", () => {
  it.each([
    [400, 1280, "right"],
    [1200, 1280, "left"],
  ])("of a figure that ends at %i lies where it hides nothing", (right, width, side) => {
    expect(sideFor(right, width)).toBe(side);
  });
});

describe("blades", () => {
  const feet = (path: string) => [...path.matchAll(/M([\d.]+) /g)].map((found) => Number(found[1]));

  it("keep clear of words", () => {
    const marks = [mark("sow", 100, { label: "62 %", weight: 6 })];
    const clear = wordsAt(marks, roomFor(marks, 600));
    const [left, right] = clear[0] ?? [0, 0];
    const at = feet(blades(() => 0.8, 0, 600, 30, 20, clear));
    expect(at.length).toBeGreaterThan(40);
    expect(at.filter((x) => x > left && x < right)).toEqual([]);
  });

  it("stand closer and taller where it is likelier, and not at all where it can't be", () => {
    expect(feet(blades(() => 0.9, 0, 600, 30, 20)).length).toBeGreaterThan(
      feet(blades(() => 0.2, 0, 600, 30, 20)).length,
    );
    expect(blades(() => 0, 0, 600, 30, 20)).toBe("");
  });
});
