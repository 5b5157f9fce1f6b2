import { catalogueOf, countFaults, type SupposedFault } from "../../faults/index.ts";
import { REST_STATE, type Fault, type VehicleState } from "../../circuit/index.ts";
import { linksOf, lookupOf, partNameIn, type Harness } from "../../harness/index.ts";
import type { Circumstance } from "../evidence/evidence.ts";
import { placesOfFault } from "../simulate/places.ts";
import { factorOf } from "./priors.ts";
import { causesOf, type FirstRows } from "./causes.ts";
import { equivalenceClasses } from "./equivalence.ts";

/** One supposed fault at one severity. */
export interface Hypothesis {
  readonly index: number;
  readonly fault: SupposedFault;
  /** Ω, or the unit of what changes. */
  readonly severity: number;
  readonly supposed: Fault;
  /** Index into the repairs of the space. */
  readonly repair: number;
  /** Natural logarithm of the prior. */
  readonly logPrior: number;
  /** What is wrong beside it, where two faults are supposed at once. */
  readonly second?: Hypothesis;
  /** The first of the two by itself. */
  readonly alone?: Hypothesis;
}

/** What is supposed to be wrong. */
export const faultsOf = (of: Hypothesis | undefined): readonly Fault[] =>
  of === undefined ? [] : of.second === undefined ? [of.supposed] : [of.supposed, ...faultsOf(of.second)];

/** What can be mended or renewed as one: a wire, cavity, ground, fuse or part. */
export interface Repair {
  readonly index: number;
  /** Wire, cavity or part. */
  readonly element: string;
  readonly hypotheses: readonly number[];
}

/** The single faults of which a hypothesis is made. */
export const singlesOf = (of: Hypothesis): readonly Hypothesis[] =>
  of.second === undefined ? [of] : [of.alone ?? of, ...singlesOf(of.second)];

/** The same fault at the severities before and after this one in its list; undefined at the ends. */
export function besideOf(space: HypothesisSpace, of: Hypothesis): readonly [before: Hypothesis | undefined, after: Hypothesis | undefined] {
  const at = (index: number): Hypothesis | undefined => {
    const other = space.hypotheses[index];
    return other?.fault.id === of.fault.id ? other : undefined;
  };
  // A fault's severities stand one after the other.
  return [at(of.index - 1), at(of.index + 1)];
}

/** Every fault that could be behind a complaint. */
export interface HypothesisSpace {
  readonly harness: Harness;
  readonly hypotheses: readonly Hypothesis[];
  readonly repairs: readonly Repair[];
  /** The repairs that a hypothesis asks for: two where two things touch. */
  readonly repairsOf: (of: Hypothesis) => readonly number[];
  /** Parts that the question is about or that share its nodes; what they do is worth a look. */
  readonly parts: ReadonlySet<string>;
  /** Links on the way of the complaint itself. */
  readonly core: ReadonlySet<string>;
  /** The hypothesis that is computed in place of one that no instrument can tell from it; itself for most. By hypothesis index. */
  readonly representative: Int32Array;
  /** The hypothesis that makes every part do the same, whatever a meter says; itself for most. By hypothesis index. */
  readonly sameWork: Int32Array;
  /** Names of the faults that can be behind the complaint itself; all where nothing is complained of. */
  readonly near: ReadonlySet<string>;
  /** So few faults that all of them can be tried for every reading. */
  readonly isSmall: boolean;
  /** Faults that shake the whole circuit are deferred until something speaks for them. */
  readonly isLarge: boolean;
  /** They are deferred for the first answer. */
  readonly isWide: boolean;
  /** Whether an element of the circuit is near enough to be computed. */
  readonly keeps: (element: string) => boolean;
  readonly firstRows: FirstRows | undefined;
}

/** Up to so many faults of a circuit all of them are tried for every reading. */
const SMALL_CATALOGUE = 1500;
/** Whether a circuit has so few faults that all of them can be tried for every reading. */
export const isSmall = (harness: Harness): boolean => countFaults(harness) <= SMALL_CATALOGUE;
/** Faults of a circuit from which on it counts as large. */
const LARGE_CATALOGUE = 6000;
/** Cases from which on the first answer, from the complaint alone, does not wait for faults that shake the whole circuit. */
const WIDE_POOL = 500;

const coarser = new WeakMap<SupposedFault, SupposedFault>();
/** Every second severity; one that has three or fewer keeps them. */
function coarse(fault: SupposedFault): SupposedFault {
  if (fault.severities.length <= 3) return fault;
  const made = coarser.get(fault) ?? {
    ...fault,
    severities: fault.severities.filter((_, i) => i % 2 === (fault.severities.length - 1) % 2),
  };
  coarser.set(fault, made);
  return made;
}

/** Share of faults that are none of the catalogue. */
export const UNLISTED = 0.002;

/**
 * Faults that can touch the parts in question: everything on their feed, return and command, shorts of what hangs on the same fuse, reference or bus, and the
 * battery. With nothing in question every fault of the circuit, on one that is not small without wires rubbed against each other. `brought`: names of faults that are weighed as
 * well, whatever they do to the parts in question; "all": every one of the catalogue.
 */
export function hypothesisSpaceOf(
  harness: Harness,
  focus: readonly string[],
  state: VehicleState = REST_STATE,
  circumstances: readonly Circumstance[] = [],
  ageYears?: number,
  isRough = false,
  brought: ReadonlySet<string> | "all" = new Set(),
): HypothesisSpace {
  const catalogue = catalogueOf(harness, { ...(ageYears === undefined ? {} : { ageYears }), factorOf: factorOf(harness, circumstances) });
  const near = focus.length === 0 ? undefined : causesOf(harness, focus, state, catalogue, isRough);
  // On a large vehicle severities stand farther apart; what lies between is sought where it matters.
  const isLarge = catalogue.length > LARGE_CATALOGUE;
  const isFew = isSmall(harness);
  const nearby = new Set(near?.faults);
  const chosen = catalogue.filter((f) =>
    near === undefined ? isFew || f.where === undefined : nearby.has(f) || brought === "all" || brought.has(f.id),
  );
  const broughtElements = new Set(
    chosen.flatMap((f) => (nearby.has(f) ? [] : [f.link, f.other ?? f.link, ...placesOfFault(f)].map(partNameIn))),
  );
  const total = chosen.reduce((sum, f) => sum + f.prior, 0);
  const hypotheses: Hypothesis[] = [];
  const byElement = new Map<string, { index: number; element: string; hypotheses: number[] }>();
  const repairFor = (element: string): { index: number; element: string; hypotheses: number[] } => {
    const made = byElement.get(element) ?? { index: byElement.size, element, hypotheses: [] };
    byElement.set(element, made);
    return made;
  };
  for (const whole of chosen) {
    const fault = isLarge ? coarse(whole) : whole;
    const repair = repairFor(fault.link);
    if (fault.other !== undefined) repairFor(fault.other);
    for (const severity of fault.severities) {
      repair.hypotheses.push(hypotheses.length);
      hypotheses.push({
        index: hypotheses.length,
        fault,
        severity,
        supposed: fault.faultAt(severity),
        repair: repair.index,
        logPrior: Math.log(fault.prior / total / fault.severities.length),
      });
    }
  }
  const firstOf = new Map<SupposedFault, number>();
  hypotheses.forEach((c, i) => hypotheses[i - 1]?.fault === c.fault || firstOf.set(c.fault, i));
  const representative = Int32Array.from(hypotheses, (c, i) => {
    const stands = near?.representative(c.fault) ?? c.fault;
    const first = firstOf.get(stands);
    return first === undefined ? i : first + i - firstOf.get(c.fault)!;
  });
  const classOf = equivalenceClasses(harness);
  const firstOfClass = new Map<string, number>();
  const sameWork = new Int32Array(hypotheses.length);
  hypotheses.forEach((c, i) => {
    const key = classOf(c.fault, c.severity);
    const known = firstOfClass.get(key) ?? i;
    firstOfClass.set(key, known);
    sameWork[i] = known;
  });
  const repairsOf = ({ fault, repair, second }: Hypothesis): readonly number[] => {
    const own = fault.other === undefined ? [repair] : [repair, byElement.get(fault.other)!.index];
    return second === undefined ? own : [...new Set([...own, ...repairsOf(second)])];
  };
  return {
    harness,
    hypotheses,
    repairs: [...byElement.values()],
    repairsOf,
    near: new Set(near === undefined ? chosen.map((f) => f.id) : near.faults.map((f) => f.id)),
    parts: near?.parts ?? new Set([...lookupOf(harness).parts.keys()]),
    representative,
    sameWork,
    isSmall: isFew,
    isLarge,
    isWide: !isFew && hypotheses.length > WIDE_POOL,
    firstRows: near?.firstRows,
    keeps: (element) => near === undefined || near.keeps(element) || broughtElements.has(partNameIn(element)),
    core: near?.core ?? new Set(linksOf(harness).map((l) => l.id)),
  };
}

/** A space in which only the faults of these names are weighed: their priors come to 1 by themselves, those of the others to nothing. Indices stay. */
export function weighing(space: HypothesisSpace, names: ReadonlySet<string>): HypothesisSpace {
  const total = space.hypotheses.reduce((sum, c) => (names.has(c.fault.id) ? sum + Math.exp(c.logPrior) : sum), 0);
  const shift = Math.log(total);
  return {
    ...space,
    hypotheses: space.hypotheses.map((c) => ({ ...c, logPrior: names.has(c.fault.id) ? c.logPrior - shift : -Infinity })),
  };
}
