import { useEffect, useState } from "react";
import type { FieldValues } from "react-hook-form";
import { useMe } from "../api/queries";
import { useLive, type Live } from "./live";

const keyOf = (name: string) => `ink-meadow.draft.${name}`;

function read<V>(name: string): Partial<V> {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(name)) ?? "{}");
    return typeof kept === "object" && kept !== null ? (kept as Partial<V>) : {};
  } catch {
    return {};
  }
}

function write(name: string, value: unknown): void {
  try {
    if (value === null) localStorage.removeItem(keyOf(name));
    else localStorage.setItem(keyOf(name), JSON.stringify(value));
  } catch {
    // A private window keeps nothing: what is written stands as long as the page does.
  }
}

export interface Draft<V extends FieldValues> extends Live<V> {
  /** What was written is recorded, or wanted no more: begin anew. */
  forget: () => void;
}

/**
 * A form that is answered while it is written, and stands as it was after a reload, a lock or a lost signal:
 * for who wrote it, also where several share the device.
 */
export function useDraft<V extends FieldValues>(of: string, first: V): Draft<V> {
  const name = `${useMe().data?.id ?? "nobody"}.${of}`;
  const live = useLive<V>({ ...first, ...read<V>(name) });
  const { now, form } = live;
  // What is only begun with is not kept: it follows the plan until something is written over it.
  const [begun] = useState(() => JSON.stringify(first));
  useEffect(() => write(name, JSON.stringify(now) === begun ? null : now), [name, now, begun]);
  const forget = () => {
    write(name, null);
    form.reset(first);
  };
  return { ...live, forget };
}
