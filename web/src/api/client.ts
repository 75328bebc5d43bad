import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import { currency } from "../units/currency";
import { tellSignal } from "./signal";

export type Schemas = components["schemas"];
export type Problem = Schemas["ProblemDocument"];
export type Refusal = Schemas["Refusal"];

/** The longest that any answer is waited for, milliseconds: longer than the server lets a reckoning take. */
const LONGEST = 60_000;
/** The slowest line that is waited for while something is sent, bytes a millisecond: a picture takes minutes over it. */
const SLOWEST = 4;

/** The first of two; where a browser can't wait for either, for the second alone. */
const either = (one: AbortSignal, other: AbortSignal) =>
  "any" in AbortSignal ? AbortSignal.any([one, other]) : other;

export const api = createClient<paths>({
  baseUrl: "/",
  // A line that swallows what is said would hold a record, and all behind it, for ever.
  fetch: async (request) => {
    const bytes = request.body === null ? 0 : (await request.clone().blob()).size;
    const patience = AbortSignal.timeout(LONGEST + bytes / SLOWEST);
    return fetch(request, { signal: either(request.signal, patience) });
  },
});

// What is asked about no farm, a reckoning or how an amount is read, is still asked on a farm's page.
api.use({
  onRequest({ request }) {
    request.headers.set("ink-currency", currency());
    return request;
  },
});

/** An answer that was not given, with the server's reasons. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.detail);
  }

  /** The sentence at a field, by its JSON pointer, or below it. */
  at(pointer: string): string | undefined {
    const found = this.problem.errors?.find(
      (error) => error.pointer === pointer || error.pointer.startsWith(`${pointer}/`),
    );
    return found?.detail;
  }
}

interface Outcome<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

const unreachable: Problem = {
  type: "/problems/unreachable",
  title: "No response",
  status: 0,
  detail: "The server did not respond. Your entry is saved on this device; try again in a moment.",
};

/** The data of a call, or a Refused with the problem document. */
export async function answered<T>(call: Promise<Outcome<T>>): Promise<T> {
  let outcome: Outcome<T>;
  try {
    outcome = await call;
  } catch (error) {
    // Called off by whoever asked: that says nothing of the line.
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    tellSignal(false);
    throw new Refused(0, unreachable);
  }
  // A gateway that finds nobody behind it is no answer either.
  tellSignal(![502, 504].includes(outcome.response.status) || outcome.error !== undefined);
  if (outcome.error !== undefined || !outcome.response.ok) {
    const problem = outcome.error as Problem | undefined;
    throw new Refused(outcome.response.status, problem?.detail ? problem : unreachable);
  }
  return outcome.data as T;
}
