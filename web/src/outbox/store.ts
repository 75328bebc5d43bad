import { device } from "../api/device";
import { tooLarge, type Waiting } from "./waiting";

/** Told to every tab of this browser when the outbox changes. */
const channel = typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel("ink-outbox");
const listeners = new Set<() => void>();

function changed(): void {
  for (const listener of listeners) listener();
  channel?.postMessage("changed");
}
channel?.addEventListener("message", () => {
  for (const listener of listeners) listener();
});

export function onChange(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export async function all(): Promise<Waiting[]> {
  return (await device()).getAll("outbox");
}

/**
 * Put a record by, over what stood there. Rejects when the device can't keep it: then it must stay on the screen.
 * A new one goes behind those that wait, also where the device's clock was set back meanwhile.
 */
export async function keep(item: Waiting): Promise<void> {
  if (tooLarge(item)) throw new Error("this record is too large; remove part of it");
  const transaction = (await device()).transaction("outbox", "readwrite");
  const waiting = await transaction.store.getAll();
  const before = waiting.find((one) => one.id === item.id);
  const last = waiting.reduce((most, one) => Math.max(most, one.written), 0);
  const written = before?.written ?? Math.max(item.written, last + 1);
  await transaction.store.put({ ...item, written });
  await transaction.done;
  changed();
  stay();
}

let asked = false;

/** The browser is asked once to keep this store for good, also where the device runs short of room. */
function stay(): void {
  if (asked || typeof navigator === "undefined") return;
  asked = true;
  void navigator.storage?.persist?.().catch(() => {});
}

/** A record as it stands now; nothing where it is gone. */
export async function fresh(id: string): Promise<Waiting | undefined> {
  return (await device()).get("outbox", id);
}

/** Whether a record waits on this device; not, where the device keeps nothing. */
export async function isPutBy(id: string): Promise<boolean> {
  return (await fresh(id).catch(() => undefined)) !== undefined;
}

/**
 * What came of sending a record: what is left of it, or nothing once the ledger has it. One that was
 * thrown away meanwhile stays away, and one that was written over stays as it was written.
 */
export async function settle(sent: Waiting, left: Waiting | null): Promise<void> {
  const transaction = (await device()).transaction("outbox", "readwrite");
  const now = await transaction.store.get(sent.id);
  if (now && now.saved === sent.saved) {
    if (left) await transaction.store.put(left);
    else await transaction.store.delete(sent.id);
  }
  await transaction.done;
  changed();
}

/** Throw a record away. */
export async function remove(id: string): Promise<void> {
  await (await device()).delete("outbox", id);
  changed();
}

/** One tab of this browser sends at a time. Where there are no locks the ids keep entries single. */
export async function alone<T>(work: () => Promise<T>): Promise<T> {
  return typeof navigator === "undefined" || !navigator.locks
    ? work()
    : navigator.locks.request("ink-outbox", work);
}
