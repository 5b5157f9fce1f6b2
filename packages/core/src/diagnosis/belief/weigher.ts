import type { VehicleState } from "../../circuit/index.ts";
import { deviceOf, lookupOf, type Harness } from "../../harness/index.ts";
import type { Evidence } from "../evidence/evidence.ts";
import { likelihood, type Between } from "../evidence/likelihood.ts";
import type { Predicted } from "../evidence/predicted.ts";
import { othersFound, standsAt } from "../evidence/wire-colour.ts";
import type { Hypothesis } from "../hypotheses/space.ts";
import type { Oracle } from "../predict/oracle.ts";
import { workOf } from "../simulate/row.ts";
import { fitsKnown, type FitsKnown } from "./fits-known.ts";

/** Chance that a whole reading is wrong: a slipped lead, a misread digit, a customer's memory. */
const GROSS = { technician: 0.012, customer: 0.06, scan: 0.012 } as const;
/** A look is as good as the eye, which the prediction knows; what is left is a wrong entry. */
const GROSS_LOOK = 0.003;
/** Chance that an entry is grossly wrong, by how it was seen and who saw it. */
export const grossOf = ({ observe, source }: Evidence): number => (observe.kind === "look" ? GROSS_LOOK : GROSS[source]);

/** Chance that the complaint was there when somebody said so, and when somebody said that it was not. */
const SAID_PRESENT = 0.97;
const SAID_ABSENT = 0.04;

/** How sure it is that the complaint was there while a reading was taken. */
export interface Presence {
  /** Share of the time that the fault is there: 1 for one that always is. */
  readonly share: number;
}

/** How well hypotheses explain pieces of evidence, by evidence index. */
export interface Weigher {
  /** Times as likely as by a reading that says nothing; absence of the complaint allowed for. */
  readonly ratio: (evidence: number, of: Hypothesis, between: Between) => number;
  /** The natural logarithm of `ratio`, wrong readings allowed for; 0 for what is set aside. */
  readonly logOf: (evidence: number, of: Hypothesis, between: Between) => number;
  /** The same for a prediction at one severity. */
  readonly logAt: (evidence: number, p: Predicted) => number;
  /** What is kept of the fits of a piece of evidence; those `between` severities only for this share of the time that the trouble is there. */
  readonly known: (evidence: number) => FitsKnown & { readonly there: number };
  /** Natural logarithm of how much less likely a hypothesis is for what nobody said of it: what else it would put out. */
  readonly unsaidLog: (of: Hypothesis) => number;
  /** What a scan found beside the complaint, and no fault near it explains, is another matter; so is a reading in a cavity that holds another wire than drawn. */
  readonly isAside: (evidence: number) => boolean;
}

const KINDS: Readonly<Record<Between, number>> = { point: 0, spread: 1, best: 2 };

/** Weighs hypotheses by all evidence; what was asked once of the oracle is kept. */
export function createWeigher(oracle: Oracle, evidence: readonly Evidence[], presence: Presence): Weigher {
  const known = evidence.map((e) => fitsKnown(oracle, e));
  // Damage shows whether the trouble does or not.
  const there = evidence.map((e) =>
    presence.share >= 1 || e.observe.kind === "look"
      ? 1
      : e.present === undefined
        ? presence.share
        : e.present
          ? SAID_PRESENT
          : SAID_ABSENT,
  );
  const whenAway = evidence.map((e, i) => (there[i]! < 1 ? likelihood(e.observe, e.result, oracle.predict(e, undefined)) : 1));
  const withAbsence = (i: number, ratio: number): number => there[i]! * ratio + (1 - there[i]!) * whenAway[i]!;

  const ratio: Weigher["ratio"] = (i, c, between) => {
    const key = 3 * c.index + KINDS[between];
    const { ratios } = known[i]!;
    let r = ratios.get(key);
    if (r === undefined) {
      const e = evidence[i]!;
      r = likelihood(e.observe, e.result, oracle.predict(e, c, between !== "point"), between);
      if (!oracle.isDeferred(c)) ratios.set(key, r);
    }
    return withAbsence(i, r);
  };
  const others = othersFound(oracle.space.harness, evidence);
  const aside = evidence.map(
    (e, i) =>
      standsAt(oracle.space.harness, others, e.observe) ||
      (e.source === "scan" && !oracle.space.hypotheses.some((c) => c.logPrior > -Infinity && ratio(i, c, "spread") > 1)),
  );
  const withGross = (i: number, ratio: number): number => {
    const gross = grossOf(evidence[i]!);
    return Math.log((1 - gross) * ratio + gross);
  };
  const unsaid = unsaidParts(oracle, evidence);
  const unsaidLog = (c: Hypothesis): number => {
    if (unsaid === undefined) return 0;
    const { state, parts } = unsaid;
    const out = parts.filter((part) => oracle.predict({ state, observe: { kind: "part", part } }, c).value < PUT_OUT).length;
    return out === 0 ? 0 : Math.log(out < MANY_OUT ? UNSAID : UNSAID_MANY);
  };
  return {
    ratio,
    unsaidLog,
    logOf: (i, c, between) => (aside[i] === true ? 0 : withGross(i, ratio(i, c, between))),
    logAt: (i, p) => {
      const { observe, result } = evidence[i]!;
      return withGross(i, withAbsence(i, likelihood(observe, result, p, "point")));
    },
    isAside: (i) => aside[i] === true,
    known: (i) => ({ ...known[i]!, there: there[i]! }),
  };
}

/** Chance that nobody mentions what else is out, of one or two parts and of more. Estimates. */
const UNSAID = 0.25;
const UNSAID_MANY = 0.08;
const MANY_OUT = 3;
/** A part that does less than this share of what it should is out. */
const PUT_OUT = 0.5;
const MOST_UNSAID = 8;

/** Where a single part is complained of: the others that work beside it in that state on a sound vehicle, and of which nobody has said anything. */
function unsaidParts(
  { space, view }: Oracle,
  evidence: readonly Evidence[],
): { readonly state: VehicleState; readonly parts: readonly string[] } | undefined {
  const said = evidence.flatMap((e) => (e.observe.kind === "part" && e.source !== "scan" ? [{ ...e, part: e.observe.part }] : []));
  const wrong = said.filter(({ result: r }) => r.kind === "word" && (r.word === "none" || r.word === "weak"));
  const [only] = wrong;
  if (only === undefined || new Set(wrong.map((e) => e.part)).size > 1) return undefined;
  const seen = view(only.state);
  if (seen === undefined) return undefined;
  const known = new Set(said.map((e) => e.part));
  const parts = [...space.parts].filter((id) => {
    if (known.has(id) || !isNoticed(space.harness, id)) return false;
    return (workOf(seen, seen.sound, id) ?? 0) > LEAST_WORK;
  });
  return { state: only.state, parts: parts.slice(0, MOST_UNSAID) };
}
const LEAST_WORK = 0.05;

function isNoticed(harness: Harness, id: string): boolean {
  const part = lookupOf(harness).parts.get(id);
  return part?.kind === "load" || (part?.kind === "device" && deviceOf(part).device.isNoticed === true);
}
