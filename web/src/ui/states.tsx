import type { ReactNode } from "react";

/** While something is being worked out. */
export function Waiting({ what }: { what: string }) {
  return (
    <p role="status" className="p-6 text-pencil">
      {what}…
    </p>
  );
}

/** What went wrong, in a sentence, at the place. */
export function Trouble({ error, at }: { error: unknown; at?: string }) {
  const text = error instanceof Error ? error.message : String(error);
  return (
    <p role="alert" className="border-l-3 border-stop px-3 py-1 text-sm font-semibold text-stop">
      ✕ {at ? `${at}: ` : ""}
      {text}
    </p>
  );
}

/** An empty place says what belongs there and starts it. */
export function Empty({ children }: { children: ReactNode }) {
  return <div className="border-l border-dashed border-pencil px-4 py-3 text-pencil">{children}</div>;
}
