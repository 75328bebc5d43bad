import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { Waiting } from "../outbox/waiting";

/** What this device keeps: records not sent yet, and what was last read. */
interface Device extends DBSchema {
  outbox: { key: string; value: Waiting };
  cache: { key: string; value: unknown };
}

const NAME = "ink-meadow";
const VERSION = 1;

let opened: Promise<IDBPDatabase<Device>> | undefined;

/** The device's own store. Rejects where the browser forbids one, as some private windows do. */
export function device(): Promise<IDBPDatabase<Device>> {
  opened ??= openDB<Device>(NAME, VERSION, {
    upgrade(database) {
      database.createObjectStore("outbox", { keyPath: "id" });
      database.createObjectStore("cache");
    },
    // The browser closed it by itself, as it may when the device wakes or runs short of room: it is opened anew.
    terminated() {
      opened = undefined;
    },
    // Another tab brings a newer version of the store: this one lets go of it.
    blocking(_now, _next, event) {
      (event.target as IDBDatabase).close();
      opened = undefined;
    },
  }).catch((error: unknown) => {
    opened = undefined;
    throw error;
  });
  return opened;
}

/** Whether this device can keep anything; the reason where it can't. Tried, not assumed. */
export async function keeps(): Promise<string | null> {
  try {
    const database = await device();
    await database.put("cache", Date.now(), "try");
    return null;
  } catch (error) {
    return error instanceof DOMException && error.name === "QuotaExceededError"
      ? "this device’s storage is full"
      : "this browser does not save data (private window)";
  }
}
