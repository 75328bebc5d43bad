import type { ReactNode } from "react";
import { Refused } from "../api/client";

/** While something is being worked out. */
export function Waiting({ what }: { what: string }) {
  return (
    <p role="status" className="px-5 py-3 text-pencil max-sm:px-4">
      {what}…
    </p>
  );
}

/** What went wrong, in a sentence, at the place. */
export function Trouble({ error, at }: { error: unknown; at?: string }) {
  return (
    <p role="alert" className="border-l-3 border-stop px-3 py-1 text-sm font-semibold text-stop">
      ✕ {at ? `${at}: ` : ""}
      {sentenceOf(error)}
    </p>
  );
}

/** Without the pointers by which a form finds its fields: here stands no field beside it. */
function sentenceOf(error: unknown): string {
  if (error instanceof Refused && error.problem.errors?.length)
    return error.problem.errors.map(({ detail }) => detail).join(". ");
  return error instanceof Error ? error.message : String(error);
}

/** Something asked for is not here yet: being worked out, or it failed. What was read before is shown instead of this. */
export function NotYet({ what, of }: { what: string; of: readonly { error: unknown }[] }) {
  const failed = of.find((query) => query.error);
  if (!failed) return <Waiting what={what} />;
  return (
    <div className="px-5 py-3 max-sm:px-4">
      <Trouble error={failed.error} />
    </div>
  );
}

/** An empty place says what belongs there and starts it. */
export function Empty({ children }: { children: ReactNode }) {
  return <div className="border-l border-dashed border-pencil px-4 py-3 text-pencil">{children}</div>;
}

/** A page that can't be drawn: a fault of ours, told in words, with the way on. */
export function Broken({ error }: { error: unknown }) {
  return (
    <section className="px-5 py-6 max-sm:px-4">
      <h1>This page did not load</h1>
      <p className="py-2">Something went wrong. Your records are safe on this device or in the ledger.</p>
      <Trouble error={error} />
      <p className="flex gap-5 pt-4">
        <button type="button" className="line-button" onClick={() => window.location.reload()}>
          Retry
        </button>
        <a className="line-button" href="/">
          Back to Season
        </a>
      </p>
    </section>
  );
}
