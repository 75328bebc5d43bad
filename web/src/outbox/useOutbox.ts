import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useSyncExternalStore } from "react";
import { useSignal } from "../api/signal";
import { all, onChange } from "./store";
import { inOrder, type Waiting } from "./waiting";

let seen: readonly Waiting[] = [];
const readers = new Set<() => void>();
let watching = false;

function refresh(): void {
  all().then(
    (items) => {
      seen = inOrder(items);
      for (const reader of readers) reader();
    },
    // Where the device keeps nothing, nothing waits.
    () => {},
  );
}

function subscribe(reader: () => void): () => void {
  readers.add(reader);
  if (!watching) {
    watching = true;
    onChange(refresh);
    refresh();
  }
  return () => readers.delete(reader);
}

/** What waits on this device, of everybody, in the order in which it was written. */
export function useOutbox(): readonly Waiting[] {
  return useSyncExternalStore(subscribe, () => seen);
}

/** How often what could not be sent is tried again, milliseconds. */
const AGAIN = 20_000;

/** Send a person's records whenever that may work: on opening, when the signal is back, when one comes back to the page. */
export function useSending(person: string): void {
  const client = useQueryClient();
  const answers = useSignal();
  const waiting = useOutbox().filter((item) => item.person === person && !item.refused).length;
  const before = useRef(waiting);
  useEffect(() => {
    // Fewer than before: the ledger has them, whichever tab sent them.
    if (waiting < before.current) void client.invalidateQueries({ queryKey: ["farm"] });
    before.current = waiting;
  }, [waiting, client]);
  useEffect(() => {
    if (!answers || waiting === 0) return;
    const send = () => {
      // Forms and their reading are fetched when there is something to send.
      import("./post").then((post) => post.sendAll(person)).catch(() => {});
    };
    send();
    const timer = setInterval(send, AGAIN);
    const back = () => document.visibilityState === "visible" && send();
    document.addEventListener("visibilitychange", back);
    return () => {
      clearInterval(timer);
      document.removeEventListener("visibilitychange", back);
    };
  }, [answers, waiting, person]);
}
