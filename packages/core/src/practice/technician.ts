import {
  diagnose,
  misfitOf,
  type Circumstance,
  type Diagnosis,
  type Enough,
  type Evidence,
  type Instrument,
  type Question,
  type Result,
  type Test,
  INSTRUMENTS,
  workClock,
  WIRE_COLOUR,
} from "../diagnosis/index.ts";
import type { Fault, VehicleState } from "../circuit/index.ts";
import { batteryNegative, batteryPositive, type Harness } from "../harness/index.ts";
import { complaintOf, type Complaint } from "./complaint.ts";
import type { Strategy } from "./baselines.ts";
import { otherColoursAt } from "./misdrawn.ts";
import { namedBy, peopleWhoErr, type People } from "./people.ts";
import { safetyOf, type Safety } from "./safety.ts";
import { resultOf, seenAt, type Chance, type Truth } from "./truth.ts";

export interface Step {
  readonly test: Test;
  readonly result: Result;
  readonly minutes: number;
}

/** How a practice case went. */
export interface Run {
  readonly truth: readonly Truth[];
  readonly complaint: Complaint;
  readonly steps: readonly Step[];
  readonly minutes: number;
  /** What was acted on in the end, and whether the tool said that it was enough. */
  readonly element: string;
  readonly enough: Enough | undefined;
  readonly right: boolean;
  /** After the complaint and after each test: what the likeliest repair held, and whether it was right. */
  readonly answers: readonly { readonly probability: number; readonly right: boolean }[];
  /** What was said when nothing fitted any more, or a reading did not fit the rest; undefined where all fitted to the end. */
  readonly misfit: string | undefined;
  /** Whether the reading that was grossly wrong is named as doubtful in the end; undefined when there was none. */
  readonly slipNamed: boolean | undefined;
  /** What came of every test that was proposed on the way, taken or not. */
  readonly safety: Safety;
}

export interface Manner {
  readonly chance: Chance;
  /** Share of the time that the fault is there. */
  readonly presence?: number;
  /** From which step on the first reading is grossly wrong; none when left out. */
  readonly grossAt?: number;
  readonly instruments?: readonly Instrument[];
  readonly mostSteps?: number;
  /** Who looks and says; people who err as often as usual when left out. */
  readonly people?: People;
  /** The vehicle as it really is, where the diagram at hand is not right everywhere. */
  readonly vehicle?: Harness;
  /** What is complained of; what a driver, a scan or a service would notice first when left out. */
  readonly complaint?: Complaint;
  /** What is not as it should be beside the fault, always there. */
  readonly beside?: readonly Fault[];
  readonly circumstances?: readonly Circumstance[];
  /** By a rule instead of the proposals; what the rule leaves open is done by proposal. */
  readonly strategy?: Strategy;
}

/** Battery check: across the posts with the key off. */
export const batteryCheck = (harness: Harness, state: VehicleState): Test => ({
  state,
  observe: { kind: "volts", red: batteryPositive(harness), black: batteryNegative(harness) },
});

/** A technician who takes the first proposed test, from the complaint alone, until there is enough to act. Undefined when nobody would notice the fault. */
export function practise(harness: Harness, truth: readonly Truth[], manner: Manner): Run | undefined {
  const vehicle = manner.vehicle ?? harness;
  const complaint =
    manner.complaint ??
    complaintOf(
      vehicle,
      truth.map((t) => t.fault.faultAt(t.severity)),
    );
  if (complaint === undefined) return undefined;
  // A fault that comes and goes takes patience.
  const { chance, presence = 1, mostSteps = presence < 1 ? 60 : 30 } = manner;
  const steps: Step[] = [];
  const people = manner.people ?? peopleWhoErr(1);
  // Whoever brings the vehicle remembers a part as dead that was weak, now and then.
  const evidence: Evidence[] = complaint.evidence.map((e) =>
    e.observe.kind === "part" ? { ...e, result: namedBy(e.result, people.misremembered, chance) } : e,
  );
  const clock = workClock(harness, complaint.state);
  let vehicleNow = complaint.state;
  let minutes = 0;
  let slip: number | undefined;
  const take = (test: Test, counted: boolean): void => {
    const there = chance() < presence;
    let result = resultOf(vehicle, test, truth, there, chance, people, manner.beside);
    if (counted && slip === undefined && manner.grossAt !== undefined && steps.length >= manner.grossAt && result.kind === "value") {
      slip = evidence.length;
      result = { kind: "value", value: wrongReading(result.value, harness.nominalVolts, chance), resolution: 0.01 };
    }
    const cost = clock(test);
    vehicleNow = test.state;
    for (const observe of seenAt(vehicle, test, result, truth, people))
      evidence.push({
        id: `test ${evidence.length + 1}`,
        state: test.state,
        observe,
        result,
        source: "technician",
        ...(presence < 1 ? { present: there } : {}),
      });
    // Whoever puts a lead into a plug sees what wire is there.
    for (const at of otherColoursAt(harness, vehicle, test.observe)) {
      if (chance() < people.colourMissed) continue;
      evidence.push({
        id: `test ${evidence.length + 1}`,
        state: test.state,
        observe: { kind: "check", at, what: WIRE_COLOUR },
        result: { kind: "word", word: "otherwise" },
        source: "technician",
      });
    }
    if (!counted) return;
    steps.push({ test, result, minutes: cost });
    minutes += cost;
  };
  take(batteryCheck(harness, complaint.state), false);
  const ask = (): Question => ({
    harness,
    focus: complaint.focus,
    state: complaint.state,
    presence,
    evidence,
    circumstances: manner.circumstances ?? [],
    instruments: manner.instruments ?? INSTRUMENTS,
    vehicleNow,
  });
  const answers: { probability: number; right: boolean }[] = [];
  const isRight = (element: string): boolean => truth.some((t) => t.fault.link === element || t.fault.other === element);
  const answer = (): Diagnosis => {
    const found = diagnose(ask());
    const { repairs } = found.oracle.space;
    const top = found.belief.repairs.reduce((p, share, i) => (share > (found.belief.repairs[p] ?? 0) ? i : p), 0);
    if (repairs[top] !== undefined) answers.push({ probability: found.belief.repairs[top]!, right: isRight(repairs[top].element) });
    return found;
  };
  const proposed: Test[] = [];
  let d = answer();
  while (d.enough?.yes !== true && steps.length < mostSteps) {
    const ruled = manner.strategy?.(harness, complaint.focus, complaint.state, evidence, d.oracle);
    if (ruled === undefined) proposed.push(...d.next());
    const next = ruled ?? d.next()[0];
    if (next === undefined) break;
    take({ state: next.state, observe: next.observe }, true);
    d = answer();
  }
  const element = d.enough?.element ?? "";
  return {
    truth,
    complaint,
    steps,
    minutes,
    element,
    enough: d.enough,
    answers,
    misfit: misfitOf(d, evidence),
    right: isRight(element),
    safety: safetyOf(
      vehicle,
      proposed,
      truth.map((t) => t.fault.faultAt(t.severity)),
    ),
    slipNamed: slip === undefined ? undefined : d.belief.doubt[slip]! > 0.5,
  };
}

/** Two or more faults: what is found is mended and the vehicle tried again, until nothing is complained of or something was mended in vain. */
export function practiseUntilSound(
  harness: Harness,
  truth: readonly Truth[],
  manner: Manner,
): { readonly runs: readonly Run[]; readonly sound: boolean } | undefined {
  const runs: Run[] = [];
  let left = truth;
  while (left.length > 0) {
    const run = practise(harness, left, manner);
    // What nobody notices is not looked for.
    if (run === undefined) return runs.length === 0 ? undefined : { runs, sound: true };
    runs.push(run);
    const remaining = left.filter((t) => t.fault.link !== run.element && t.fault.other !== run.element);
    if (remaining.length === left.length) return { runs, sound: false };
    left = remaining;
  }
  return { runs, sound: true };
}

/** A reading off by at least a seventh of the nominal voltage: a slipped lead, the wrong cavity. */
function wrongReading(value: number, nominalVolts: number, chance: Chance): number {
  for (;;) {
    const wrong = chance() * nominalVolts;
    if (Math.abs(wrong - value) > nominalVolts / 7) return Number(wrong.toFixed(2));
  }
}
