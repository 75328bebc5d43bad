import { z } from "zod";
import { monthText } from "./format";

/**
 * A day as a field holds it: `2027-08-12`; as far as it is typed, `2027--12`; empty where nothing is.
 * A form keeps what is half typed: a day that somebody set is not replaced by another meanwhile.
 */

/** Years that a day may lie in. */
const YEARS = { from: 1900, to: 2200 };

/** As long as somebody has emptied a field that would otherwise be filled in for them. */
export const CLEARED = "--";

export interface DayParts {
  year: number | null;
  month: number | null;
  day: number | null;
}

/** What is typed of a day. */
export function partsOf(text: string): DayParts {
  const [, year, month, day] = /^(\d*)-(\d*)-(\d*)$/.exec(text) ?? [];
  const number = (part: string | undefined) => (part ? Number(part) : null);
  return { year: number(year), month: number(month), day: number(day) };
}

/** As a field holds it. */
export function textOf({ year, month, day }: DayParts): string {
  if (year === null && month === null && day === null) return "";
  const part = (number: number | null, digits: number) =>
    number === null ? "" : String(number).padStart(digits, "0");
  return `${part(year, 4)}-${part(month, 2)}-${part(day, 2)}`;
}

/** The last day of a month: "0" of the next. */
const lengthOf = (year: number, month: number) => new Date(Date.UTC(year, month, 0)).getUTCDate();

/** What is wrong with a day, in words that say how to mend it; nothing with a day that is whole, or empty. */
export function dayTrouble(text: string): string | undefined {
  if (text === "" || text === CLEARED) return undefined;
  const { year, month, day } = partsOf(text);
  const lacking = Object.entries({ day, month, year })
    .filter(([, part]) => part === null)
    .map(([name]) => name);
  if (lacking.length === 3) return "This is not a date.";
  if (lacking.length > 0) return `Enter the ${lacking.join(" and the ")}.`;
  if (year === null || month === null || day === null) return undefined;
  if (year < YEARS.from || year > YEARS.to)
    return `The year is ${year}; enter a year from ${YEARS.from} to ${YEARS.to}.`;
  if (month < 1 || month > 12) return `The month is ${month}; enter 1 to 12.`;
  const last = lengthOf(year, month);
  if (day < 1 || day > last) return `${monthText(month)} ${year} has ${last} days; there is no day ${day}.`;
  return undefined;
}

/** A day of the calendar, whole. */
export const isDay = (text: string): boolean =>
  text !== "" && text !== CLEARED && dayTrouble(text) === undefined;

/** A day as far as it can be reckoned with: itself when it is whole or left out, another while it is half typed. */
export const wholeOr = (text: string, other: string): string => (text === "" || isDay(text) ? text : other);

const held = (empty?: string) =>
  z.string().superRefine((text, context) => {
    const trouble = text === "" || text === CLEARED ? empty : dayTrouble(text);
    if (trouble) context.addIssue({ code: "custom", message: trouble });
  });

/** A day that has to be told. */
export const wholeDay = held("Enter the date.");

/** A day that may be left out. */
export const dayOrNone = held();
