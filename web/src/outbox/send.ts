import { Refused, type Problem } from "../api/client";
import { inOrder, type Waiting } from "./waiting";

/** What came of sending one. */
export type Outcome =
  | { is: "taken" }
  /** Not taken, and it will not be as it stands. */
  | { is: "refused"; problem: Problem }
  /** Nobody answered, or not now: all that follow wait too. */
  | { is: "later" }
  /** The server failed on this one. */
  | { is: "failed"; problem: Problem }
  /** Nobody is signed in, or somebody else is. */
  | { is: "not-theirs" };

/** Failed so often, it waits for a hand instead of standing in the way. */
const MOST_FAILURES = 5;

/** What an error of a call means for a record. */
export function outcomeOf(error: unknown): Outcome {
  if (!(error instanceof Refused)) throw error;
  const { status, problem } = error;
  if (status === 0 || status === 429 || [502, 503, 504].includes(status)) return { is: "later" };
  if (status === 401 || problem.type === "/problems/another-person") return { is: "not-theirs" };
  if (status >= 500) return { is: "failed", problem };
  return { is: "refused", problem };
}

export interface Post {
  /** Hand one record in. */
  deliver: (item: Waiting) => Promise<void>;
  /** Keep one as it stands now. */
  keep: (item: Waiting) => Promise<void>;
  /** It is in the ledger. */
  done: (id: string) => Promise<void>;
}

/**
 * Send one person's records in the order in which they were written. One that is refused stays behind
 * with the reason and holds nobody up; where nobody answers, all that is left waits.
 */
export async function sendInOrder(items: readonly Waiting[], person: string, post: Post): Promise<number> {
  let taken = 0;
  for (const item of inOrder(items)) {
    if (item.person !== person || item.refused) continue;
    const outcome = await post.deliver(item).then((): Outcome => ({ is: "taken" }), outcomeOf);
    switch (outcome.is) {
      case "taken":
        await post.done(item.id);
        taken += 1;
        break;
      case "refused":
        await post.keep({ ...item, refused: outcome.problem });
        break;
      case "failed": {
        const failures = (item.failures ?? 0) + 1;
        await post.keep({
          ...item,
          failures,
          ...(failures >= MOST_FAILURES ? { refused: outcome.problem } : {}),
        });
        return taken;
      }
      default:
        return taken;
    }
  }
  return taken;
}
