import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { JobEvent } from "@rheonom/core/job";

/**
 * Events that the server has not acknowledged, in the browser's own database from the moment they are made, so that a reload, a closed tab or a stopped server
 * loses nothing.
 */
interface Schema extends DBSchema {
  outbox: { key: string; value: JobEvent };
}

const OLD_PREFIX = "rheonom.outbox.";

let opened: Promise<IDBPDatabase<Schema>> | undefined;

function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>("rheonom", 1, {
    upgrade: (db) => void db.createObjectStore("outbox", { keyPath: "id" }),
    // Another page needs a newer form of it: it is opened again at the next use.
    blocking: (_from, _to, event) => {
      (event.target as IDBDatabase | null)?.close();
      opened = undefined;
    },
    terminated: () => (opened = undefined),
  });
  opened.catch(() => (opened = undefined));
  return opened;
}

/** Keeps an event on this device. False when the browser's storage is full or shut off: the event then lives only as long as the page. */
export async function keepEvent(event: JobEvent): Promise<boolean> {
  try {
    const write = (await database()).transaction("outbox", "readwrite", { durability: "strict" });
    await Promise.all([write.store.put(event), write.done]);
    return true;
  } catch {
    return false;
  }
}

/** Forgets events: the server has them, or somebody has read why they were set aside. */
export async function forgetEvents(ids: readonly string[]): Promise<void> {
  try {
    const write = (await database()).transaction("outbox", "readwrite");
    await Promise.all([...ids.map((id) => write.store.delete(id)), write.done]);
  } catch {
    // What stays is sent again at the next start, and is stored once.
  }
}

const schema = async () => (await import("@rheonom/core/job")).jobEvent;

/** What was kept, in the order of making, with what an earlier version kept in another place; what is no event is passed over. */
export async function readKeptEvents(): Promise<JobEvent[]> {
  const jobEvent = await schema();
  await moveOld(jobEvent);
  try {
    const kept: unknown[] = await (await database()).getAll("outbox");
    // Ids of version 7 sort by time, and the database gives them in order.
    return kept.flatMap((value) => {
      const read = jobEvent.safeParse(value);
      return read.success ? [read.data] : [];
    });
  } catch {
    return [];
  }
}

async function moveOld(jobEvent: Awaited<ReturnType<typeof schema>>): Promise<void> {
  const keys = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i)).filter(
    (key) => key?.startsWith(OLD_PREFIX) === true,
  );
  for (const key of keys) {
    const read = jobEvent.safeParse(parsed(localStorage.getItem(key!) ?? ""));
    if (read.success && (await keepEvent(read.data))) localStorage.removeItem(key!);
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
