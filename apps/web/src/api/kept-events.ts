import type { JobEvent } from "@rheonom/core/job";
import { database } from "./device-database.ts";
import { parsedJson } from "./parsed-json.ts";

const OLD_PREFIX = "rheonom.outbox.";

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
    const read = jobEvent.safeParse(parsedJson(localStorage.getItem(key!) ?? ""));
    if (read.success && (await keepEvent(read.data))) localStorage.removeItem(key!);
  }
}
