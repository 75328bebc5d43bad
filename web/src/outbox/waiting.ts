import type { Problem, Schemas } from "../api/client";

/** What is to be recorded, before anything is written. */
export interface Task {
  /** Word of the record's kind: the form it is written on. */
  form: string;
  /** What it is called, and where: "Rain gauge", "Long Acre". */
  title: string;
  where: string;
  /** What to know before writing, where it is not what stands above every record. */
  about?: string | undefined;
  field?: string | undefined;
  stand?: string | undefined;
  /** The place in a stand's years that the record closes, where it was opened for a step of a plan. */
  closes?: Schemas["Closes"] | undefined;
  /** What else the form begins with, in the form's own shape. */
  with?: Record<string, unknown> | undefined;
}

/** A record on this device that the ledger has not yet: in the person's own words. */
export interface Waiting {
  /** The entry's id, made when the form was opened: sent twice, it is one entry. */
  id: string;
  /** Whose record it is: sent under no other name. */
  person: string;
  personName: string;
  farm: string;
  farmName: string;
  task: Task;
  /** The day it happened. */
  on: string;
  /** What was written, field by field. */
  values: Record<string, unknown>;
  /** When it was first put here, by this device's clock, and after those that waited: they are sent in this order. */
  written: number;
  /** Renewed at each saving: what was sent is told from what was written over it meanwhile. */
  saved?: string | undefined;
  /** What is far from usual, or was inked before, is meant. */
  confirmed?: boolean | undefined;
  /** Why the server did not take it; it waits for a hand. */
  refused?: Problem | undefined;
  /** How often it failed on its way. */
  failures?: number | undefined;
  /** Why it is not sent yet, where that is more than a missing signal; it is tried again. */
  trouble?: Problem | undefined;
}

/** Larger than any record: a picture comes to 400,000 at the most. */
export const MOST_BYTES = 600_000;

export function tooLarge(item: Waiting): boolean {
  return new Blob([JSON.stringify(item.values)]).size > MOST_BYTES;
}

/** In the order in which they were written. */
export function inOrder(items: readonly Waiting[]): Waiting[] {
  return [...items].sort((a, b) => a.written - b.written || (a.id < b.id ? -1 : 1));
}
