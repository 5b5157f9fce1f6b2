import { isScale } from "../evidence/kind.ts";
import { kindOf } from "../evidence/kinds/index.ts";
import { describeState, openedWord } from "../../circuit/index.ts";
import type { FaultEffect } from "../../faults/index.ts";
import type { Harness } from "../../harness/index.ts";
import { unreachable } from "../../quantity/index.ts";
import { observableWords, ohms, predictedWords, resultWords } from "../evidence/describe.ts";
import { DOUBTFUL, NOTHING_FITS, type Belief } from "../belief/belief.ts";
import type { RankedTest } from "../next-test/rank.ts";
import type { Diagnosis } from "./diagnose.ts";
import type { Circumstance, Evidence } from "../evidence/evidence.ts";
import { othersFound } from "../evidence/wire-colour.ts";
import { misdrawnOf } from "./misdrawn.ts";
import { heaviestFor } from "../proof/enough.ts";
import { raisesOf, type Raise } from "../hypotheses/priors.ts";
import { singlesOf, type Hypothesis, type Repair } from "../hypotheses/space.ts";

/** One piece of evidence beside what a suspect would show. */
export interface Reason {
  readonly evidence: string;
  readonly words: string;
  readonly measured: string;
  readonly predicted: string;
}

/** A thing that may have to be mended. */
export interface Suspect {
  readonly element: string;
  readonly other?: string;
  /** What is supposed to be wrong besides, when one fault alone does not explain what was found. */
  readonly with?: string;
  readonly mode: string;
  readonly words: string;
  /** What mends it, in trade words. */
  readonly mend: string;
  /** "about 0.4 Ω", "open", "through about 2 Ω"; null where there is no degree. */
  readonly severity: string | null;
  readonly effect: FaultEffect;
  /** Of a resistance in series, Ω; null for what is none. */
  readonly seriesOhms: number | null;
  readonly probability: number;
  readonly for: readonly Reason[];
  readonly against: readonly Reason[];
  /** What made it likelier or less likely before anything was measured, and by how much. */
  readonly background: readonly string[];
}

/** Below this a suspect counts as discarded. */
export const LEFT = 0.005;
/** Natural logarithm by which a piece of evidence must tell one suspect from the rest to be called for or against it. */
const TELLS = 0.7;
/** Natural logarithm by which a prediction explains a reading better than one that says nothing would, for it to speak for a suspect by itself. */
const FITS_WELL = 1.5;
const MOST_SUSPECTS = 12;

/** The suspects that are left, likeliest first, each with what speaks for and against it. */
export function suspectsOf(d: Diagnosis, evidence: readonly Evidence[], circumstances: readonly Circumstance[] = []): readonly Suspect[] {
  const { repairs } = d.oracle.space;
  return [...repairs]
    .filter((r) => d.belief.repairs[r.index]! > LEFT)
    .sort((p, q) => d.belief.repairs[q.index]! - d.belief.repairs[p.index]!)
    .slice(0, MOST_SUSPECTS)
    .flatMap((r) => suspectOf(d, evidence, r) ?? [])
    .map((s) => ({ ...s, background: raisesOf(d.oracle.space.harness, circumstances, s.element).map(raiseWords) }));
}

/** "1 similar closed job ended here: twice as likely from the start". */
function raiseWords({ circumstance: c, factor }: Raise): string {
  const by = factor === 2 ? "twice as likely" : factor > 1 ? `${factor} times as likely` : `${Math.round(1 / factor)} times less likely`;
  return `${whyRaised(c)}: ${by} from the start`;
}

function whyRaised(c: Circumstance): string {
  switch (c.kind) {
    case "condition":
      return `it comes with ${c.what}, which this place sees`;
    case "worked on":
      return `${c.at} was worked on before`;
    case "replaced":
      return `${c.part} was replaced without a change`;
    case "similar":
      return `${c.cases} similar closed ${c.cases === 1 ? "job" : "jobs"} ended here`;
  }
}

/** What was left out and the reading that put it out: parts on the way first. */
export function discardedOf(d: Diagnosis, evidence: readonly Evidence[]): readonly { readonly element: string; readonly reason: Reason }[] {
  const { space } = d.oracle;
  return space.repairs.flatMap((r) => {
    if (d.belief.repairs[r.index]! > LEFT || !space.core.has(r.element) || r.hypotheses.length === 0) return [];
    const cases = r.hypotheses.map((i) => space.hypotheses[i]!);
    // The reading that the best of its cases explains worst.
    const best = cases.reduce((p, q) => (sum(d.belief, evidence, q) > sum(d.belief, evidence, p) ? q : p));
    const worst = evidence.reduce((p, _, i) => (d.belief.explains(i, best) < d.belief.explains(p, best) ? i : p), 0);
    return evidence.length === 0 ? [] : [{ element: r.element, reason: reasonOf(d, evidence[worst]!, best) }];
  });
}

const sum = (b: Belief, evidence: readonly Evidence[], c: Hypothesis): number => evidence.reduce((s, _, i) => s + b.explains(i, c), 0);

function suspectOf(d: Diagnosis, evidence: readonly Evidence[], repair: Repair): Omit<Suspect, "background"> | undefined {
  const { belief, oracle } = d;
  const heaviest = heaviestFor(belief, repair, oracle);
  if (heaviest === undefined) return undefined;
  const others = belief.alive.filter((c) => !oracle.space.repairsOf(c).includes(repair.index));
  const weight = others.reduce((s, c) => s + belief.posterior(c), 0);
  const best = belief.bestAt(heaviest);
  const told = evidence.map((e, i) => {
    const fit = belief.explains(i, heaviest);
    // Beside what is left; when nothing else is, beside a reading that says nothing.
    const rest = weight < 1e-6 ? 0 : others.reduce((s, c) => s + (belief.posterior(c) / weight) * belief.explains(i, c), 0);
    // What is left may all be told by the same readings: those it fits well speak for it all the same.
    const by = fit - rest;
    return { reason: reasonOf(d, e, best), by: fit > FITS_WELL && by > -TELLS ? Math.max(by, fit / 10 + TELLS) : by };
  });
  // Where two faults are supposed, the one that is mended here.
  const mine = singlesOf(best).find((c) => c.fault.link === repair.element || c.fault.other === repair.element) ?? best;
  const beside = singlesOf(best).filter((c) => c !== mine);
  const { fault } = mine;
  const other = fault.other === undefined ? undefined : fault.other === repair.element ? fault.link : fault.other;
  return {
    element: repair.element,
    ...(other === undefined ? {} : { other }),
    mode: fault.mode,
    words: fault.words,
    mend: fault.mend,
    severity: severityWords(mine),
    effect: fault.effect,
    seriesOhms: fault.effect === "series" ? mine.severity : null,
    ...(beside.length === 0 ? {} : { with: beside.map((c) => c.fault.words).join("; ") }),
    probability: Math.min(1, belief.repairs[repair.index]!),
    for: told
      .filter((t) => t.by > TELLS)
      .sort((p, q) => q.by - p.by)
      .map((t) => t.reason),
    against: told
      .filter((t) => t.by < -TELLS)
      .sort((p, q) => p.by - q.by)
      .map((t) => t.reason),
  };
}

/** "about 0.4 Ω", "open", "through about 2 Ω". */
export function severityWords({ fault, severity }: Hypothesis): string | null {
  switch (fault.effect) {
    case "open":
      return "open";
    case "series":
    case "lead":
      return `about ${ohms(severity)}`;
    case "short to ground":
    case "short to feed":
    case "short to wire":
    case "water bridge":
    case "shorted inside":
      return severity === 0 ? null : `through about ${ohms(severity)}`;
    case "stuck closed":
    case "stuck open":
    case "holds":
    case "setting":
      return severity === 0 ? null : String(Number(severity.toPrecision(2)));
    default:
      return unreachable(fault.effect);
  }
}

/** A finding beside what a case would have shown. */
export const reasonOf = (d: Diagnosis, e: Evidence, c: Hypothesis): Reason => ({
  evidence: e.id,
  words: observableWords(d.oracle.space.harness, e.observe),
  measured: resultWords(e.observe, e.result),
  predicted: predictedWords(e.observe, d.oracle.predict(e, c)),
});

/** What a proposed test is expected to show: sound, and by suspect. */
export function expectedOf(
  d: Diagnosis,
  test: RankedTest,
  suspects: readonly Suspect[],
): { readonly sound: string; readonly suspects: readonly { readonly element: string; readonly shows: string }[] } {
  const { space } = d.oracle;
  const shows = suspects.slice(0, 4).flatMap((s) => {
    const repair = space.repairs.find((r) => r.element === s.element)!;
    const heaviest = heaviestFor(d.belief, repair, d.oracle);
    return heaviest === undefined
      ? []
      : [{ element: s.element, shows: predictedWords(test.observe, d.oracle.predict(test, d.belief.bestAt(heaviest))) }];
  });
  return { sound: predictedWords(test.observe, d.oracle.predict(test, undefined)), suspects: shows };
}

const VERB: Readonly<Record<string, string>> = { pulled: "pull", unplugged: "unplug", disconnected: "disconnect" };

/** What is to be done, in one line: "Unplug C12, then measure volts, red on …; key run, engine stopped, C12 unplugged". */
export function testWords(harness: Harness, test: RankedTest): string {
  const doing = observableWords(harness, test.observe);
  const state = describeState(test.state, harness);
  if (test.kind !== "unplug") return `${test.kind}: ${doing}; ${state}`;
  const off = test.state.opened.map((id) => `${VERB[openedWord(harness, id)]!} ${id}`).join(", ");
  const then = isScale(kindOf(test.observe).read) ? "then measure" : "then";
  return `${off.charAt(0).toUpperCase()}${off.slice(1)}, ${then} ${doing}; ${state}`;
}

/** When nothing fits: what that may mean, and the test that tells; where cavities the other way round than drawn would explain it, those. Undefined while something fits. */
export function misfitOf(d: Diagnosis, evidence: readonly Evidence[]): string | undefined {
  const others = [...othersFound(d.oracle.space.harness, evidence)];
  if (others.length > 0)
    return `The vehicle is not as drawn at ${others.join(", ")}: a wire of another colour is there. What was read there is set aside. Find which cavity the drawn colour is in, or measure at the ends of that wire.`;
  if (d.isNarrow) return "Nothing near the complaint fits all of this. The rest of the vehicle is looked through now.";
  const words = misfitWords(d, evidence);
  const found = words === undefined ? undefined : misdrawnOf(d, evidence);
  if (words === undefined || found === undefined) return words;
  const [x, y] = found.cavities;
  const { plug } = found;
  return `Compare the wire colours at ${plug} with the diagram first: one fault explains all of this if cavities ${x} and ${y} are the other way round than drawn, or the lead was in the wrong one of them. As drawn it does not fit.`;
}

function misfitWords(d: Diagnosis, evidence: readonly Evidence[]): string | undefined {
  const leader = d.belief.alive.reduce<Hypothesis | undefined>(
    (p, q) => (p === undefined || d.belief.posterior(q) > d.belief.posterior(p) ? q : p),
    undefined,
  );
  if (leader?.second !== undefined) {
    const both = singlesOf(leader).map((c) => c.fault.words);
    return `No single fault fits all of this; two together do: ${both.join(", and ")}. Repair the one that is proven, then test again: what is left shows by itself.`;
  }
  const doubtful = evidence.filter((_, i) => d.belief.doubt[i]! > DOUBTFUL);
  if (d.belief.unlisted < NOTHING_FITS && doubtful.length === 0) return undefined;
  const named = doubtful.map((e) => `${observableWords(d.oracle.space.harness, e.observe)} (${resultWords(e.observe, e.result)})`);
  const bad = named.length === 0 ? "" : ` What fits worst: ${named.join("; ")}. Take it again, with the leads on bright metal.`;
  if (d.belief.unlisted < NOTHING_FITS && doubtful.length === 1)
    return `One reading does not fit the rest.${bad} If it comes out the same, there are two faults, or the vehicle is not as drawn there.`;
  return `No single fault fits all of this. There may be two faults, an intermittent one, a bad measurement, or a vehicle that is not as drawn.${bad} Check lamp and leads on both battery posts, check the black-lead point against battery negative, then take the oldest reading again.`;
}
