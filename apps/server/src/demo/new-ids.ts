import { randomBytes } from "node:crypto";
import { uuidV7 } from "@rheonom/core/job";

/** Random part of an id. */
const ID_BYTES = 10;

/** Ids of a job that the server makes, and of its entries: one a millisecond, so that they sort as they were made. */
export function newIds(now: Date): { readonly next: () => { readonly id: string; readonly jobId: string; readonly at: string } } {
  const made = (ms: number): string => uuidV7(ms, randomBytes(ID_BYTES));
  const jobId = made(now.getTime());
  let at = now.getTime();
  return { next: () => ({ id: made(++at), jobId, at: new Date(at).toISOString() }) };
}
