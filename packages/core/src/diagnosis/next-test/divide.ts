import { isShort } from "../../faults/index.ts";
import { type Harness, linkOf, linksAt, lookupOf, partNameIn, partOfPlace, type PlaceId } from "../../harness/index.ts";
import type { Belief } from "../belief/belief.ts";
import { accessMinutesFrom } from "../effort/cost.ts";
import { singlesOf } from "../hypotheses/space.ts";

/** Plugs, fuses or a wire that stand between a place and part of what may be shorted. */
export interface Divider {
  /** More than one where several fuses of a zone are pulled together. */
  readonly ids: readonly string[];
  readonly kind: "plug" | "wire";
  /** Bits that it tells by itself over minutes to get there. */
  readonly worth: number;
}

/** Below this share of the belief there is nothing to divide. */
const LEAST_SHARE = 0.2;
/** Bits below which a division is none. */
const LEAST_BITS = 0.3;
/** What it takes beside getting there, min. */
const WORK_MINUTES = 1;
/** Another fuse of the same zone. */
const PULL_MINUTES = 0.7;
const passes = new Set(["wire", "joint", "cavity", "fuse", "switch"]);

/**
 * Where what hangs on a place can be divided so that about half of the belief in shorts lies beyond: by a plug or a fuse that is pulled, or by a clamp around a wire. Found on the drawing
 * alone, so that only the best are solved.
 */
export function dividersOf(
  harness: Harness,
  belief: Belief,
  from: PlaceId,
  opened: readonly string[],
  accessible: ReadonlySet<string>,
): readonly Divider[] {
  const shorts = new Map<string, number>();
  for (const c of belief.alive)
    for (const single of singlesOf(c))
      if (isShort(single.fault.effect)) shorts.set(single.fault.link, (shorts.get(single.fault.link) ?? 0) + belief.posterior(c));
  const shut = new Set(opened);
  const whole = hangingOn(harness, from, shut);
  const massOf = (links: ReadonlySet<string>): number => [...links].reduce((sum, id) => sum + (shorts.get(id) ?? 0), 0);
  const all = massOf(whole);
  if (all < LEAST_SHARE) return [];
  const beyond = (ids: readonly string[]): number => (all - massOf(hangingOn(harness, from, new Set([...shut, ...ids])))) / all;
  const divider = (ids: readonly string[], kind: Divider["kind"], share: number): Divider => {
    const bits = share <= 0 || share >= 1 ? 0 : -share * Math.log2(share) - (1 - share) * Math.log2(1 - share);
    const part = kind === "plug" ? ids[0]! : (partOfPlace(harness, linkOf(harness, ids[0]!)!.a)?.id ?? ids[0]!);
    const minutes = WORK_MINUTES + PULL_MINUTES * (ids.length - 1) + accessMinutesFrom(harness, part, accessible);
    return { ids, kind, worth: bits < LEAST_BITS ? 0 : bits / minutes };
  };
  const ids = new Map<string, Divider["kind"]>();
  for (const id of whole) {
    if (linkOf(harness, id)?.kind === "wire") ids.set(id, "wire");
    else if (lookupOf(harness).parts.get(partIdOf(id))?.kind !== "switch" && !id.startsWith("=")) ids.set(partIdOf(id), "plug");
  }
  const shares = [...ids].map(([id, kind]) => ({ id, kind, share: beyond([id]) }));
  const single = shares.map(({ id, kind, share }) => divider([id], kind, share));
  // Many small branches, each behind a fuse of its own: half of them are pulled at once.
  const groups = new Map<string, { id: string; share: number }[]>();
  for (const s of shares) {
    const part = lookupOf(harness).parts.get(s.id);
    if (part?.kind === "fuse" && s.share > 0 && s.share < HALF) groups.set(part.zone ?? "", [...(groups.get(part.zone ?? "") ?? []), s]);
  }
  const together = [...groups.values()].flatMap((list) => {
    const taken: string[] = [];
    let sum = 0;
    for (const { id, share } of list.sort((p, q) => q.share - p.share)) {
      if (sum + share > HALF + share / 2) continue;
      taken.push(id);
      sum += share;
    }
    return taken.length < 2 ? [] : [divider(taken, "plug", beyond(taken))];
  });
  return [...single, ...together].filter((d) => d.worth > 0).sort((p, q) => q.worth - p.worth);
}
const HALF = 0.5;

const partIdOf = (link: string): string => partNameIn(link);

/** Links that a place is joined to by copper, fuses and switches. `shut`: links and parts that are taken out. */
function hangingOn(harness: Harness, from: PlaceId, shut: ReadonlySet<string>): ReadonlySet<string> {
  const found = new Set<string>();
  const seen = new Set<PlaceId>([from]);
  const open = [from];
  for (let here = open.pop(); here !== undefined; here = open.pop()) {
    const kind = partOfPlace(harness, here)?.kind;
    if (kind === undefined || kind === "battery" || kind === "ground") continue;
    for (const l of linksAt(harness, here)) {
      if (!passes.has(l.kind) || shut.has(l.id) || shut.has(partIdOf(l.id))) continue;
      found.add(l.id);
      for (const next of [l.a, l.b])
        if (!seen.has(next)) {
          seen.add(next);
          open.push(next);
        }
    }
  }
  return found;
}
