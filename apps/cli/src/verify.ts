import { createHash } from "node:crypto";
import { chainedLogSchema, checkChain } from "@rheonom/core/job";
import { placeInJson, readJson, UsageError, type Output } from "./usage.ts";

/** `rheonom verify LOG.json`: follows the chain of a saved log. 0 where every entry fits, 1 where one does not, which is named. */
export async function verifyCommand(args: readonly string[], out: Output): Promise<number> {
  const [path, ...more] = args;
  if (path === undefined || more.length > 0)
    throw new UsageError("verify wants one file: the log of a job, as the report screen saves it.");
  const read = chainedLogSchema.safeParse(readJson(path));
  if (!read.success) {
    const issue = read.error.issues[0]!;
    throw new UsageError(`${placeInJson(path, issue.path)}: not the log of a job: ${issue.message}. Save it again on the report screen.`);
  }
  const found = await checkChain(read.data, (text) => createHash("sha256").update(text, "utf8").digest("hex"));
  if (found.kind === "broken") {
    const { type, at, by } = found.entry;
    out.write(
      `Entry ${found.number} of ${read.data.entries.length} does not fit: ${type}, ${at}, ${by}. It, or one before it, is not as it was stored.\n`,
    );
    return 1;
  }
  const old = found.unchained === 0 ? "" : ` ${found.unchained} entries are older than the chain: nothing can be said of them.`;
  const removed = found.removed === 0 ? "" : ` The customer was taken out of ${found.removed}: what those said cannot be checked.`;
  out.write(
    `All ${found.entries - found.unchained} chained entries fit.${old}${removed} Last: ${found.hash === "" ? "none" : found.hash}\n`,
  );
  return 0;
}
