import { observableWords, predictedWords, resultWords } from "../evidence/describe.ts";
import type { Evidence } from "../evidence/evidence.ts";
import type { Hypothesis } from "../hypotheses/space.ts";
import { cavityIn, linkOf, linksAt, lookupOf, onlyPlace, partNameIn, pinNameIn, type Harness } from "../../harness/index.ts";
import { catalogueOf, type SupposedFault } from "../../faults/index.ts";
import { movesOf, type Move } from "../predict/moved-by.ts";
import { diagnose, type Diagnosis, type Question } from "./diagnose.ts";
import { LEFT, reasonOf, severityWords, type Reason } from "./explain.ts";

/** Where something of a vehicle stands among what is suspected, and why. */
export interface Standing {
  readonly element: string;
  readonly standing: "suspect" | "ruled out" | "not seen by any finding" | "cannot fail here";
  readonly probability: number;
  /** Why, in whole sentences. */
  readonly words: string;
  /** The findings that say so. */
  readonly because: readonly Reason[];
}

const MOST_REASONS = 3;
/** Natural logarithm by which a case must explain a finding worse than one that says nothing would, for that to rule it out. */
const RULES_OUT = -1;

/** Whether a fault is mended at this thing. */
const isMendedAt =
  (element: string) =>
  (f: SupposedFault): boolean =>
    f.link === element || f.other === element || partNameIn(f.link) === element;

/**
 * Why something is, or is not, among the suspects: by what it is ruled out, or that no finding so far would be another if it were bad. `name`: a wire, cavity, fuse, ground or part, or a place
 * or way of one. Throws RangeError for what the vehicle does not have.
 */
export function standingOf(q: Question, name: string): Standing {
  const { harness, evidence } = q;
  const element = elementAt(harness, name);
  const faults = catalogueOf(harness).filter(isMendedAt(element));
  if (faults.length === 0)
    return {
      element,
      standing: "cannot fail here",
      probability: 0,
      words: `No fault of ${element} itself is known to this circuit: what ends there is suspected instead.`,
      because: [],
    };
  const d = diagnose(q);
  const names = new Set(faults.map((f) => f.id));
  const weighed = d.oracle.space.hypotheses.filter((c) => names.has(c.fault.id) && c.logPrior > -Infinity);
  const probability = Math.min(
    1,
    d.belief.alive.reduce((sum, c) => (names.has(c.fault.id) ? sum + d.belief.posterior(c) : sum), 0),
  );
  if (probability > LEFT) return suspected(d, element, probability, weighed);
  return weighed.length > 0 ? ruledOut(d, evidence, element, probability, weighed) : unseen(q, element, faults);
}

/** What is mended where something is: the cavity of a place in a plug, the part of a pin or of a way through it. */
function elementAt(harness: Harness, name: string): string {
  const { wires, parts, cavities } = lookupOf(harness);
  const isCavity = (id: string): boolean => cavities.get(partNameIn(id))?.includes(pinNameIn(id)) === true;
  if (wires.has(name) || parts.has(name) || isCavity(name)) return name;
  if (isCavity(cavityIn(name))) return cavityIn(name);
  const link = linkOf(harness, name);
  if (link !== undefined && (link.kind === "wire" || link.kind === "joint")) return name;
  if (parts.has(partNameIn(name))) return partNameIn(name);
  // Bare metal is a place, and no part.
  if (linksAt(harness, onlyPlace(name)).length > 0) return name;
  throw new RangeError(`This vehicle has nothing called ${name}.`);
}

function suspected(d: Diagnosis, element: string, probability: number, weighed: readonly Hypothesis[]): Standing {
  const best = weighed.reduce((p, c) => (d.belief.posterior(c) > d.belief.posterior(p) ? c : p));
  return {
    element,
    standing: "suspect",
    probability,
    words: `${element} is among the suspects, ${probability > 0.995 ? "> 99" : Math.round(100 * probability)} %: ${best.fault.words}.`,
    because: [],
  };
}

function ruledOut(
  d: Diagnosis,
  evidence: readonly Evidence[],
  element: string,
  probability: number,
  weighed: readonly Hypothesis[],
): Standing {
  const fit = (c: Hypothesis): number => evidence.reduce((sum, _, i) => sum + d.belief.explains(i, c), c.logPrior);
  const best = weighed.reduce((p, c) => (fit(c) > fit(p) ? c : p));
  const degree = severityWords(best);
  const because = evidence
    .map((e, i) => ({ e, by: d.belief.explains(i, best) }))
    .filter(({ by }) => by < RULES_OUT)
    .sort((p, c) => p.by - c.by)
    .slice(0, MOST_REASONS)
    .map(({ e }) => reasonOf(d, e, d.belief.bestAt(best)));
  const nearest = `${best.fault.words}${degree === null || best.fault.words.includes(degree) ? "" : ` (${degree})`}`;
  return {
    element,
    standing: "ruled out",
    probability,
    words:
      because.length > 0
        ? `${element} is ruled out. What comes nearest, ${nearest}, does not fit what was found.`
        : `${element} is not ruled out by any one finding, but others explain all of them better or go bad more often. What comes nearest: ${nearest}.`,
    because,
  };
}

/** What is not weighed at all: no finding that is off would be otherwise, or what it moves was found as on a good vehicle. */
function unseen(q: Question, element: string, faults: readonly SupposedFault[]): Standing {
  const moves = q.evidence.map((e) => ({ e, move: movesOf(q.harness, e, faults) }));
  const moved = moves.filter((m): m is { e: Evidence; move: Move } => m.move?.isMoved === true);
  if (moved.length === 0)
    return {
      element,
      standing: "not seen by any finding",
      probability: 0,
      words:
        q.evidence.length === 0
          ? `Nothing was found yet, and ${element} changes nothing of what is complained of even at its worst.`
          : `None of the ${q.evidence.length} findings so far would be another if ${element} were bad, even at its worst: nothing speaks for it or against it, and it is not behind the complaint.`,
      because: [],
    };
  return {
    element,
    standing: "ruled out",
    probability: 0,
    words: `${element} changes nothing of what was found wrong, and what it would change was found as it should be.`,
    because: moved.slice(0, MOST_REASONS).map(({ e, move }) => ({
      evidence: e.id,
      words: observableWords(q.harness, e.observe),
      measured: resultWords(e.observe, e.result),
      predicted: predictedWords(e.observe, move.shown),
    })),
  };
}
