import { lookupOf, type Harness } from "../../harness/index.ts";
import type { observe } from "../../instruments/index.ts";
import { ratedWork } from "./oracle.ts";
import { workOfSight } from "../simulate/work.ts";

type Seen = ReturnType<typeof observe>;

/** What a part does beside what it does when all is sound, from two full observations. */
export function observedWork(
  harness: Harness,
  seen: Seen,
  sound: Seen,
  part: string,
): { readonly share: number; readonly oscillating: boolean } {
  const work = (list: Seen): number => {
    if (!Array.isArray(list)) return NaN;
    const sights = list.flatMap((x) => (x.component === part ? [x.sight] : []));
    const told = sights.find((s) => s.kind === "speed") ?? sights.find((s) => s.kind !== "chatters" && s.kind !== "reads");
    if (told === undefined) return NaN;
    return told.kind === "lamp" || told.kind === "runs" ? told.share : workOfSight(told);
  };
  const oscillating = Array.isArray(seen) && seen.some((x) => x.component === part && x.sight.kind === "chatters");
  const [now, then] = [work(seen), work(sound)];
  const isLoad = lookupOf(harness).parts.get(part)?.kind === "load";
  const share = now / (then > 0.02 ? then : isLoad ? 1 : ratedWork(harness, part));
  return { share: Number.isNaN(share) ? 0 : share, oscillating };
}
