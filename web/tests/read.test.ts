import { describe, expect, it } from "vitest";
import { readHere } from "../src/units/read";

describe("an amount read where nobody answers", () => {
  it.each([
    ["20", "lb/ac", { value: 20, unit: "lb/ac" }],
    [" 7.5 ", "in", { value: 7.5, unit: "in" }],
    ["20 lb/ac", "lb/ac", { value: 20, unit: "lb/ac" }],
    ["200 ft", "in", { value: 200, unit: "ft" }],
    ["6ha", "ac", { value: 6, unit: "ha" }],
    ["4", "h", { value: 4, unit: "h" }],
    ["0", "lb", { value: 0, unit: "lb" }],
    ["1/4 in", "in", { value: 0.25, unit: "in" }],
    ["1 1/2", "in", { value: 1.5, unit: "in" }],
    ["2  3/8in", "in", { value: 2.375, unit: "in" }],
    ["½ in", "in", { value: 0.5, unit: "in" }],
    ["1½ ft", "in", { value: 1.5, unit: "ft" }],
    ["2 ¾", "lb", { value: 2.75, unit: "lb" }],
    ["1,250 ft", "ft", { value: 1250, unit: "ft" }],
    ["2,5", "in", { value: 2.5, unit: "in" }],
  ])("%s, of a field in %s", (text, bare, amount) => {
    expect(readHere(text, bare)).toEqual(amount);
  });

  // Of another kind, with a sign, in words, or no number: the server's grammar knows.
  it.each([
    ["200 lb", "in"],
    ["20 kg/ha", "lb/ac"],
    ["1/0", "in"],
    ["1/2/3 in", "in"],
    ["3/ft2", "in"],
    ["7 9", "in"],
    ["1.5 1/2", "in"],
    ["¼¼", "in"],
    ["-3", "degC"],
    ["two acres", "ac"],
    ["1e9", "lb"],
    ["", "lb"],
    ["5 toString", "ft"],
  ])("%s of a field in %s waits", (text, bare) => {
    expect(readHere(text, bare)).toBeNull();
  });
});
