import { cavityIn, lookupOf, partNameIn, partOfPlace, pinNameIn, pinPlace, type Harness } from "../../harness/index.ts";
import { believe, DOUBTFUL, NOTHING_FITS } from "../belief/belief.ts";
import { createWeigher } from "../belief/weigher.ts";
import type { Evidence } from "../evidence/evidence.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import { weighing } from "../hypotheses/space.ts";
import { askedOf } from "../predict/oracle.ts";
import type { Diagnosis } from "./diagnose.ts";

/** Two cavities of a plug that the vehicle has the other way round than its diagram, as far as readings tell. */
export interface Misdrawn {
  readonly plug: string;
  readonly cavities: readonly [string, string];
}

/** A reading that a fault explains this much worse than one that says nothing does not fit it. */
const BADLY = 0.15;
/** Pairs of cavities that are tried: those beside each other first. */
const MOST_TRIED = 8;

/** The pair of cavities of one plug that, the other way round, lets one fault explain all readings best, none of them doubtful; undefined where none does. */
export function misdrawnOf(d: Diagnosis, evidence: readonly Evidence[]): Misdrawn | undefined {
  const { oracle } = d;
  let best: { readonly swap: Misdrawn; readonly fit: number } | undefined;
  for (const swap of swapsAt(oracle.space.harness, evidence).slice(0, MOST_TRIED)) {
    const turned = evidence.map((e) => turnedBy(swap, e));
    if (!turned.every((e) => leadsOf(e.observe).every((p) => oracle.holds(p)))) continue;
    const fit = fitOf(d, turned);
    if (fit !== undefined && fit > (best?.fit ?? -Infinity)) best = { swap, fit };
  }
  return best?.swap;
}

/** How well the one fault fits that explains all that was found, natural logarithm; undefined where none does. Only those are weighed that may, by what was computed for them already. */
function fitOf({ oracle, setting }: Diagnosis, evidence: readonly Evidence[]): number | undefined {
  const presence = { share: setting.presence };
  const { ratio, isAside } = createWeigher(oracle, evidence, presence);
  const may = oracle.space.hypotheses.filter(
    (c) => c.logPrior > -Infinity && !oracle.isDeferred(c) && evidence.every((_, i) => isAside(i) || ratio(i, c, "spread") >= BADLY),
  );
  if (may.length === 0) return undefined;
  const among = askedOf(oracle, weighing(oracle.space, new Set(may.map((c) => c.fault.id))));
  const { alive, posterior, unlisted, doubt, explains } = believe(among, evidence, presence);
  const leader = alive.toSorted((p, q) => posterior(q) - posterior(p))[0];
  const isAlone = leader !== undefined && leader.second === undefined && unlisted < NOTHING_FITS && doubt.every((x) => x < DOUBTFUL);
  if (!isAlone) return undefined;
  return evidence.reduce((sum, _, i) => sum + explains(i, leader), oracle.space.hypotheses[leader.index]!.logPrior);
}

const leadsOf = (o: Observable): readonly string[] => ("red" in o && "black" in o ? [o.red, o.black] : []);
const cavityOf = (place: string): string => cavityIn(pinNameIn(place));

/** Pairs of cavities at one of which a lead stood, those beside each other first. Which of the readings tells of another wire than drawn nobody knows. */
function swapsAt(harness: Harness, evidence: readonly Evidence[]): readonly Misdrawn[] {
  const found = new Map<string, Misdrawn & { readonly apart: number }>();
  for (const place of new Set(evidence.flatMap((e) => leadsOf(e.observe)))) {
    const plug = partOfPlace(harness, place);
    if (plug?.kind !== "connector") continue;
    const all = lookupOf(harness).cavities.get(plug.id) ?? [];
    const here = all.indexOf(cavityOf(place));
    all.forEach((other, at) => {
      const cavities = here < at ? ([all[here]!, other] as const) : ([other, all[here]!] as const);
      if (at !== here) found.set(`${plug.id} ${cavities.join()}`, { plug: plug.id, cavities, apart: Math.abs(at - here) });
    });
  }
  return [...found.values()].sort((p, q) => p.apart - q.apart).map(({ plug, cavities }) => ({ plug, cavities }));
}

/** A reading as it would be called if two cavities were the other way round. */
function turnedBy({ plug, cavities: [x, y] }: Misdrawn, e: Evidence): Evidence {
  const turned = (place: string): string => {
    const cavity = cavityOf(place);
    if (partNameIn(place) !== plug || (cavity !== x && cavity !== y)) return place;
    return pinPlace(plug, (cavity === x ? y : x) + pinNameIn(place).slice(-1));
  };
  const { observe: o } = e;
  if (!("red" in o && "black" in o) || (turned(o.red) === o.red && turned(o.black) === o.black)) return e;
  return { ...e, observe: { ...o, red: turned(o.red), black: turned(o.black) } };
}
