import type { ComplaintData } from "@rheonom/core/job";
import { circumstanceText } from "../../job/circumstance-words.ts";

/** Conditions of a complaint that a drive can bring about: those that were chosen, and the words of the customer. */
export function conditionsOf(complaint: Pick<ComplaintData, "circumstances" | "conditions">): readonly string[] {
  const chosen = complaint.circumstances.flatMap((c) => (c.kind === "condition" ? [circumstanceText(c.what)] : []));
  const own = complaint.conditions
    .split(/[;,\n]/)
    .map((t) => t.trim().slice(0, 80))
    .filter((t) => t !== "");
  return [...new Set([...chosen, ...own])].slice(0, 20);
}
