import { describe, expect, it } from "vitest";
import type { Schemas } from "../src/api/client";
import { groupsOf, isNext } from "../src/start/StepList";
import { seasonWord } from "../src/units/words";

function step(of: Partial<Schemas["Step"]>): Schemas["Step"] {
  return {
    step: "cut",
    occurrence: 1,
    from: "2026-06-01",
    state: { is: "waiting" },
    ...of,
  } as Schemas["Step"];
}

const done = { is: "done", entry: "e", on: "2026-06-01" } as Schemas["State"];

describe("the steps of a stand", () => {
  const plan = {
    seasons: [{ season: 2026 }, { season: 2027 }],
    steps: [
      step({ step: "sow" }),
      step({ season: 2027 }),
      step({ season: 2024, state: done }),
      step({ season: 2025, state: done }),
      step({ season: 2026 }),
      step({ season: 2026, occurrence: 2 }),
    ],
  } as Schemas["Plan"];

  it("stand by season: what is to come, how it was made, and what is over, the last first", () => {
    const { now, making, over } = groupsOf(plan);
    expect(now.map(({ season, steps }) => [season, steps.length])).toEqual([
      [2026, 2],
      [2027, 1],
    ]);
    expect(making.map(({ step }) => step)).toEqual(["sow"]);
    expect(over.map(({ season }) => season)).toEqual([2025, 2024]);
  });

  it("of a season stand by their days: a dressing between the cuts it lies between", () => {
    const steps = [
      step({ season: 2026, from: "2026-05-23" }),
      step({ season: 2026, occurrence: 2, from: "2026-06-27" }),
      step({ step: "dress-first-cut", season: 2026, from: "2026-05-30" }),
    ];
    const [season] = groupsOf({ ...plan, steps } as Schemas["Plan"]).now;
    expect(season?.steps.map(({ step }) => step)).toEqual(["cut", "dress-first-cut", "cut"]);
  });

  it.each<[string, Schemas["State"], boolean]>([
    ["done", done, true],
    ["left out", { is: "passed" }, true],
    ["open", { is: "ready" }, false],
  ])("are inked one after the other: with the first %s, the second is next or not", (_, state, next) => {
    const second = step({ season: 2026, occurrence: 2 });
    const others = [step({ season: 2026, state }), second, step({ step: "dress-after-cut", season: 2026 })];
    expect(isNext(second, others)).toBe(next);
  });

  it("of the making are inked in any order", () => {
    expect(isNext(step({ occurrence: 2 }), [step({})])).toBe(true);
  });
});

describe("a season", () => {
  it.each([
    [2026, "2026-01-01", "2026"],
    [2025, "2025-07-01", "2025/26"],
    [1999, "1999-07-01", "1999/00"],
  ])("%i that begins on %s is called %s", (season, begins, word) => {
    expect(seasonWord(season, begins)).toBe(word);
  });
});
