import { expect, it } from "vitest";
import type { Schemas } from "../src/api/client";
import { toleratedIn } from "../src/bench/SprayVerdict";
import { standingOn } from "../src/bench/useStanding";

const stand = (crop: string, sown: boolean, practice: string, until: string | null = null) =>
  ({
    crops: [crop],
    plan: { sown, practice, until, today: "2026-05-14", sown_on: sown ? "2020-05-01" : "2026-08-10" },
  }) as unknown as Schemas["StandView"];

const keepsSward = (practice: string) => practice === "overseeded";
const old = stand("alfalfa", true, "tilled");

it.each([
  ["what was sown is to live", [old], ["alfalfa"], 0],
  ["before a new sowing it makes room", [old, stand("timothy", false, "no-till")], [], 1],
  ["sown into, it stays", [old, stand("red-clover", false, "overseeded")], ["alfalfa"], 1],
  ["an annual that is over stands no more", [stand("forage-oats", true, "tilled", "2026-03-01")], [], 0],
  ["bare ground bears nothing", [], [], 0],
])("%s", (_, stands, over, planned) => {
  const standing = standingOn(stands, keepsSward);
  expect(standing.over).toEqual(over);
  expect(standing.to_sow).toHaveLength(planned);
});

it.each([
  ["glyphosate", ["glyphosate"]],
  ["glyphosate and glufosinate", ["glyphosate", "glufosinate"]],
  [" glyphosate; 2,4-D ", ["glyphosate", "2,4-D"]],
  ["", []],
  [undefined, []],
])("what a variety tolerates is told word by word: %s", (words, each) => {
  expect(toleratedIn(words)).toEqual(each);
});
