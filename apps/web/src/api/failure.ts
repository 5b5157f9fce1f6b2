import { problem, type Problem } from "@rheonom/contract/problem";

/** Why a request did not succeed. */
export type Failure =
  /** Nobody answered, or not as this server does; trying again may help. */
  | { readonly kind: "unreachable"; readonly message: string }
  /** The server is there and cannot store now: its disk is full, its data is being opened. Trying again later helps. */
  | { readonly kind: "waiting"; readonly message: string }
  /** The server said no and why. */
  | { readonly kind: "refused"; readonly status: number; readonly message: string; readonly issues: Problem["issues"] }
  /** The server failed on this very request. */
  | { readonly kind: "choked"; readonly message: string }
  | { readonly kind: "odd"; readonly message: string };

/** Statuses with which a server, or what stands before it, says that the same request may succeed later. */
const LATER: ReadonlySet<number> = new Set([408, 425, 429, 502, 503, 504, 507]);

/** Words for whatever a query or mutation failed with. */
export function failureOf(error: unknown): Failure {
  const shaped = error as { status?: unknown; data?: unknown; name?: unknown };
  if (shaped.status === "FETCH_ERROR" || shaped.status === "TIMEOUT_ERROR") {
    return { kind: "unreachable", message: "The server does not answer. Start it again with npm run demo; what you entered is kept here." };
  }
  const said = problem.safeParse(shaped.data);
  if (said.success && typeof shaped.status === "number") {
    const { message, issues } = said.data;
    if (LATER.has(shaped.status)) return { kind: "waiting", message };
    return shaped.status >= 500 ? { kind: "choked", message } : { kind: "refused", status: shaped.status, message, issues };
  }
  return {
    kind: "odd",
    message: "The server gave an answer that this page does not understand. Reload the page; it may be from another version.",
  };
}
