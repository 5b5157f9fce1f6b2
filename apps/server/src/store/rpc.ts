import { AppError, type ErrorCode } from "../errors.ts";
import type { Problem } from "@rheonom/contract/problem";

/** Functions that are called across threads by name. */
export type Calls = Readonly<Record<string, (...args: never[]) => Promise<unknown>>>;

/** Calls that write. */
export const WRITING: ReadonlySet<string> = new Set([
  "openJob",
  "appendEvents",
  "importLog",
  "keepBench",
  "addHarness",
  "keepShop",
  "putKnownGoods",
  "withdrawKnownGood",
  "keepPracticeResult",
  "removeCustomers",
  "quarantine",
]);

/** From the calling thread. */
export interface Call {
  readonly n: number;
  readonly name: string;
  readonly args: readonly unknown[];
}

/** A failure in a form that crosses threads; what the client may be told stays apart from what is only logged. */
export type Failed =
  | { readonly kind: "app"; readonly code: ErrorCode; readonly facts: Readonly<Record<string, string>>; readonly issues: Problem["issues"] }
  | { readonly kind: "other"; readonly message: string; readonly stack: string };

export type Reply =
  | { readonly n: number; readonly kind: "done"; readonly value: unknown }
  | { readonly n: number; readonly kind: "failed"; readonly failed: Failed };

export const packError = (error: unknown): Failed =>
  error instanceof AppError
    ? { kind: "app", code: error.code, facts: error.facts, issues: error.issues }
    : error instanceof Error
      ? { kind: "other", message: messageWithCause(error), stack: error.stack ?? "" }
      : { kind: "other", message: String(error), stack: "" };

/** The database driver wraps the reason in a cause. */
const messageWithCause = (error: Error): string =>
  error.cause instanceof Error && !error.message.includes(error.cause.message) ? `${error.message}: ${error.cause.message}` : error.message;

export function unpackError(failed: Failed): Error {
  if (failed.kind === "app") return new AppError(failed.code, failed.facts, failed.issues);
  const error = new Error(failed.message);
  error.stack = failed.stack;
  return error;
}
