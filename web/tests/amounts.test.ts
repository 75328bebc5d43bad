import { describe, expect, it } from "vitest";
import { Refused } from "../src/api/client";
import {
  amount,
  blank,
  figure,
  numberOf,
  present,
  readAmounts,
  words,
  written,
} from "../src/records/amounts";

const refused = (detail: string) =>
  new Refused(422, {
    type: "/problems/refused",
    title: "",
    status: 422,
    detail,
    errors: [{ pointer: "/text", detail }],
  });

/** Reads "15" in the bare unit, and nothing with letters. */
const reader = async ({ text, bare }: { text: string; bare: string }) => {
  if (/[a-z]/.test(text)) throw refused(`“${text}” has no number`);
  return { value: Number(text), unit: bare };
};

describe("amounts of a form", () => {
  it("are read wherever they stand; what is empty is nothing", async () => {
    const read = await readAmounts(
      {
        rate: { text: "15", bare: "lb/ac" },
        note: "as is",
        parts: [{ n: { text: " ", bare: "%" } }],
        on: true,
      },
      reader,
    );
    expect(read).toEqual({
      rate: { value: 15, unit: "lb/ac" },
      note: "as is",
      parts: [{ n: undefined }],
      on: true,
    });
  });

  it("that can't be read are all blamed at their fields", async () => {
    const values = { a: { text: "few", bare: "in" }, b: { c: { text: "some", bare: "in" } } };
    const error = await readAmounts(values, reader).catch((error: unknown) => error);
    expect(error).toBeInstanceOf(Refused);
    expect((error as Refused).problem.errors).toEqual([
      { pointer: "/read/a", detail: "“few” has no number" },
      { pointer: "/read/b.c", detail: "“some” has no number" },
    ]);
  });

  it("wait when nobody answers, instead of being blamed", async () => {
    const silent = async () => {
      throw new Refused(0, { type: "", title: "", status: 0, detail: "" });
    };
    await expect(readAmounts({ a: { text: "1", bare: "in" } }, silent)).rejects.toMatchObject({ status: 0 });
  });

  it("known already stand as a person would write them", () => {
    expect(written({ value: 1.2, unit: "in" }, "in")).toEqual({ text: "1.2 in", bare: "in" });
    expect(written(null, "in")).toEqual(blank("in"));
  });
});

describe("what a form asks for", () => {
  it.each([
    ["an amount that is asked for", amount("how much?"), blank("in"), "how much?"],
    ["an amount that may be left out", amount(), blank("in"), null],
    ["words of spaces", words("say what"), "   ", "say what"],
    ["a number in letters", figure(), "six", "Enter a number."],
    ["a number with a comma", figure(), "6,5", null],
    ["no number where one is asked for", figure("which?"), "", "which?"],
    ["a number without end", figure(), "1e999", "Enter a number."],
  ])("%s", (_, schema, value, expected) => {
    const result = schema.safeParse(value);
    expect(result.success ? null : result.error.issues[0]?.message).toBe(expected);
  });

  it("a number is read as people write it", () => {
    expect([numberOf("6,5"), numberOf(" 7 "), numberOf("")]).toEqual([6.5, 7, null]);
  });

  it("what was left empty is not sent", () => {
    expect(present({ a: "", b: undefined, c: null, d: 0, e: false })).toEqual({ d: 0, e: false });
  });
});
