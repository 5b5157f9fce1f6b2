import { REST_STATE, stateKey, type VehicleState } from "../../circuit/index.ts";
import type { Harness } from "../../harness/index.ts";
import { lastUsed } from "../../quantity/index.ts";
import { believe, DOUBTFUL, NOTHING_FITS, type Belief } from "../belief/belief.ts";
import { isOfComplaint } from "../belief/single-faults.ts";
import { INSTRUMENTS, isSafe, lookAt, type TestSetting, type Instrument, type VehicleSetup } from "../effort/candidate-test.ts";
import { expectedBits, heaviest, rankTests, testKey, type RankedTest } from "../next-test/rank.ts";
import { minutesOf, partsMadeAccessible } from "../effort/cost.ts";
import { carrierOf, enoughToAct, type Enough } from "../proof/enough.ts";
import type { Circumstance, Evidence } from "../evidence/evidence.ts";
import { monitorsOfCode } from "../../codes/index.ts";
import { kindOf } from "../evidence/kinds/index.ts";
import { faultsMoving, isOff, wholeOracle } from "../predict/moved-by.ts";
import { askedOf, createOracle, type Oracle } from "../predict/oracle.ts";
import { busFaultsOf } from "../simulate/bus-view.ts";
import { hypothesisSpaceOf, weighing, type HypothesisSpace } from "../hypotheses/space.ts";

/** A question put to the engine: the vehicle, what is complained of, and everything that was found. */
export interface Question {
  /** The variant at hand, options resolved. */
  readonly harness: Harness;
  /** Parts that do not do what they should. */
  readonly focus: readonly string[];
  /** The state in which the complaint shows. */
  readonly state: VehicleState;
  /** Share of the time that it shows, 1 for always. */
  readonly presence: number;
  readonly evidence: readonly Evidence[];
  readonly circumstances: readonly Circumstance[];
  readonly instruments: readonly Instrument[];
  /** How the vehicle stands now. */
  readonly vehicleNow?: VehicleState;
  readonly ageYears?: number;
  /** For a first answer at once: without wires that may have rubbed together. */
  readonly isRough?: boolean;
  /** For an answer at once: only what is near the complaint is weighed, however badly it explains what was found. */
  readonly isNear?: boolean;
}

export const DEFAULT_QUESTION = {
  focus: [],
  state: REST_STATE,
  presence: 1,
  evidence: [],
  circumstances: [],
  instruments: INSTRUMENTS,
} as const;

export interface Diagnosis {
  readonly oracle: Oracle;
  readonly belief: Belief;
  /** What is near does not explain all that was found, and the rest of the vehicle was not looked through. */
  readonly isNarrow: boolean;
  readonly setting: TestSetting;
  /** Best information per minute first; made when first asked for. */
  readonly next: (reach?: "at hand" | "as needed") => readonly RankedTest[];
  readonly enough: Enough | undefined;
  readonly setup: VehicleSetup;
}

/** Oracles by harness and question, so that a further reading finds everything computed before. */
const oracles = new WeakMap<Harness, Map<string, Oracle>>();
const KEPT = 6;

/** `opened`: what was found and nothing near the complaint explains. */
function oracleFor(q: Question, opened: readonly Evidence[] = []): Oracle {
  const byKey = oracles.get(q.harness) ?? new Map<string, Oracle>();
  oracles.set(q.harness, byKey);
  const also = [...new Set(q.evidence.flatMap((e) => kindOf(e.observe).needs(e.observe)))].sort();
  const levels = [...new Set(q.evidence.flatMap((e) => kindOf(e.observe).levels?.(e.observe) ?? []))].sort();
  const key = JSON.stringify([
    [...q.focus].sort(),
    stateKey(q.state),
    q.circumstances,
    q.ageYears ?? null,
    q.isRough ?? false,
    opened.map(testKey).sort(),
    levels,
    outOfTouch(q),
  ]);
  const known = byKey.get(key);
  if (known !== undefined && also.every((p) => known.holds(p))) {
    // The last used is the last to go.
    byKey.delete(key);
    byKey.set(key, known);
    return known;
  }
  const onBus = outOfTouch(q).flatMap((id) => busFaultsOf(q.harness, id).filter((f) => q.isRough !== true || f.where === undefined));
  const brought = new Set([...opened.flatMap((e) => [...faultsMoving(q.harness, e)]), ...onBus.map((f) => f.id)]);
  const made = createOracle(
    hypothesisSpaceOf(q.harness, q.focus, q.state, q.circumstances, q.ageYears, q.isRough, brought),
    also,
    "what is near",
    levels,
  );
  byKey.set(key, made);
  if (byKey.size > KEPT) byKey.delete(byKey.keys().next().value!);
  return made;
}

/** Modules that are said not to answer, and those of which a code says that messages are missed, in order: what is on their lines is suspected like what feeds them. */
function outOfTouch({ harness, evidence }: Question): readonly string[] {
  const found = evidence.flatMap(({ observe: o, result: r }): readonly string[] => {
    if (r.kind !== "word") return [];
    if (o.kind === "answers") return r.word === "no" ? [o.module] : [];
    if (o.kind !== "code" || r.word === "absent") return [];
    return monitorsOfCode(harness, o.code).flatMap((m) => m.silent ?? []);
  });
  return [...new Set(found)].sort();
}

/** Whether nothing was measured or looked at yet. */
export const isFirstAnswer = (q: Question): boolean => q.evidence.every(isOfComplaint);

/** Evidence → what is left of all suspects, whether it is enough to act, and where to look next. The same question always gives the same answer. */
export function diagnose(q: Question): Diagnosis {
  const { oracle, belief, isNarrow } = weighedIn(q);
  const setting: TestSetting = { state: q.state, focus: q.focus, instruments: new Set(q.instruments), presence: q.presence };
  const setup: VehicleSetup = {
    state: q.vehicleNow ?? q.evidence.at(-1)?.state ?? q.state,
    accessible: new Set(q.evidence.flatMap((e) => partsMadeAccessible(q.harness, e))),
  };
  const beliefs = new Map<number, Belief>();
  const without = (i: number): Belief => {
    const known = beliefs.get(i) ?? believe(oracle, q.evidence.toSpliced(i, 1), { share: q.presence });
    beliefs.set(i, known);
    return known;
  };
  const enough = enoughToAct(oracle, belief, q.evidence, q.state, without);
  // What hangs on one reading is asked again as if that had not been taken.
  const repair =
    enough?.missing.some((m) => m.what === "confirmation") === true
      ? oracle.space.repairs.findIndex((r) => r.element === enough.element)
      : -1;
  const carrier = repair < 0 ? undefined : carrierOf(belief, q.evidence, repair, without);
  const asked = carrier === undefined ? belief : without(carrier);
  const weighed = carrier === undefined ? q.evidence : q.evidence.toSpliced(carrier, 1);
  const ranked = new Map<string, readonly RankedTest[]>();
  const next: Diagnosis["next"] = (reach = "as needed") => {
    const known = ranked.get(reach);
    if (known !== undefined) return known;
    const ranking = rankTests(oracle, asked, weighed, setting, setup, reach, carrier === undefined ? undefined : repair);
    // The reading on which all hangs is confirmed by another one, not by itself.
    const again = carrier === undefined ? undefined : testKey(q.evidence[carrier]!);
    const others = ranking.filter((t) => testKey(t) !== again);
    const found = others.length > 0 ? others : ranking;
    const wanted = wantedFor(oracle, belief, q.evidence, setup, enough);
    const made = [...wanted, ...found.filter((t) => wanted.every((w) => testKey(w) !== testKey(t)))];
    ranked.set(reach, made);
    return made;
  };
  return { oracle, belief, isNarrow, setting, setup, enough, next };
}

/**
 * The belief over what is near the complaint and, on a small circuit, over everything that can move an observation which is off; on another one that is brought in only where
 * what is near does not explain an observation.
 */
function weighedIn(q: Question): Pick<Diagnosis, "oracle" | "belief" | "isNarrow"> {
  const presence = { share: q.presence };
  const whole = wholeOracle(q.harness);
  if (whole !== undefined) {
    const oracle = askedOf(whole, smallSpace(q, whole));
    return { oracle, belief: believe(oracle, q.evidence, presence), isNarrow: false };
  }
  const nearby = oracleFor(q);
  const near = { oracle: nearby, belief: believe(nearby, q.evidence, presence), isNarrow: false };
  const { belief } = near;
  if (q.focus.length === 0 || q.isRough === true) return near;
  const unexplained = q.evidence.filter((_, i) => belief.doubt[i]! > DOUBTFUL || belief.unlisted > NOTHING_FITS);
  if (unexplained.length === 0) return near;
  if (q.isNear === true) return { ...near, isNarrow: true };
  const wider = oracleFor(q, unexplained);
  if (wider.space.hypotheses.length === nearby.space.hypotheses.length) return near;
  return { oracle: wider, belief: believe(wider, q.evidence, presence), isNarrow: false };
}

const smallSpaces = new WeakMap<Harness, Map<string, HypothesisSpace>>();

/** All faults of a small circuit, of which those near the complaint are weighed and those that move what is off. */
function smallSpace(q: Question, whole: Oracle): HypothesisSpace {
  const known = smallSpaces.get(q.harness) ?? new Map<string, HypothesisSpace>();
  smallSpaces.set(q.harness, known);
  const key = JSON.stringify([[...q.focus].sort(), stateKey(q.state), q.circumstances, q.ageYears ?? null]);
  const all = lastUsed(known, key, KEPT, () => hypothesisSpaceOf(q.harness, q.focus, q.state, q.circumstances, q.ageYears, false, "all"));
  if (q.focus.length === 0) return all;
  const off = q.evidence.filter((e) => isOff(whole, e));
  return weighing(all, new Set([...all.near, ...off.flatMap((e) => [...faultsMoving(q.harness, e)])]));
}

/** What has yet to be shown of the one thing that is left, each asked at most twice; nothing while more than one is left. */
function wantedFor(
  oracle: Oracle,
  belief: Belief,
  evidence: readonly Evidence[],
  setup: VehicleSetup,
  enough: Enough | undefined,
): readonly RankedTest[] {
  if (enough === undefined || enough.missing.some((m) => m.what === "belief")) return [];
  return enough.missing.flatMap(({ test }): RankedTest[] => {
    if (test === undefined || evidence.filter((e) => testKey(e) === testKey(test)).length >= 2 || !isSafe(oracle, test)) return [];
    const { observe, state } = test.observe.kind === "look" ? lookAt(oracle.space.harness, test.observe.at, test.state, setup.state) : test;
    const kind =
      observe.kind === "look"
        ? "look"
        : observe.kind === "lamp"
          ? "lamp in place of fuse"
          : state.opened.length > setup.state.opened.length
            ? "unplug"
            : "measure";
    const minutes = minutesOf(oracle.space.harness, { state, observe }, setup.state, setup.accessible);
    return [
      {
        kind,
        state,
        observe,
        isAct: kind !== "measure",
        bits: expectedBits(oracle, belief, heaviest(belief), { state, observe }),
        minutes,
      },
    ];
  });
}
