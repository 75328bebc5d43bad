import { useEffect } from "react";
import { useWatch } from "react-hook-form";
import { forgetDrafts, keepDraft, keptDraft, useDraftName } from "../kit/draft";
import type { Task } from "../outbox/waiting";

/** What was written on a record's form and not handed in: kept so many days. */
const DAYS = 30;

/** The changed fields of a form, and the id that the record would have had: sent twice, it is one entry. */
export interface Unfinished {
  id: string;
  at: number;
  values: Record<string, unknown>;
}

type Values = Record<string, unknown>;

/** A picture is larger: it would take the room of what was typed and counted, and is taken again. */
const MOST_LETTERS = 50_000;

/** Whether all of a form can be kept as a draft. */
export const fitsDraft = (values: Values) =>
  Object.values(values).every((value) => (JSON.stringify(value) ?? "").length <= MOST_LETTERS);

/** What was changed of a form since it was opened. */
export function changedOf(values: Values, begun: Values): Values {
  const worth = ([key, value]: [string, unknown]) => {
    const now = JSON.stringify(value) ?? "";
    return now !== (JSON.stringify(begun[key]) ?? "") && now.length <= MOST_LETTERS;
  };
  return Object.fromEntries(Object.entries(values).filter(worth));
}

/** What is kept, where it is of this shape and not too old. */
export function unfinished(kept: unknown, now: number): Unfinished | null {
  if (typeof kept !== "object" || kept === null) return null;
  const { id, at, values } = kept as Partial<Unfinished>;
  const sound = typeof id === "string" && typeof at === "number" && typeof values === "object" && values;
  return sound && now - at < DAYS * 86_400_000 ? { id, at, values } : null;
}

const GROUP = "record.";

/** Under what the form of a task is kept: the same form of the same thing finds it again. */
export function useUnfinished(farm: string, { form, field, stand, with: given, closes }: Task) {
  const group = useDraftName(GROUP);
  const name = `${group}${JSON.stringify([farm, form, field, stand, given, closes])}`;
  return {
    name,
    read: (): Unfinished | null => {
      const now = Date.now();
      forgetDrafts(group, (kept) => unfinished(kept, now) === null);
      return unfinished(keptDraft(name), now);
    },
    forget: () => keepDraft(name, null),
  };
}

/** Keeps what is written on the form around it; nothing where it has no name, as one that waits to be sent. */
export function KeepsUnfinished({ name, id, begun }: { name: string | null; id: string; begun: Values }) {
  const values = useWatch() as Values;
  useEffect(() => {
    if (name === null) return;
    const changed = changedOf(values, begun);
    const any = Object.keys(changed).length > 0;
    keepDraft(name, any ? ({ id, at: Date.now(), values: changed } satisfies Unfinished) : null);
  }, [name, id, begun, values]);
  return null;
}
