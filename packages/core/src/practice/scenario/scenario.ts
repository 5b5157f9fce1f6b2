import { REST_STATE, type Fault, type VehicleState } from "../../circuit/index.ts";
import {
  believe,
  createOracle,
  hypothesisSpaceOf,
  minutesOf,
  shownBy,
  stateInWhich,
  worksIn,
  type Circumstance,
  type View,
} from "../../diagnosis/index.ts";
import { catalogueOf, type SupposedFault } from "../../faults/index.ts";
import { batteryOf, linkOf, lookupOf, sliceOf, withParts, type Harness } from "../../harness/index.ts";
import { meteredIn, noticedIn, scannedIn, type Complaint } from "../complaint.ts";
import { asBuilt, misdrawnNear, type Misdrawn } from "../misdrawn.ts";
import { chanceOf, shuffled, type Chance, type Truth } from "../truth.ts";
import { FAMILIES, PLANS, type Family, type FamilyPlan } from "./families.ts";
import { speechOf, type Told } from "./speech.ts";
import { wholeView } from "./whole-view.ts";

/** What is asked of a practice job. The same is made of the same by every device. */
export interface ScenarioAsk {
  /** Any where it is left out. */
  readonly family?: Family;
  /** 0 to 1. */
  readonly difficulty: number;
  /** A whole number from 0. */
  readonly seed: number;
  /** The diagram may be wrong in one place; now and then it is. */
  readonly misdrawn?: boolean | undefined;
}

/** What makes a scenario hard, measured where it is measured. */
export interface Difficulty {
  /** What has to be told apart in the circuit around the complaint, bits. */
  readonly bits: number;
  /** To lay open what is at fault, minutes of the engine's estimate. */
  readonly minutes: number;
  readonly twists: readonly Twist[];
  /** All of it, 0 to 1. */
  readonly value: number;
}

/** What comes beside a fault. */
export const TWISTS = [
  "intermittent",
  "two faults",
  "repaired in vain",
  "worn battery",
  "poor ground nearby",
  "no symptom but a lamp",
  "diagram wrong in one place",
] as const;
export type Twist = (typeof TWISTS)[number];

export interface Scenario {
  readonly family: Family;
  readonly seed: number;
  /** What is complained of is due to these. */
  readonly truth: readonly Truth[];
  /** What is not as it should be beside them, and nobody complains of. */
  readonly beside: readonly Fault[];
  readonly complaint: Complaint;
  readonly told: Told;
  readonly circumstances: readonly Circumstance[];
  /** Share of the time in which it is there. */
  readonly presence: number;
  /** Where the diagram is not right. */
  readonly misdrawn: Misdrawn | undefined;
  readonly difficulty: Difficulty;
}

/** Faults among which the nearest to the wanted difficulty is taken, how near is near enough, parts that are tried for them, and faults that are tried at each. */
const WANTED = 4;
const NEAR = 0.12;
const MOST_TARGETS = 10;
const MOST_TRIED = 10;
/** The same where every try is a scan of modules. */
const MOST_SCANNED = 3;

/**
 * Makes a practice job for a vehicle; undefined where nothing of what is asked for is noticed on it. Throws RangeError for a difficulty or seed out of range.
 */
export function makeScenario(harness: Harness, ask: ScenarioAsk): Scenario | undefined {
  if (!(ask.difficulty >= 0 && ask.difficulty <= 1)) throw new RangeError(`difficulty ${ask.difficulty}: must be from 0 to 1`);
  if (!Number.isInteger(ask.seed) || ask.seed < 0 || ask.seed > MOST_SEED)
    throw new RangeError(`seed ${ask.seed}: must be a whole number from 0 to ${MOST_SEED}`);
  const chance = chanceOf(ask.seed + 1);
  const families = ask.family === undefined ? shuffled(FAMILIES, chance) : [ask.family];
  for (const family of families) {
    const made = inFamily(harness, family, ask, chance);
    if (made !== undefined) return made;
  }
  return undefined;
}
export const MOST_SEED = 2 ** 31;

interface Candidate {
  readonly truth: Truth;
  readonly complaint: Complaint;
  readonly target: string;
  readonly view: View;
  readonly bits: number;
  readonly minutes: number;
}

function inFamily(harness: Harness, family: Family, ask: ScenarioAsk, chance: Chance): Scenario | undefined {
  const plan = PLANS[family];
  const targets = shuffled([...new Set(plan.targets(harness))], chance).slice(0, MOST_TARGETS);
  const found: Candidate[] = [];
  let best: Scenario | undefined;
  const off = (s: Scenario): number => Math.abs(s.difficulty.value - ask.difficulty);
  // Where nothing works with all its switches on, as between two buttons, each switch is tried alone.
  const tries = [...targets.map((t) => [t, false] as const), ...targets.map((t) => [t, true] as const)];
  for (const [target, alone] of tries) {
    if (alone && found.length > 0) break;
    const made = candidateAt(harness, plan, target, chance, alone);
    if (made === undefined) continue;
    found.push(made);
    const scenario = twist(harness, family, made, found, ask, chance);
    if (best === undefined || off(scenario) < off(best)) best = scenario;
    if (off(best) <= NEAR || found.length >= WANTED) break;
  }
  return best;
}

/** Ratings of a wrong fuse, times the right one. */
const WRONG_RATINGS = [0.2, 0.33, 0.5] as const;

/** A fault of the circuit around a part that makes somebody complain of that part. */
function candidateAt(harness: Harness, plan: FamilyPlan, target: string, chance: Chance, alone: boolean): Candidate | undefined {
  const around = aroundOf(harness, target);
  const state = alone ? aloneOn(harness, target) : around.stateFor(plan);
  const view = state === undefined ? undefined : wholeView(harness, state);
  if (state === undefined || view === undefined) return undefined;
  const all = around.faults.flatMap((fault) =>
    (fault.mode === "wrong rating" ? WRONG_RATINGS : fault.severities).map((severity) => ({ fault, severity })),
  );
  const pool = all.filter(({ fault, severity }) => plan.fits(harness, fault, severity, target));
  for (let i = 0; i < (plan.by === "scan" ? MOST_SCANNED : MOST_TRIED) && pool.length > 0; i++) {
    const [truth] = pool.splice(drawn(pool, chance), 1);
    const complaint = complaintBy(harness, plan, around.slice, target, view, state, truth!.fault.faultAt(truth!.severity));
    if (complaint === undefined || (state.engine === "idling" && !startsStill(harness, truth!))) continue;
    const bits = bitsOf(around.slice, complaint);
    const minutes = minutesOf(harness, { state, observe: { kind: "look", at: truth!.fault.link } }, state, new Set());
    return { truth: truth!, complaint, target, view, bits, minutes };
  }
  return undefined;
}

/** Whether the engine is still cranked with a fault: nobody complains of what an engine does that cannot have been started. */
function startsStill(harness: Harness, { fault, severity }: Truth): boolean {
  const [starter] = PLANS["no crank"].targets(harness);
  const state = starter === undefined ? undefined : aroundOf(harness, starter).stateFor(PLANS["no crank"]);
  if (starter === undefined || state === undefined) return true;
  const shown = shownBy(harness, { state, observe: { kind: "part", part: starter } }, [fault.faultAt(severity)]);
  return shown.kind !== "word" || shown.word !== "none";
}

/** Likely faults oftener than rare ones, though not by all that they are likelier: practice should meet the rare ones too. */
function drawn(pool: readonly Truth[], chance: Chance): number {
  const weights = pool.map((t) => Math.sqrt(t.fault.prior / t.fault.severities.length));
  let left = chance() * weights.reduce((sum, w) => sum + w, 0);
  return Math.max(
    0,
    weights.findIndex((w) => (left -= w) < 0),
  );
}

function complaintBy(
  harness: Harness,
  plan: FamilyPlan,
  slice: Harness,
  target: string,
  view: View,
  state: VehicleState,
  fault: Fault,
): Complaint | undefined {
  switch (plan.by) {
    case "driver":
    case "lamp": {
      const made = noticedIn(harness, view, state, [fault]);
      return made?.focus.includes(target) === true ? bySight(harness, made) : undefined;
    }
    case "scan": {
      const driven = noticedIn(harness, view, state, [fault]);
      if (driven?.by === "driver") return plan.isWide === true || driven.focus.includes(target) ? bySight(harness, driven) : undefined;
      return scannedIn(plan.isWide === true ? harness : slice, state, [fault]);
    }
    case "meter": {
      // What is seen to be on at rest is no riddle.
      if (noticedIn(harness, view, state, [fault])?.by === "driver") return undefined;
      const battery = batteryOf(harness);
      return battery === undefined ? undefined : meteredIn(harness, { state, observe: { kind: "amps", around: battery.id } }, [fault]);
    }
  }
}

/** Nobody who drives tells of a relay or a glow plug while there is something else to see or hear. */
function bySight(harness: Harness, complaint: Complaint): Complaint {
  const focus = complaint.focus.filter((id) => isTold(harness, id));
  if (focus.length === 0) return complaint;
  return { ...complaint, focus, evidence: complaint.evidence.filter((e) => e.observe.kind !== "part" || focus.includes(e.observe.part)) };
}
function isTold(harness: Harness, id: string): boolean {
  const part = lookupOf(harness).parts.get(id);
  if (part?.kind === "load") return !/ feed$/.test(part.label ?? "");
  return part?.kind === "device" && !["relay", "glowplug", "module"].includes(part.device);
}

/** Bits between what would have to be mended, in the circuit around the complaint and after it. */
function bitsOf(drawn: Harness, complaint: Complaint): number {
  const slice = withoutLooseEnds(drawn);
  const space = hypothesisSpaceOf(
    slice,
    complaint.focus.filter((id) => lookupOf(slice).parts.has(id)),
    complaint.state,
  );
  const told = complaint.evidence.filter((e) => e.observe.kind !== "part" || lookupOf(slice).parts.has(e.observe.part));
  const { repairs } = believe(createOracle(space), told);
  return -repairs.reduce((sum, p) => (p > 0 && p < 1 ? sum + p * Math.log2(p) : sum), 0);
}

/** Adds what makes it harder until it is as hard as was asked for. */
function twist(
  harness: Harness,
  family: Family,
  c: Candidate,
  others: readonly Candidate[],
  { difficulty, seed, misdrawn: mayLie = false }: ScenarioAsk,
  chance: Chance,
): Scenario {
  const faultsNow = [c.truth.fault.faultAt(c.truth.severity)];
  let { complaint } = c;
  const truth: Truth[] = [c.truth];
  const beside: Fault[] = [];
  const circumstances: Circumstance[] = [];
  const twists: Twist[] = [];
  let presence = 1;
  let replaced: string | undefined;
  const isEnough = (): boolean => valueOf(c.bits, c.minutes, twists) >= difficulty;
  if (PLANS[family].comesAndGoes === true) {
    presence = 0.25 + 0.35 * chance();
    twists.push("intermittent");
  }
  if (complaint.by === "scan") twists.push("no symptom but a lamp");
  const second = others.find(
    (o) => o !== c && o.target !== c.target && stateIsSame(o.complaint, complaint) && o.truth.fault.link !== c.truth.fault.link,
  );
  const optional: readonly Twist[] = shuffled(["repaired in vain", "worn battery", "poor ground nearby", "two faults"], chance);
  for (const t of optional) {
    if (difficulty < TWISTED_FROM || isEnough()) break;
    if (t === "repaired in vain") {
      replaced = replacedInVain(harness, c, chance);
      if (replaced === undefined) continue;
      circumstances.push({ kind: "replaced", part: replaced });
    } else if (t === "two faults") {
      if (second === undefined || PLANS[family].by !== "driver" || presence < 1) continue;
      const both = noticedIn(harness, c.view, complaint.state, [
        ...faultsNow,
        ...beside,
        second.truth.fault.faultAt(second.truth.severity),
      ]);
      if (both === undefined || ![c.target, second.target].every((p) => both.focus.includes(p))) continue;
      truth.push(second.truth);
      complaint = bySight(harness, both);
    } else {
      const added = t === "worn battery" ? wornBattery(harness) : poorGround(harness, c, chance);
      if (added === undefined || !isSameComplaint(harness, c, complaint, [...faultsNow, ...beside, added])) continue;
      beside.push(added);
    }
    twists.push(t);
  }
  const told = speechOf(harness, complaint, { presence, replaced, chatter: difficulty }, chance);
  const misdrawn = mayLie ? misdrawnAt(harness, c, truth, beside, seed) : undefined;
  if (misdrawn !== undefined) twists.push("diagram wrong in one place");
  const value = valueOf(c.bits, c.minutes, twists);
  return {
    family,
    seed,
    truth,
    beside,
    complaint,
    told,
    circumstances,
    presence,
    misdrawn,
    difficulty: { bits: c.bits, minutes: c.minutes, twists, value },
  };
}

/** How often a diagram that may be wrong is. */
const LIES_SHARE = 0.6;
/** Chance of its own: what is drawn for it moves nothing else. */
const DIAGRAM = 104_729;

/** Where the diagram around the complaint is wrong; undefined where it is right, or where the fault would be noticed otherwise then. */
function misdrawnAt(harness: Harness, c: Candidate, truth: readonly Truth[], beside: readonly Fault[], seed: number): Misdrawn | undefined {
  if (chanceOf(seed + DIAGRAM)() >= LIES_SHARE) return undefined;
  const found = misdrawnNear(harness, sliceOf(harness, [c.target], { sharers: false }).harness, truth, seed + DIAGRAM + 1);
  const vehicle = asBuilt(harness, found);
  const faults = [...truth.map((t) => t.fault.faultAt(t.severity)), ...beside];
  const shown = (on: Harness): string => {
    const view = wholeView(on, c.complaint.state);
    return JSON.stringify(view === undefined ? undefined : noticedIn(on, view, c.complaint.state, faults)?.evidence);
  };
  return found !== undefined && shown(harness) === shown(vehicle) ? found : undefined;
}

/** An easy one has nothing beside it. */
const TWISTED_FROM = 0.3;

/** Bits and minutes at which a scenario is hard by them alone, and what each counts. Estimates; docs/practice.md. */
const MANY_BITS = 7;
const MANY_MINUTES = 15;
const COUNTS = { bits: 0.5, minutes: 0.15 } as const;
const TWIST_COUNTS: Readonly<Record<Twist, number>> = {
  intermittent: 0.25,
  "two faults": 0.25,
  "repaired in vain": 0.05,
  "worn battery": 0.1,
  "poor ground nearby": 0.1,
  "no symptom but a lamp": 0.1,
  "diagram wrong in one place": 0.15,
};
const valueOf = (bits: number, minutes: number, twists: readonly Twist[]): number =>
  Math.min(
    1,
    COUNTS.bits * Math.min(1, bits / MANY_BITS) +
      COUNTS.minutes * Math.min(1, minutes / MANY_MINUTES) +
      twists.reduce((sum, t) => sum + TWIST_COUNTS[t], 0),
  );

const stateIsSame = (a: Complaint, b: Complaint): boolean => JSON.stringify(a.state) === JSON.stringify(b.state);

/** A part or fuse on the way that is as it should be. */
function replacedInVain(harness: Harness, { target, truth }: Candidate, chance: Chance): string | undefined {
  const around = sliceOf(harness, [target], { sharers: false }).harness.components;
  const good = around.filter(
    (p) => p.id !== truth.fault.link && (p.kind === "fuse" || p.kind === "load" || (p.kind === "device" && p.device !== "module")),
  );
  return good.length === 0 ? undefined : good[Math.floor(chance() * good.length)]!.id;
}

function wornBattery(harness: Harness): Fault | undefined {
  const battery = batteryOf(harness);
  return battery === undefined ? undefined : { kind: "settings", component: battery.id, settings: { wear: 0.5 } };
}

/** Ω of a ground that is poor and nobody notices: enough to put a black lead off. */
const POOR_OHMS = 0.4;
function poorGround(harness: Harness, { truth, target }: Candidate, chance: Chance): Fault | undefined {
  const own = new Set(sliceOf(harness, [target], { sharers: false }).harness.components.map((c) => c.id));
  const others = harness.components.filter((c) => linkOf(harness, c.id)?.kind === "ground" && c.id !== truth.fault.link && !own.has(c.id));
  return others.length === 0 ? undefined : { kind: "series", link: others[Math.floor(chance() * others.length)]!.id, ohms: POOR_OHMS };
}

const isSameComplaint = (harness: Harness, { view }: Candidate, complaint: Complaint, faults: readonly Fault[]): boolean => {
  if (complaint.by !== "driver" && complaint.by !== "lamp") return false;
  const now = noticedIn(harness, view, complaint.state, faults);
  return now !== undefined && JSON.stringify(bySight(harness, now).evidence) === JSON.stringify(complaint.evidence);
};

/** The circuit around a part: what can be wrong in it, and the states in which the part is used. */
interface Around {
  readonly slice: Harness;
  readonly faults: readonly SupposedFault[];
  readonly stateFor: (plan: FamilyPlan) => VehicleState | undefined;
}

const arounds = new WeakMap<Harness, Map<string, Around>>();
function aroundOf(harness: Harness, target: string): Around {
  const known = arounds.get(harness) ?? new Map<string, Around>();
  arounds.set(harness, known);
  const made = known.get(target) ?? makeAround(harness, target);
  known.set(target, made);
  return made;
}

function makeAround(harness: Harness, target: string): Around {
  const slice = whole(sliceOf(harness, [target]).harness);
  const states = new Map<string, VehicleState | undefined>();
  const stateFor = ({ by, engine }: FamilyPlan): VehicleState | undefined => {
    if (by === "meter") return { ...REST_STATE };
    if (by === "scan") return { ...REST_STATE, key: "run" };
    const from: VehicleState =
      engine === "idling"
        ? { ...REST_STATE, key: "run", engine }
        : engine === "cranking"
          ? { ...REST_STATE, key: "crank", engine }
          : { ...REST_STATE };
    const key = engine ?? "";
    // Where the engine stands is the family's matter.
    const may = engine === undefined ? "move the key" : "switch alone";
    if (!states.has(key)) states.set(key, stateInWhich(slice, target, from, may) ?? stateInWhich(harness, target, from, may));
    return states.get(key);
  };
  return { slice, faults: catalogueOf(slice), stateFor };
}

/** A slice without the wires that end where nothing is drawn. */
const whole = (slice: Harness): Harness => withParts(slice, new Set(slice.components.map((c) => c.id)));

const tidied = new WeakMap<Harness, Harness>();
/** A slice without what hangs on it by one end alone: nothing flows there. */
function withoutLooseEnds(slice: Harness): Harness {
  const known = tidied.get(slice);
  if (known !== undefined) return known;
  let left = slice;
  for (;;) {
    const pins = new Map<string, Set<string>>();
    for (const line of [...left.wires, ...left.joints])
      for (const end of [line.from, line.to]) pins.set(end.component, (pins.get(end.component) ?? new Set()).add(end.pin));
    const isLoose = (c: Harness["components"][number]): boolean =>
      (c.kind === "switch" || c.kind === "fuse" || c.kind === "load") && (pins.get(c.id)?.size ?? 0) < 2;
    const held = left.components.filter((c) => !isLoose(c));
    if (held.length === left.components.length) break;
    left = withParts(left, new Set(held.map((c) => c.id)));
  }
  tidied.set(slice, left);
  return left;
}

/** A state in which one switch alone works a part, with the key off or on. */
function aloneOn(harness: Harness, target: string): VehicleState | undefined {
  const { slice } = aroundOf(harness, target);
  const hand = slice.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" ? [c.id] : []));
  const states = (["off", "run"] as const).flatMap((key) => hand.map((id): VehicleState => ({ ...REST_STATE, key, on: [id] })));
  return states.find((state) => worksIn(slice, target, state));
}

/** How a chosen fault is told and when it is there. `isLate`: not from the beginning. `words`: the customer's, where somebody wrote them. */
export interface ChosenManner {
  readonly seed: number;
  readonly presence?: number;
  readonly isLate?: boolean;
  readonly words?: string | undefined;
}

/**
 * A scenario of faults that somebody chose, as they are noticed in a state; undefined where nobody would notice them in it. `words`: the customer's, where somebody wrote
 * them.
 */
export function scenarioOf(
  harness: Harness,
  truth: readonly Truth[],
  state: VehicleState,
  { seed, presence = 1, isLate = false, words }: ChosenManner,
): Scenario | undefined {
  const [first] = truth;
  const view = wholeView(harness, state);
  if (first === undefined || view === undefined) return undefined;
  const faults = truth.map((t) => t.fault.faultAt(t.severity));
  const driven = noticedIn(harness, view, state, faults);
  const complaint = driven === undefined ? scannedIn(harness, state, faults) : bySight(harness, driven);
  if (complaint === undefined) return undefined;
  const comesAndGoes = presence < 1 || isLate;
  const family = familyOfChosen(harness, first, complaint, comesAndGoes);
  const chance = chanceOf(seed + 1);
  const bits = bitsOf(harness, complaint);
  const minutes = minutesOf(harness, { state, observe: { kind: "look", at: first.fault.link } }, state, new Set());
  const twists: Twist[] = [
    ...(comesAndGoes ? (["intermittent"] as const) : []),
    ...(truth.length > 1 ? (["two faults"] as const) : []),
    ...(complaint.by === "scan" ? (["no symptom but a lamp"] as const) : []),
  ];
  const told = speechOf(harness, complaint, { presence, isLate, replaced: undefined, chatter: 0 }, chance);
  return {
    family,
    seed,
    truth,
    beside: [],
    complaint,
    told: words === undefined || words === "" ? told : { ...told, words },
    circumstances: [],
    presence,
    misdrawn: undefined,
    difficulty: { bits, minutes, twists, value: valueOf(bits, minutes, twists) },
  };
}

/** The family that a chosen fault belongs to, the most telling first. */
function familyOfChosen(harness: Harness, { fault, severity }: Truth, { focus, state }: Complaint, comesAndGoes: boolean): Family {
  if (comesAndGoes) return "intermittent";
  const ofParts = (["no crank", "charging", "misfire"] as const).find(
    (f) => PLANS[f].engine === state.engine && PLANS[f].targets(harness).some((t) => focus.includes(t)),
  );
  if (ofParts !== undefined) return ofParts;
  const order: readonly Family[] = [
    "bus",
    "5 V reference",
    "wrong fuse",
    "bad ground",
    "shared return",
    "short to ground",
    "short to supply",
    "short between wires",
    "high resistance",
    "open",
  ];
  return order.find((f) => PLANS[f].fits(harness, fault, severity, focus[0] ?? "")) ?? "sensor or gauge";
}

/** What is complained of once some of it is repaired; undefined when nothing is any more. */
export function complaintLeft(harness: Harness, { family, complaint }: Scenario, left: readonly Fault[]): Complaint | undefined {
  if (left.length === 0) return undefined;
  const { state } = complaint;
  if (complaint.by === "scan") return scannedIn(harness, state, left);
  const view = wholeView(harness, state);
  if (view === undefined) return undefined;
  const [first] = left;
  if (PLANS[family].by === "meter") return complaintBy(harness, PLANS[family], harness, "", view, state, first!);
  const made = noticedIn(harness, view, state, left);
  return made === undefined ? undefined : bySight(harness, made);
}
