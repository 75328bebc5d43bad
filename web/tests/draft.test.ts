import { describe, expect, it } from "vitest";
import { choicesOf, emptyDraft, keptDraft, recordedMix } from "../src/start/draft";

const day = "2026-05-14";

describe("a draft that was kept", () => {
  it("comes back whole", () => {
    const draft = { ...emptyDraft(), field: "f", members: [{ crop: "alfalfa", amount: null }] };
    expect(keptDraft(JSON.stringify(draft))).toEqual({ draft, lost: false });
  });

  it.each([
    ["members that are words", { members: "alfalfa" }],
    ["a number for a quantity", { spare: 7 }],
    ["half a quantity", { total: { value: 3 } }],
    ["lots of nothing", { lots: [null] }],
    ["a goal of another time", { goal: "thatch" }],
    ["a part that is no more", { tractor: "red" }],
    ["a day that is a number", { sowOn: 20260514 }],
  ])("with %s is told and left out, the rest kept", (_, part) => {
    const { draft, lost } = keptDraft(JSON.stringify({ field: "f", ...part }));
    expect(draft).toEqual({ ...emptyDraft(), field: "f" });
    expect(lost).toBe(true);
  });

  it.each([["not JSON"], ["[]"], ["null"], ["7"]])("%s is none, and told", (text) => {
    expect(keptDraft(text)).toEqual({ draft: emptyDraft(), lost: true });
  });

  it("that was never there is not missed", () => {
    expect(keptDraft(null).lost).toBe(false);
  });
});

describe("what a draft amounts to", () => {
  const rate = { value: 15, unit: "lb/ac" };
  it("is nothing while a part is missing", () => {
    expect(choicesOf(emptyDraft(), [], day)).toBeUndefined();
    expect(choicesOf({ ...emptyDraft(), members: [{ crop: "alfalfa", amount: null }] }, [])).toBeUndefined();
  });

  it("is nothing without a day, until one is proposed", () => {
    const draft = { ...emptyDraft(), members: [{ crop: "alfalfa", amount: rate }] };
    expect(choicesOf(draft, [])).toBeUndefined();
    expect(choicesOf(draft, [], day)?.sow_on).toBe(day);
  });

  it("names only lots of its crops", () => {
    const draft = { ...emptyDraft(), members: [{ crop: "alfalfa", amount: rate }], lots: ["a", "b"] };
    const lots = [
      { id: "a", crop: "alfalfa" },
      { id: "b", crop: "timothy" },
    ] as unknown as Parameters<typeof choicesOf>[1];
    const choices = choicesOf(draft, lots, day);
    expect(choices?.cover.as === "seed" && choices.cover.lots).toEqual([{ lot: "a" }]);
  });
});

describe("the mix of a draft, to be kept", () => {
  const amount = { value: 75, unit: "%" };
  const draft = { ...emptyDraft(), by: "full-rate" as const, members: [{ crop: "alfalfa", amount }] };

  it("holds shares or rates, as it is named", () => {
    expect(recordedMix(draft)?.members).toEqual([{ crop: "alfalfa", share: amount }]);
    expect(recordedMix({ ...draft, by: "mass" })?.members).toEqual([{ crop: "alfalfa", rate: amount }]);
  });

  it.each([
    ["of plants", { plants: "giant-miscanthus" }],
    ["of nothing", { members: [] }],
    ["with a part unsaid", { members: [{ crop: "alfalfa", amount: null }] }],
  ])("%s is none", (_, part) => {
    expect(recordedMix({ ...draft, ...part })).toBeUndefined();
  });
});
