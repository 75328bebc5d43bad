import { Refused, type Problem } from "../api/client";
import { inOrder, type Waiting } from "./waiting";

/** What came of sending one. */
export type Outcome =
  | { is: "taken" }
  /** Not taken, and it will not be as it stands. */
  | { is: "refused"; problem: Problem }
  /** Nobody answered, or not now: all that follow wait too. */
  | { is: "later" }
  /** The server, or this device, failed on this one. */
  | { is: "failed"; problem: Problem }
  /** This version of the application can't send it. */
  | { is: "unknown"; problem: Problem }
  /** Nobody is signed in, or somebody else is. */
  | { is: "not-theirs" };

/** Failed so often, those behind it go before it; it is still tried again, and never taken for refused. */
const MOST_FAILURES = 5;

/** A record of a kind that this version of the application has no form for. */
export class UnknownForm extends Error {}

/** What the person is told of what no server said. */
const own = (type: string, title: string, detail: string): Problem => ({
  type: `/problems/${type}`,
  title,
  status: 0,
  detail,
});

/** What an error of a call means for a record. */
export function outcomeOf(error: unknown): Outcome {
  if (error instanceof UnknownForm)
    return {
      is: "unknown",
      problem: own(
        "unknown-form",
        "No form for it",
        "This version of the application has no form for this record. It stays on this device until a version that has one sends it.",
      ),
    };
  if (!(error instanceof Refused)) {
    // A slip of ours, in this one record: those behind it are no worse for it.
    console.error(error);
    return {
      is: "failed",
      problem: own(
        "own-slip",
        "It could not be sent",
        "This record could not be sent. It will be tried again.",
      ),
    };
  }
  const { status, problem } = error;
  if (status === 0 || status === 408 || status === 429 || [502, 503, 504].includes(status))
    return { is: "later" };
  if (status === 401 || problem.type === "/problems/another-person") return { is: "not-theirs" };
  if (status >= 500) return { is: "failed", problem };
  return { is: "refused", problem };
}

export interface Post {
  /** A record as it stands now. */
  fresh: (id: string) => Promise<Waiting | undefined>;
  /** Hand one record in. */
  deliver: (item: Waiting) => Promise<void>;
  /** What is left of what was sent; nothing once the ledger has it. */
  settle: (sent: Waiting, left: Waiting | null) => Promise<void>;
}

export interface Sent {
  /** How many the ledger took. */
  taken: number;
  /** Nobody, or somebody else, is signed in: the rest waits for that. */
  signedOut: boolean;
}

/**
 * Send one person's records in the order in which they were written. One that is refused stays behind
 * with the reason and holds nobody up, nor does one that fails time and again or that this version does not
 * know; where nobody answers, all that is left waits.
 */
export async function sendInOrder(items: readonly Waiting[], person: string, post: Post): Promise<Sent> {
  let taken = 0;
  for (const { id } of inOrder(items)) {
    // It may have been corrected or thrown away while those before it were on their way.
    const item = await post.fresh(id);
    if (!item || item.person !== person || item.refused) continue;
    const outcome = await post.deliver(item).then((): Outcome => ({ is: "taken" }), outcomeOf);
    switch (outcome.is) {
      case "taken":
        await post.settle(item, null);
        taken += 1;
        break;
      case "refused":
        await post.settle(item, { ...item, refused: outcome.problem });
        break;
      case "failed": {
        const failures = (item.failures ?? 0) + 1;
        await post.settle(item, { ...item, failures, trouble: outcome.problem });
        if (failures < MOST_FAILURES) return { taken, signedOut: false };
        break;
      }
      case "unknown":
        if (!item.trouble) await post.settle(item, { ...item, trouble: outcome.problem });
        break;
      default:
        return { taken, signedOut: outcome.is === "not-theirs" };
    }
  }
  return { taken, signedOut: false };
}
