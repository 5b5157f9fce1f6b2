import { existsSync } from "node:fs";
import { fileURLToPath } from "node:url";

/** The program of a thread: built beside the caller's bundle, or its source beside the caller's source. */
export function threadFile(caller: string, built: string, source: string): URL {
  const beside = new URL(`./${built}`, caller);
  return existsSync(fileURLToPath(beside)) ? beside : new URL(source, caller);
}
