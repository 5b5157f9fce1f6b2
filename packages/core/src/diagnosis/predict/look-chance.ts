import { isChafed } from "../../faults/index.ts";
import { linkOf, lookupOf, partOfLink, type Harness } from "../../harness/index.ts";
import type { Damage } from "../evidence/predicted.ts";
import type { Hypothesis } from "../hypotheses/space.ts";

/** Chance that a careful look at a place shows what is wrong there. Estimates: green copper and rubbed looms are seen, broken strands inside their insulation are not. */
const SEEN = { corroded: 0.8, rubbed: 0.9, blown: 0.98, inside: 0.1, alongLoom: 0.8, elsewhere: 0.005 } as const;

/** Chance that looking at a wire, cavity, ground or part shows damage when a hypothesis is true. */
export function lookChance(harness: Harness, of: Hypothesis, at: string): number {
  const { fault } = of;
  if (isSegment(harness, at)) return alongLoom(harness, of, at);
  if (fault.link !== at && fault.other !== at) return SEEN.elsewhere;
  if (fault.other !== undefined || isChafed(fault.effect)) return SEEN.rubbed;
  const link = linkOf(harness, at);
  const kind = link === undefined ? lookupOf(harness).parts.get(at)?.kind : partOfLink(harness, link) === undefined ? "wire" : link.kind;
  switch (kind) {
    case "cavity":
    case "ground":
    case "splice":
      return SEEN.corroded;
    case "wire":
      // A break or green copper under the insulation shows when the wire is bent.
      return 0.6;
    case "fuse":
      return fault.effect === "open" || fault.effect === "setting" ? SEEN.blown : 0.4;
    default:
      return SEEN.inside;
  }
}

/** A rub shows on the outside of a loom; which wires it went through shows when the tape is off. */
function alongLoom(harness: Harness, { fault }: Hypothesis, loom: string): number {
  if (fault.other === undefined && !isChafed(fault.effect)) return SEEN.elsewhere;
  const segments = lookupOf(harness).wires.get(fault.link)?.segments ?? [];
  if (fault.where !== undefined) return fault.where === loom ? SEEN.alongLoom : SEEN.elsewhere;
  return segments.includes(loom) ? SEEN.alongLoom / segments.length : SEEN.elsewhere;
}

const isSegment = (harness: Harness, name: string): boolean => segmentsOf(harness).has(name);
const known = new WeakMap<Harness, ReadonlySet<string>>();

/** Every segment of loom that some wire runs through. */
export function segmentsOf(harness: Harness): ReadonlySet<string> {
  const made = known.get(harness) ?? new Set(harness.wires.flatMap((w) => w.segments ?? []));
  known.set(harness, made);
  return made;
}

/** How what a fault does would look where it is; undefined for what stays hidden inside a part. */
export function damageOf(harness: Harness, { fault }: Hypothesis): Damage | undefined {
  if (fault.effect === "water bridge") return "decay";
  if (fault.other !== undefined || isChafed(fault.effect)) return "rub";
  if (lookupOf(harness).parts.get(fault.link)?.kind === "fuse") return fault.effect === "open" ? "burn" : "decay";
  return fault.effect === "open" || fault.effect === "series" ? "decay" : undefined;
}
