import { problem, type Problem } from "@rheonom/contract/problem";

/** Why a request did not succeed. */
export type Failure =
  /** Nobody answered; trying again may help. */
  | { readonly kind: "unreachable"; readonly message: string }
  /** The server said no and why. */
  | { readonly kind: "refused"; readonly status: number; readonly message: string; readonly issues: Problem["issues"] }
  | { readonly kind: "odd"; readonly message: string };

/** Whether the same request may succeed later: nobody answered, or the server itself failed. A refusal stays one. */
export const mayPass = (failure: Failure): boolean => failure.kind !== "refused" || failure.status >= 500;

/** Words for whatever a query or mutation failed with. */
export function failureOf(error: unknown): Failure {
  const shaped = error as { status?: unknown; data?: unknown; name?: unknown };
  if (shaped.status === "FETCH_ERROR" || shaped.status === "TIMEOUT_ERROR") {
    return { kind: "unreachable", message: "The server does not answer. Start it again with npm run demo; what you entered is kept here." };
  }
  const said = problem.safeParse(shaped.data);
  if (said.success && typeof shaped.status === "number") {
    return { kind: "refused", status: shaped.status, message: said.data.message, issues: said.data.issues };
  }
  return {
    kind: "odd",
    message: "The server gave an answer that this page does not understand. Reload the page; it may be from another version.",
  };
}
