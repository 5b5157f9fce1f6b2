import type { Hypothesis, HypothesisSpace } from "../hypotheses/space.ts";

/** Hypotheses that are made while thinking, beside those of the space: at severities of their own, and two faults at once. Numbered behind those of the space. */
export interface Refinements {
  /** A hypothesis at a severity of its own. */
  readonly at: (of: Hypothesis, severity: number) => Hypothesis;
  /** Two faults at once. */
  readonly pairOf: (first: Hypothesis, second: Hypothesis) => Hypothesis;
  /** The hypothesis that is computed in place of one that no instrument can tell from it, with its index. */
  /** How many were made. */
  readonly count: () => number;
  readonly representativeOf: (of: Hypothesis) => { readonly index: number; readonly hypothesis: Hypothesis };
}

/** Chance that a vehicle with one fault has another near it, before anything is measured. */
const SECOND_FAULT = 0.05;

/** No refinements yet. What is made once is handed out again, so that its index stays. */
export function createRefinements(space: HypothesisSpace): Refinements {
  const { hypotheses } = space;
  const made = new Map<string, Hypothesis>();
  /** By index, for those that were made. */
  const representatives = new Map<number, Hypothesis>();
  const firstOfFault = new Map<string, Hypothesis>();
  for (const c of hypotheses) if (!firstOfFault.has(c.fault.id)) firstOfFault.set(c.fault.id, c);

  const put = (key: string, hypothesis: Hypothesis): Hypothesis => {
    made.set(key, hypothesis);
    return hypothesis;
  };
  const nextIndex = (): number => hypotheses.length + made.size;

  function at(of: Hypothesis, wanted: number): Hypothesis {
    // A setting has no meaning beyond those that the catalogue gives it; ohms may be anything.
    const { severities } = of.fault;
    const severity =
      of.supposed.kind === "settings" ? Math.min(Math.max(...severities), Math.max(Math.min(...severities), wanted)) : wanted;
    const key = `${of.fault.id} ${severity}`;
    const known = made.get(key);
    // What was computed is the same whoever asks; how likely it is hangs on the complaint.
    if (known !== undefined) return known.logPrior === of.logPrior ? known : { ...known, logPrior: of.logPrior };
    const finer = put(key, { ...of, index: nextIndex(), severity, supposed: of.fault.faultAt(severity) });
    const first = firstOfFault.get(of.fault.id);
    const representative = first === undefined ? undefined : hypotheses[space.representative[first.index]!];
    if (representative !== undefined && representative !== first) representatives.set(finer.index, at(representative, severity));
    return finer;
  }

  function pairOf(first: Hypothesis, second: Hypothesis): Hypothesis {
    const key = `${first.fault.id} ${first.severity} + ${second.fault.id} ${second.severity}`;
    const logPrior = Math.log(SECOND_FAULT) + first.logPrior + second.logPrior;
    const known = made.get(key) ?? put(key, { ...first, index: nextIndex(), second, alone: first, logPrior });
    return known.logPrior === logPrior ? known : { ...known, second, alone: first, logPrior };
  }

  function representativeOf(of: Hypothesis): { readonly index: number; readonly hypothesis: Hypothesis } {
    const index = space.representative[of.index];
    const hypothesis = index === undefined ? (representatives.get(of.index) ?? of) : hypotheses[index]!;
    return { index: index ?? hypothesis.index, hypothesis };
  }

  return { at, pairOf, representativeOf, count: () => made.size };
}
