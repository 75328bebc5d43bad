import { useSyncExternalStore } from "react";

let renew: (() => void) | null = null;
const listeners = new Set<() => void>();

/** A newer version of the application has been fetched; it opens when the returned deed is done. */
export function newerIsHere(act: () => void): void {
  renew = act;
  for (const listener of listeners) listener();
}

export function useNewer(): (() => void) | null {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => renew,
  );
}
