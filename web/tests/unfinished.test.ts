import { describe, expect, it } from "vitest";
import { changedOf, unfinished } from "../src/records/unfinished";

const DAY = 86_400_000;

describe("a form that is left before it is handed in", () => {
  it("keeps what was changed alone: what it began with follows the plan", () => {
    const begun = { lot: "", area: { text: "7.2", bare: "ac" }, on: "2026-05-14", seen: [] as string[] };
    expect(changedOf({ ...begun }, begun)).toEqual({});
    const written = { ...begun, lot: "NL-204", area: { text: "7.5", bare: "ac" }, seen: ["crust"] };
    expect(changedOf(written, begun)).toEqual({
      lot: "NL-204",
      area: { text: "7.5", bare: "ac" },
      seen: ["crust"],
    });
  });

  it("leaves a picture's room to what was typed", () => {
    const written = { jpeg: "a".repeat(300_000), note: "the crust" };
    expect(changedOf(written, { jpeg: "", note: "" })).toEqual({ note: "the crust" });
  });

  it("is found again for a month, and nothing of another shape is taken for it", () => {
    const kept = { id: "one", at: 0, values: { lot: "NL-204" } };
    expect(unfinished(kept, 29 * DAY)).toEqual(kept);
    expect(unfinished(kept, 31 * DAY)).toBeNull();
    for (const other of [null, "no", {}, { id: 3, at: 0, values: {} }, { id: "one", at: 0, values: null }])
      expect(unfinished(other, 0)).toBeNull();
  });
});
