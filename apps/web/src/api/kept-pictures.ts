import type { EventId } from "@rheonom/core/job";
import { database } from "./device-database.ts";

/** What is said of a picture that is taken. */
export interface PictureSaid {
  readonly jobId: string;
  readonly by: string;
  /** When it was taken, ISO 8601. */
  readonly takenAt: string;
  readonly at: string;
  readonly when: "before" | "after";
  readonly caption: string;
  /** Entry of the reading that it belongs to. */
  readonly reading?: string;
}

/** A picture that the server does not have yet. */
export interface WaitingPicture {
  /** That of the entry which will tell of it. */
  readonly id: EventId;
  readonly said: PictureSaid;
  readonly name: string;
  readonly file: Blob;
}

/** Keeps a picture on this device. False when the browser's storage is full or shut off. */
export async function keepPicture(picture: WaitingPicture): Promise<boolean> {
  try {
    await (await database()).put("pictures", picture);
    return true;
  } catch {
    return false;
  }
}

export async function forgetPicture(id: string): Promise<void> {
  await (await database()).delete("pictures", id).catch(() => undefined);
}

/** What was kept, in the order of taking. */
export async function readKeptPictures(): Promise<readonly WaitingPicture[]> {
  try {
    return await (await database()).getAll("pictures");
  } catch {
    return [];
  }
}
