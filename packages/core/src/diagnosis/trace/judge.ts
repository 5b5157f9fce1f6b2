import type { Fault, VehicleState } from "../../circuit/index.ts";
import { batteryNegative, batteryPositive, type Harness, type PlaceId } from "../../harness/index.ts";
import { prepareVolts, type predictAll } from "../../instruments/index.ts";
import type { RuleSet } from "../../limits/index.ts";
import { fitSeries } from "./fit.ts";
import { joinPotentials, type Conflict, type Potentials, type VoltFact } from "./potentials.ts";
import { predictionIn } from "./predictions.ts";
import { allowedOver, buildStaircase, type Staircase, type Step } from "./staircase.ts";
import { rawStretches, stepsOf, tallestExcess, type RawStretch } from "./stretches.ts";

/** Share of the sound current below which a drop cannot judge a conductor. */
const TOO_LITTLE_CURRENT = 0.1;
/** Current below which nothing flows, A. */
const NO_CURRENT = 1e-4;

export type Why = "no current" | "too little current" | "load inside" | "too close to call" | "rises along the path";

/** What the readings say of one stretch of the path. */
export interface Stretch {
  /** Indices of the steps covered. They have gaps where inner stretches were measured by themselves. */
  readonly steps: readonly number[];
  readonly fromPlace: PlaceId;
  readonly toPlace: PlaceId;
  readonly dropVolts: number;
  readonly uncertaintyVolts: number;
  /** What sound conductors drop here at the current that flowed, V. */
  readonly soundDropVolts: number;
  /** Up to here the stretch counts as sound, V (rule set and computed drop together); undefined with the load inside. */
  readonly limitVolts: number | undefined;
  /** Current that flowed here, A, and where the figure comes from. */
  readonly amps: number;
  readonly ampsFrom: "clamp" | "voltage at the load" | "model with this resistance" | "model";
  /** What follows from drop and current, Ω; undefined when too little flowed or the current differs along the stretch. An open is told by `open`. */
  readonly ohms: number | undefined;
  readonly soundOhms: number;
  readonly open: boolean;
  readonly verdict: "sound" | "suspect" | "cannot judge";
  readonly why: Why | undefined;
  readonly readings: readonly string[];
}

export interface ReferenceNote {
  readonly reading: string;
  readonly black: string;
}

/** Readings on the staircase, judged. */
export interface PathJudgement {
  readonly staircase: Staircase;
  /** Measured potential against battery negative by place index; undefined where unknown. */
  readonly measuredVolts: readonly (number | undefined)[];
  readonly stretches: readonly Stretch[];
  /** Readings whose black lead stood on a place that nothing ties to battery negative in this state. */
  readonly referenceNotes: readonly ReferenceNote[];
  readonly conflicts: readonly Conflict[];
  readonly batteryVolts: number | undefined;
  /** Potential by place index with the resistance that explains the tallest step; undefined when nothing is suspect. */
  readonly explainedVolts: readonly (number | undefined)[] | undefined;
}

export interface ClampFact {
  readonly id: string;
  readonly around: string;
  readonly amps: number;
}

type Battery = ReturnType<Potentials["difference"]>;
const batteryIn = (harness: Harness, potentials: Potentials): Battery =>
  potentials.difference(batteryPositive(harness), batteryNegative(harness));
const sourceOf = (battery: Battery): number | undefined => (battery !== undefined && battery.volts > 0 ? battery.volts : undefined);

/** Makes what judging a drop in this state begins with, for when hands are still at work; nothing hangs on it. */
export function readyToJudge(harness: Harness, state: VehicleState, facts: readonly VoltFact[]): void {
  prepareVolts(harness, state, { sourceVolts: sourceOf(batteryIn(harness, joinPotentials(facts))) });
}

/** Judges the readings of one state on the path of one load. */
export function judgePath(
  harness: Harness,
  state: VehicleState,
  loadId: string,
  rules: RuleSet,
  facts: readonly VoltFact[],
  clamps: readonly ClampFact[] = [],
): PathJudgement | { readonly kind: "no staircase"; readonly message: string } {
  const minus = batteryNegative(harness);
  const potentials = joinPotentials(facts);
  const battery = batteryIn(harness, potentials);
  const sourceVolts = sourceOf(battery);
  const staircase = buildStaircase(harness, state, loadId, rules, sourceVolts);
  if (staircase.kind === "no staircase") return staircase;

  const raw = rawStretches(staircase, potentials);
  const tallest = tallestExcess(staircase, raw);
  const fitted = tallest === undefined ? undefined : fitSeries(harness, state, staircase, tallest, sourceVolts);
  const explanation: readonly Fault[] = fitted === undefined ? [] : [fitted.fault];
  const explained = predictionIn(harness, state, explanation, sourceVolts);
  const flowing = currentOf(harness, staircase, potentials, clamps, explained);
  const stretches = raw.map((r) => judgeStretch(harness, state, staircase, r, flowing, r === tallest));
  // Where inside a longer stretch the drop falls is not known yet, so no line is drawn there.
  const hidden = new Set(stretches.flatMap((s) => (s.verdict === "suspect" ? s.steps.slice(1) : [])));
  const anySuspect = stretches.some((s) => s.verdict === "suspect");
  return {
    staircase,
    measuredVolts: staircase.places.map((p) => potentials.difference(p, minus)?.volts),
    stretches,
    referenceNotes: referenceNotes(staircase, potentials, minus),
    conflicts: potentials.conflicts,
    batteryVolts: battery?.volts,
    explainedVolts:
      anySuspect && "volts" in explained ? staircase.places.map((p, i) => (hidden.has(i) ? undefined : explained.volts.get(p))) : undefined,
  };
}

interface Flowing {
  readonly amps: (step: Step) => number;
  readonly from: Stretch["ampsFrom"];
}

/** The current that flowed: clamped, else from the measured voltage at the load, else as the model has it. */
function currentOf(
  harness: Harness,
  staircase: Staircase,
  potentials: Potentials,
  clamps: readonly ClampFact[],
  explained: ReturnType<typeof predictAll>,
): Flowing {
  const modelAmps = (step: Step): number => {
    if (!("amps" in explained)) return step.soundAmps;
    const through = explained.amps.get(step.link.id) ?? 0;
    return step.from === step.link.a ? through : -through;
  };
  const load = staircase.steps.find((s) => s.side === "load")!;
  const scaled = (ratio: number): ((step: Step) => number) => {
    return (step) => step.soundAmps * ratio;
  };
  const clamp = [...clamps].reverse().find((c) => staircase.steps.some((s) => s.link.id === c.around));
  if (clamp !== undefined) {
    const at = staircase.steps.find((s) => s.link.id === clamp.around)!;
    if (Math.abs(at.soundAmps) > NO_CURRENT) return { amps: scaled(Math.abs(clamp.amps / at.soundAmps)), from: "clamp" };
  }
  const across = potentials.difference(load.from, load.to);
  if (across !== undefined && Math.abs(load.soundDropVolts) > 0.01 && Math.abs(load.soundAmps) > NO_CURRENT) {
    const part = harness.components.find((c) => c.id === staircase.loadId);
    // A filament's current follows V^0.55, everything else here is a resistance.
    const exponent = part?.kind === "load" && part.sort === "lamp" ? 0.55 : 1;
    const share = Math.max(0, across.volts / load.soundDropVolts);
    const measured = load.soundAmps * share ** exponent;
    const shared = staircase.steps.some((s) => Math.abs(s.soundAmps - load.soundAmps) > 0.02 * Math.abs(load.soundAmps));
    if (!shared) return { amps: scaled(measured / load.soundAmps), from: "voltage at the load" };
  }
  return { amps: modelAmps, from: "model" };
}

function judgeStretch(
  harness: Harness,
  state: VehicleState,
  staircase: Staircase,
  raw: RawStretch,
  flowing: Flowing,
  isTallest: boolean,
): Stretch {
  const steps = stepsOf(staircase, raw);
  const through = steps.map((s) => Math.abs(flowing.amps(s)));
  const amps = Math.min(...through);
  // Past a splice more flows than before it; a resistance then follows only from a step measured alone.
  const oneCurrent = Math.max(...through) <= 1.05 * amps;
  const soundAmps = Math.min(...steps.map((s) => Math.abs(s.soundAmps)));
  const soundOhms = steps.reduce((sum, s) => sum + (Math.abs(s.soundAmps) > NO_CURRENT ? s.soundDropVolts / s.soundAmps : 0), 0);
  const soundDrops = steps.map((s) =>
    Math.abs(s.soundAmps) > NO_CURRENT ? (s.soundDropVolts / s.soundAmps) * Math.abs(flowing.amps(s)) : 0,
  );
  const soundDropVolts = soundDrops.reduce((sum, v) => sum + v, 0);
  const allowed = allowedOver(harness, state, staircase.rules, steps, soundDrops);
  const starved = amps < TOO_LITTLE_CURRENT * soundAmps;
  const base = {
    steps: raw.steps,
    fromPlace: staircase.places[raw.from]!,
    toPlace: staircase.places[raw.to]!,
    dropVolts: raw.dropVolts,
    uncertaintyVolts: raw.uncertaintyVolts,
    soundDropVolts,
    limitVolts: allowed,
    amps,
    ampsFrom: flowing.from === "model" && isTallest ? ("model with this resistance" as const) : flowing.from,
    ohms: amps > NO_CURRENT && oneCurrent ? raw.dropVolts / amps : undefined,
    soundOhms,
    open: false,
    readings: raw.readings,
  };
  if (allowed === undefined) return { ...base, verdict: "cannot judge", why: "load inside" };
  if (soundAmps < NO_CURRENT) return { ...base, verdict: "cannot judge", why: "no current" };
  if (raw.dropVolts < -(raw.uncertaintyVolts + 0.02)) return { ...base, verdict: "cannot judge", why: "rises along the path" };
  if (raw.dropVolts - raw.uncertaintyVolts > allowed) {
    return { ...base, open: starved && amps < 0.01 * soundAmps, verdict: "suspect", why: undefined };
  }
  if (starved) return { ...base, verdict: "cannot judge", why: "too little current" };
  if (raw.dropVolts + raw.uncertaintyVolts > allowed) return { ...base, verdict: "cannot judge", why: "too close to call" };
  return { ...base, verdict: "sound", why: undefined };
}

/** A black lead off battery negative is fine across conductors; otherwise its place must be measured first. */
function referenceNotes(staircase: Staircase, potentials: Potentials, minus: PlaceId): ReferenceNote[] {
  const index = new Map<string, number>(staircase.places.map((p, i) => [p, i]));
  return potentials.facts.flatMap((fact) => {
    if (fact.black === minus || potentials.difference(fact.black, minus) !== undefined) return [];
    const i = index.get(fact.red);
    const j = index.get(fact.black);
    if (i !== undefined && j !== undefined) {
      const between = staircase.steps.slice(Math.min(i, j), Math.max(i, j));
      if (between.every((s) => s.side !== "load")) return [];
    }
    return [{ reading: fact.id, black: fact.black }];
  });
}
