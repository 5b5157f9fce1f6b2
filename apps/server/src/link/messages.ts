import { randomUUID } from "node:crypto";
import type { Logger } from "pino";
import type { RawData, WebSocket } from "ws";
import type { z } from "zod";
import { MESSAGE_SHAPE, readJson } from "../doors/json.ts";
import { AppError, problemOf } from "../errors.ts";

/** Things that one page may ask at one time; a person asks one or two. */
const MOST_AT_ONCE = 8;

export interface Problem {
  readonly code: string;
  readonly message: string;
}

/** What the page is told of a failure: words of the table. What the machine said goes to the log. */
export function problemFor(error: unknown, log: Logger, jobId: string, what: string): Problem {
  const id = randomUUID().slice(0, 8);
  const known = error instanceof AppError ? error : undefined;
  if (known === undefined) log.error({ err: error, id, jobId }, `${what} failed`);
  else log.warn({ code: known.code, cause: known.cause, jobId }, what);
  const { code, message } = problemOf(known ?? new AppError("internal", { id })).body;
  return { code, message };
}

/** Reads what a page sends by its schema, a few messages at a time; what cannot be read or done is handed to `fail`. */
export function takeMessages<T>(
  ws: WebSocket,
  schema: z.ZodType<T>,
  handle: (message: T) => Promise<void>,
  fail: (error: unknown) => void,
): void {
  let busy = 0;
  const take = async (data: Uint8Array): Promise<void> => {
    if (busy >= MOST_AT_ONCE) throw new AppError("work-busy");
    busy++;
    try {
      const read = schema.safeParse(readJson(data, MESSAGE_SHAPE));
      if (!read.success) {
        const issue = read.error.issues[0]!;
        throw new AppError("message-invalid", { why: `${issue.path.join(".")} ${issue.message}`.trim().slice(0, 200) });
      }
      await handle(read.data);
    } finally {
      busy--;
    }
  };
  ws.on("message", (data) => void take(bytesOf(data)).catch(fail));
}

const bytesOf = (data: RawData): Uint8Array =>
  Array.isArray(data) ? Buffer.concat(data) : data instanceof ArrayBuffer ? new Uint8Array(data) : data;
