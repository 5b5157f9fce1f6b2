import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { JobEvent } from "@rheonom/core/job";
import type { WaitingPicture } from "./kept-pictures.ts";

/**
 * What the server has not acknowledged, in the browser's own database from the moment it is made, so that a reload, a closed tab or a stopped server
 * loses nothing: events, and pictures with what is said of them.
 */
export interface Schema extends DBSchema {
  outbox: { key: string; value: JobEvent };
  pictures: { key: string; value: WaitingPicture };
}

let opened: Promise<IDBPDatabase<Schema>> | undefined;

export function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>("rheonom", 2, {
    upgrade: (db, from) => {
      if (from < 1) db.createObjectStore("outbox", { keyPath: "id" });
      if (from < 2) db.createObjectStore("pictures", { keyPath: "id" });
    },
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
