import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
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
  useEffect(() => {
    if (!answers || waiting === 0) return;
    const send = () => {
      // Forms and their reading are fetched when there is something to send.
      import("./post")
        .then((post) => post.sendAll(person))
        .then(
          (taken) => {
            if (taken > 0) void client.invalidateQueries({ queryKey: ["farm"] });
          },
          () => {},
        );
    };
    send();
    const timer = setInterval(send, AGAIN);
    const back = () => document.visibilityState === "visible" && send();
    document.addEventListener("visibilitychange", back);
    return () => {
      clearInterval(timer);
      document.removeEventListener("visibilitychange", back);
    };
  }, [answers, waiting, person, client]);
}
