import type { Fault } from "@rheonom/core/circuit";
import { linksOf, parsePlace, type Harness } from "@rheonom/core/harness";

/** What may be supposed of a place or a link. */
export const SUPPOSED = [
  { id: "open", text: "open" },
  { id: "0.1", text: "0.1 Ω too much" },
  { id: "1", text: "1 Ω too much" },
  { id: "10", text: "10 Ω too much" },
  { id: "100", text: "100 Ω too much" },
  { id: "10000", text: "10 kΩ too much" },
  { id: "1000000", text: "1 MΩ too much" },
  { id: "ground", text: "short to ground" },
  { id: "feed", text: "short to feed" },
] as const;
export type Supposed = (typeof SUPPOSED)[number]["id"];

/** A short as it usually is, Ω. */
const SHORT_OHMS = 0.1;

/** The fault that is meant by a place or link as typed, and how it is called; or what is wrong with it. */
export function supposedFault(harness: Harness, typed: string, what: Supposed): { readonly fault: Fault; readonly name: string } | string {
  const text = typed.trim();
  if (text === "") return "Where? Type a wire, a cavity, a fuse, a ground or a place.";
  const name = `${text} ${SUPPOSED.find((s) => s.id === what)!.text}`;
  if (what === "ground" || what === "feed") {
    const read = parsePlace(harness, text);
    if (read.kind === "place")
      return { fault: { kind: what === "ground" ? "short to ground" : "short to feed", place: read.place, ohms: SHORT_OHMS }, name };
    return read.kind === "ambiguous"
      ? `“${text}” has two sides: ${read.choices.join(" or ")}.`
      : `There is no place “${text.slice(0, 20)}” in this circuit.`;
  }
  const link = linksOf(harness).find((l) => l.id.toLowerCase() === text.toLowerCase());
  if (link === undefined) return `There is no wire, cavity, fuse or ground “${text.slice(0, 20)}” in this circuit.`;
  return { fault: what === "open" ? { kind: "open", link: link.id } : { kind: "series", link: link.id, ohms: Number(what) }, name };
}
