import { useSyncExternalStore } from "react";

/**
 * Whether the application answers. Known from every call, not from what the browser believes: a phone
 * with two bars and no way through is without signal all the same.
 */
let answering = true;
const listeners = new Set<() => void>();

export function signal(): boolean {
  return answering;
}

export function tellSignal(now: boolean): void {
  if (now === answering) return;
  answering = now;
  for (const listener of listeners) listener();
}

/** Be told when it changes; the returned function ends it. */
export function onSignal(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function useSignal(): boolean {
  return useSyncExternalStore(onSignal, signal);
}

/** How often an application that fell silent is asked again, milliseconds. */
const AGAIN = 8_000;

/** Ask again, by and by, while there is no answer. */
export function watchSignal(): () => void {
  const ask = async () => {
    try {
      const answer = await fetch("/api/health", { cache: "no-store", signal: AbortSignal.timeout(AGAIN) });
      if (answer.ok) tellSignal(true);
    } catch {
      tellSignal(false);
    }
  };
  const timer = setInterval(() => {
    if (!answering) void ask();
  }, AGAIN);
  const back = () => void ask();
  const gone = () => tellSignal(false);
  window.addEventListener("online", back);
  window.addEventListener("offline", gone);
  return () => {
    clearInterval(timer);
    window.removeEventListener("online", back);
    window.removeEventListener("offline", gone);
  };
}
