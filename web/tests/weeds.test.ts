import { describe, expect, it } from "vitest";
import type { Schemas } from "../src/api/client";
import { recentWeeds, stillForbidden } from "../src/ground/weeds";

const today = "2026-05-14";
let entries = 0;

const weed = (on: string, name: string, at?: { longitude: number; latitude: number }) => ({
  entry: `e${(entries += 1)}`,
  on,
  what: { name, weed: "perennial" as const, ...(at ? { at } : {}) },
});

const ground = (part: Partial<Schemas["Ground"]>) =>
  ({ ground: { weeds: [], unfree: [], ...part } }) as unknown as Schemas["GroundView"];

describe("weeds seen", () => {
  it("are those of a year, the last look at each by name", () => {
    const weeds = [weed("2024-05-01", "dock"), weed("2026-04-01", "dock"), weed("2026-05-01", "dock")];
    expect(recentWeeds(ground({ weeds }), today).map(({ on }) => on)).toEqual(["2026-05-01"]);
  });

  it("stand each for its place where one was told", () => {
    const here = { longitude: -76.5, latitude: 42.5 };
    const there = { longitude: -76.6, latitude: 42.5 };
    const weeds = [
      weed("2026-05-01", "dock", here),
      weed("2026-05-02", "dock", there),
      weed("2026-05-03", "dock"),
    ];
    expect(recentWeeds(ground({ weeds }), today)).toHaveLength(3);
  });

  it("are none where nothing is known yet", () => {
    expect(recentWeeds(undefined, today)).toEqual([]);
  });
});

describe("what a label still forbids", () => {
  const unfree = [
    {
      entry: "a",
      on: "2026-05-04",
      what: { why: "sod killer", cutting: "2026-05-18", grazing: "2026-05-11", sowing: [] },
    },
    {
      entry: "b",
      on: "2026-05-10",
      what: { why: "other", cutting: null, grazing: "2026-05-15", sowing: [] },
    },
  ];

  it("ends on the day it is free", () => {
    const told = stillForbidden(ground({ unfree }), today).map(({ deed, why }) => `${deed}: ${why}`);
    expect(told).toEqual(["cutting: sod killer", "grazing: other"]);
    expect(stillForbidden(ground({ unfree }), "2026-05-18")).toEqual([]);
  });
});
