import { useEffect, useState } from "react";
import type { FieldValues } from "react-hook-form";
import { useMe } from "../api/queries";
import { useLive, type Live } from "./live";

const keyOf = (name: string) => `ink-meadow.draft.${name}`;

/** What a draft is kept under: who wrote it, also where several share the device, and of what. */
export const useDraftName = (of: string) => `${useMe().data?.id ?? "nobody"}.${of}`;

/** What is kept under a name, of whatever shape an older version left it; null where nothing is. */
export function keptDraft(name: string): unknown {
  try {
    return JSON.parse(localStorage.getItem(keyOf(name)) ?? "null");
  } catch {
    return null;
  }
}

/** Keep a draft; null forgets it. */
export function keepDraft(name: string, value: unknown): void {
  try {
    if (value === null) localStorage.removeItem(keyOf(name));
    else localStorage.setItem(keyOf(name), JSON.stringify(value));
  } catch {
    // A private window keeps nothing: what is written stands as long as the page does.
  }
}

/** Forget all drafts of a group that are wanted no more. */
export function forgetDrafts(group: string, old: (kept: unknown) => boolean): void {
  try {
    const keys = Object.keys(localStorage).filter((key) => key.startsWith(keyOf(group)));
    for (const key of keys) if (old(keptDraft(key.slice(keyOf("").length)))) localStorage.removeItem(key);
  } catch {
    // A private window keeps nothing.
  }
}

export interface Draft<V extends FieldValues> extends Live<V> {
  /** What was written is recorded, or wanted no more: begin anew. */
  forget: () => void;
}

/** A form that is answered while it is written, and stands as it was after a reload, a lock or a lost signal. */
export function useDraft<V extends FieldValues>(of: string, first: V): Draft<V> {
  const name = useDraftName(of);
  const kept = keptDraft(name);
  const live = useLive<V>({ ...first, ...(typeof kept === "object" ? (kept as Partial<V> | null) : null) });
  const { now, form } = live;
  // What is only begun with is not kept: it follows the plan until something is written over it.
  const [begun] = useState(() => JSON.stringify(first));
  useEffect(() => keepDraft(name, JSON.stringify(now) === begun ? null : now), [name, now, begun]);
  const forget = () => {
    keepDraft(name, null);
    form.reset(first);
  };
  return { ...live, forget };
}
