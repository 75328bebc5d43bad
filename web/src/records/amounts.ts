import { z } from "zod";
import { answered, api, Refused, type Problem } from "../api/client";
import { typed, type Quantity } from "../units/format";
import { plainNumber } from "../units/number";

/** An amount as it was written, and the unit a bare number stands for. */
export interface AmountWords {
  text: string;
  bare: string;
}

/** What stands in a form, with every amount read. */
export type Read<T> = T extends AmountWords
  ? Quantity | undefined
  : T extends readonly (infer U)[]
    ? Read<U>[]
    : T extends object
      ? { [K in keyof T]: Read<T[K]> }
      : T;

/** A field for an amount; with a question, one that has to be answered. */
export function amount(question?: string) {
  return z
    .object({ text: z.string().max(80, "Too long; shorten it."), bare: z.string() })
    .refine(({ text }) => question === undefined || text.trim() !== "", { message: question ?? "" });
}

/** A field for a number without a unit. */
export function figure(question?: string) {
  return z
    .string()
    .max(40, "Too long; shorten it.")
    .refine((text) => question === undefined || text.trim() !== "", { message: question ?? "" })
    .refine((text) => text.trim() === "" || Number.isFinite(numberOf(text)), { message: "Enter a number." });
}

/** A field for words; with a question, one that has to be answered. */
export function words(question?: string) {
  const any = z.string().max(4000, "Use at most 4,000 characters.");
  return question === undefined ? any : any.refine((text) => text.trim() !== "", { message: question });
}

export const blank = (bare: string): AmountWords => ({ text: "", bare });

/** An amount known already, as a person would write it. */
export function written(quantity: Quantity | null | undefined, bare: string): AmountWords {
  return quantity ? { text: typed(quantity), bare } : blank(bare);
}

/** A number as people write it; nothing for nothing. */
export const numberOf = plainNumber;

/** Numbers that are all numbers; nothing otherwise. */
export function numbersIn(texts: readonly string[]): number[] | null {
  const filled = texts.filter((text) => text.trim() !== "").map(numberOf);
  const numbers = filled.filter((one): one is number => one !== null && Number.isFinite(one));
  return numbers.length > 0 && numbers.length === filled.length ? numbers : null;
}

function isAmount(value: unknown): value is AmountWords {
  if (typeof value !== "object" || value === null) return false;
  const keys = Object.keys(value);
  return keys.length === 2 && "text" in value && "bare" in value;
}

/** Where the reading of a field is blamed. */
export const readAt = (name: string) => `/read/${name}`;

type Reader = (amount: AmountWords) => Promise<Quantity>;

const byServer: Reader = async ({ text, bare }) =>
  (await answered(api.POST("/api/read", { body: { text, bare } }))).quantity;

/**
 * Read every amount of a form. The grammar is the server's: one for every form.
 *
 * Throws `Refused` with a sentence for each amount that can't be read, or when nobody answers.
 */
export async function readAmounts<T>(values: T, read: Reader = byServer): Promise<Read<T>> {
  const errors: { pointer: string; detail: string }[] = [];
  const walk = async (value: unknown, name: string): Promise<unknown> => {
    if (isAmount(value)) {
      if (value.text.trim() === "") return undefined;
      try {
        return await read(value);
      } catch (error) {
        if (!(error instanceof Refused) || error.status !== 422) throw error;
        errors.push({ pointer: readAt(name), detail: error.at("/text") ?? error.message });
        return undefined;
      }
    }
    if (Array.isArray(value)) return Promise.all(value.map((one, index) => walk(one, `${name}.${index}`)));
    if (typeof value === "object" && value !== null) {
      const parts = Object.entries(value).map(async ([key, part]) => [
        key,
        await walk(part, name === "" ? key : `${name}.${key}`),
      ]);
      return Object.fromEntries((await Promise.all(parts)) as [string, unknown][]) as unknown;
    }
    return value;
  };
  const result = await walk(values, "");
  if (errors.length > 0) {
    const problem: Problem = {
      type: "/problems/refused",
      title: "Not understood",
      status: 422,
      detail: errors.map((error) => error.detail).join("; "),
      errors,
    };
    throw new Refused(422, problem);
  }
  return result as Read<T>;
}

/** Without what was left empty. */
export function present<T extends object>(values: T): Partial<T> {
  return Object.fromEntries(
    Object.entries(values).filter(([, value]) => value !== undefined && value !== null && value !== ""),
  ) as Partial<T>;
}
