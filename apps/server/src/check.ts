import { parseArgs } from "node:util";
import { pino } from "pino";
import type { StoreConfig } from "./config.ts";
import { startStore } from "./store/store.ts";

/** Longest piece of an unreadable entry that is printed. */
const SHOWN = 300;

/**
 * `rheonom check`: names the entries of all logs that cannot be read; with --quarantine sets them aside. Returns the exit code: 0 nothing found or all set aside, 1 something
 * found, 2 the command line is wrong. Rejects with StartError, also when a server has the data open.
 */
export async function check(config: StoreConfig, args: readonly string[]): Promise<number> {
  let quarantine: boolean;
  try {
    quarantine = parseArgs({ args: [...args], strict: true, options: { quarantine: { type: "boolean", default: false } } }).values
      .quarantine;
  } catch (error) {
    process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
    return 2;
  }
  const store = await startStore(config, pino({ level: "error" }));
  try {
    const bad = await store.unreadable();
    if (bad.length === 0) {
      process.stdout.write("Every entry of every log can be read.\n");
      return 0;
    }
    for (const entry of bad)
      process.stdout.write(
        `job ${entry.jobId}  place ${entry.position}  entry ${entry.id}\n  ${entry.why}\n  ${entry.raw.slice(0, SHOWN)}\n`,
      );
    if (!quarantine) {
      process.stdout.write(`${bad.length} cannot be read. They stand in their logs as such; rheonom check --quarantine sets them aside.\n`);
      return 1;
    }
    const ids = bad.map((entry) => entry.id);
    const count = await store.quarantine(ids, "cannot be read");
    process.stdout.write(`${count} set aside: they are kept in the database and no longer stand in their logs.\n`);
    return 0;
  } finally {
    await store.close();
  }
}
