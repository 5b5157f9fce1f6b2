import { partNameIn, partOfPlace, pinNameIn, pinPlace, placesOfComponent, type Harness } from "../../harness/index.ts";
import { believe, DOUBTFUL, NOTHING_FITS, type Belief } from "../belief/belief.ts";
import type { Evidence } from "../evidence/evidence.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import type { Diagnosis } from "./diagnose.ts";

/** Two cavities of a plug that the vehicle has the other way round than its diagram, as far as readings tell. */
export interface Misdrawn {
  readonly plug: string;
  readonly cavities: readonly [string, string];
}

/** A reading that a suspect explains so badly asks for another reason, natural logarithm. */
const ILL = Math.log(0.15);
/** Pairs of cavities that are tried: those beside each other first, as every one is a belief of its own. */
const MOST_TRIED = 8;

/** The pair of cavities of one plug that, the other way round, lets one fault explain all readings, none of them doubtful; undefined where none does. */
export function misdrawnOf(d: Diagnosis, evidence: readonly Evidence[]): Misdrawn | undefined {
  const { belief, oracle } = d;
  const singles = belief.alive.filter((c) => c.second === undefined);
  const leader = singles.toSorted((p, q) => belief.posterior(q) - belief.posterior(p))[0];
  const ill = evidence.filter((_, i) => leader === undefined || belief.explains(i, leader) < ILL);
  return swapsAt(oracle.space.harness, ill)
    .slice(0, MOST_TRIED)
    .find((swap) => {
      const turned = evidence.map((e) => turnedBy(swap, e));
      const isTold = turned.every((e) => leadsOf(e.observe).every((p) => oracle.holds(p)));
      return isTold && isExplained(believe(oracle, turned, { share: d.setting.presence }));
    });
}

function isExplained({ alive, posterior, unlisted, doubt }: Belief): boolean {
  const leader = alive.toSorted((p, q) => posterior(q) - posterior(p))[0];
  return leader !== undefined && leader.second === undefined && unlisted < NOTHING_FITS && doubt.every((x) => x < DOUBTFUL);
}

const leadsOf = (o: Observable): readonly string[] => ("red" in o && "black" in o ? [o.red, o.black] : []);
const cavityOf = (place: string): string => pinNameIn(place).slice(0, -1);

/** Pairs of cavities of which a lead stood at one in any of these readings, those beside each other first. */
function swapsAt(harness: Harness, ill: readonly Evidence[]): readonly Misdrawn[] {
  const found = new Map<string, Misdrawn & { readonly apart: number }>();
  for (const place of new Set(ill.flatMap((e) => leadsOf(e.observe)))) {
    const plug = partOfPlace(harness, place);
    if (plug?.kind !== "connector") continue;
    const all = [...new Set(placesOfComponent(harness, plug).map(cavityOf))];
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
