import { REST_STATE, type Fault, type VehicleState } from "../circuit/index.ts";
import { flickersIn, shownBy, sigmaOf, workOf, type Evidence, type Test, type View } from "../diagnosis/index.ts";
import { batteryNegative, batteryOf, batteryPositive, deviceOf, lookupOf, type Harness } from "../harness/index.ts";
import { FULL_WORK, NO_WORK, ratedWork, scanAll, type Scan } from "../instruments/index.ts";
import { operationsOf } from "../procedures/index.ts";

/** Who notices: the driver by what a part does, the driver by a warning lamp, a scan, a meter at service. */
export type NoticedBy = "driver" | "lamp" | "scan" | "meter";

/** What somebody says is wrong. */
export interface Complaint {
  readonly by: NoticedBy;
  readonly state: VehicleState;
  /** Parts that do not do what they should, worst first. */
  readonly focus: readonly string[];
  readonly evidence: readonly Evidence[];
}

/** A driver notices when a part does less than the one or more than the other share of what it should, or this much that it should not. */
const LESS = 0.6;
const MORE = 1.6;
const UNASKED = 0.3;
const MOST_NAMED = 3;

/** The first use of the vehicle in which a fault is noticed, by the driver before a scan and by that before a meter; undefined when nobody would notice. */
export const complaintOf = (harness: Harness, faults: readonly Fault[]): Complaint | undefined =>
  drivenWith(harness, faults) ?? scannedWith(harness, faults) ?? meteredWith(harness, faults);

/** A lamp of no more than this stands for a warning, W. */
const WARNING_WATTS = 3.5;
const isWarning = (harness: Harness, id: string): boolean => {
  const part = lookupOf(harness).parts.get(id);
  return part?.kind === "load" && part.sort === "lamp" && "watts" in part.rating && part.rating.watts <= WARNING_WATTS;
};

/** What a scan finds with the key on or the engine running; undefined where it finds nothing. */
function scannedWith(harness: Harness, faults: readonly Fault[]): Complaint | undefined {
  for (const engine of ["stopped", "idling"] as const) {
    const made = scannedIn(harness, { ...REST_STATE, key: "run", engine }, faults);
    if (made !== undefined) return made;
  }
  return undefined;
}

/** What a scan finds in a state that it does not find on a sound vehicle; undefined where that is nothing. */
export function scannedIn(harness: Harness, state: VehicleState, faults: readonly Fault[]): Complaint | undefined {
  if (!harness.components.some((c) => c.kind === "device" && c.device === "module")) return undefined;
  const sound = soundScan(harness, state);
  const now = scanAll(harness, state, faults);
  const silent = now.silent.filter((id) => !sound.silent.includes(id)).slice(0, MOST_NAMED);
  const codes = now.codes.filter((c) => !sound.codes.includes(c)).slice(0, MOST_NAMED);
  if (silent.length + codes.length === 0) return undefined;
  const found = (observe: Evidence["observe"], word: "active" | "no"): Pick<Evidence, "observe" | "result"> => ({
    observe,
    result: { kind: "word", word },
  });
  const all = [
    ...codes.map((code) => found({ kind: "code", code }, "active")),
    ...silent.map((module) => found({ kind: "answers", module }, "no")),
  ];
  return { by: "scan", state, focus: silent, evidence: all.map((e, i) => ({ id: `scan ${i + 1}`, state, source: "scan", ...e })) };
}

const scans = new WeakMap<Harness, Map<string, Scan>>();
function soundScan(harness: Harness, state: VehicleState): Scan {
  const known = scans.get(harness) ?? new Map<string, Scan>();
  scans.set(harness, known);
  const made = known.get(state.engine) ?? scanAll(harness, state, []);
  known.set(state.engine, made);
  return made;
}

/** What a service measures in any case: the battery's voltage at rest, while the engine runs and while it is cranked, and what is drawn with all off. */
function meteredWith(harness: Harness, faults: readonly Fault[]): Complaint | undefined {
  const posts = { kind: "volts", red: batteryPositive(harness), black: batteryNegative(harness) } as const;
  const off: VehicleState = { ...REST_STATE };
  const cranks = operationsOf(harness).find((op) => op.state.engine === "cranking")?.state;
  const checks: readonly Test[] = [
    { state: off, observe: posts },
    { state: { ...off, key: "run", engine: "idling" }, observe: posts },
    ...(cranks === undefined ? [] : [{ state: cranks, observe: posts }]),
    { state: off, observe: { kind: "amps", around: batteryOf(harness)!.id } },
  ];
  for (const test of checks) {
    const made = meteredIn(harness, test, faults);
    if (made !== undefined) return made;
  }
  return undefined;
}

/** What a service finds by one measurement; undefined where it is as on a sound vehicle. */
export function meteredIn(harness: Harness, test: Test, faults: readonly Fault[]): Complaint | undefined {
  const [now, sound] = [shownBy(harness, test, faults), shownBy(harness, test, [])];
  if (now.kind !== "value" || sound.kind !== "value") return undefined;
  const least = test.observe.kind === "amps" ? LEAST_DRAIN_AMPS : LEAST_VOLTS_OFF * (harness.nominalVolts / 12);
  if (Math.abs(now.value - sound.value) < Math.max(least, 3 * sigmaOf(test.observe, sound.value))) return undefined;
  return { by: "meter", state: test.state, focus: [], evidence: [{ id: "service 1", ...test, result: now, source: "technician" }] };
}
const LEAST_VOLTS_OFF = 0.3;
const LEAST_DRAIN_AMPS = 0.05;

/** What a driver sees, hears or feels. */
function drivenWith(harness: Harness, faults: readonly Fault[]): Complaint | undefined {
  for (const op of operationsOf(harness)) {
    const made = noticedIn(harness, op.view, op.state, faults);
    if (made !== undefined) return made;
  }
  return undefined;
}

/** What a driver notices in one state of the vehicle; undefined where nothing is otherwise than it should, or the circuit has no answer. `view`: of the whole vehicle in that state. */
export function noticedIn(harness: Harness, view: View, state: VehicleState, faults: readonly Fault[]): Complaint | undefined {
  const off = changesIn(harness, view, faults);
  if (off === undefined || off.length === 0) return undefined;
  const named = off.slice(0, MOST_NAMED);
  return {
    by: named.every((n) => isWarning(harness, n.part)) ? "lamp" : "driver",
    state,
    focus: named.map((n) => n.part),
    evidence: named.map((n, i) => ({
      id: `complaint ${i + 1}`,
      state,
      observe: { kind: "part", part: n.part },
      result: { kind: "word", word: n.word },
      source: "customer",
    })),
  };
}

/** A part that does otherwise than on a sound vehicle. */
export interface PartChange {
  readonly part: string;
  readonly word: "weak" | "none" | "full" | "flickers" | "too much";
  /** How much otherwise, 0 to 1. */
  readonly by: number;
}

/** Every part that does otherwise, what people see first and the worst of that first; undefined where the circuit has no answer. */
export function changesIn(harness: Harness, view: View, faults: readonly Fault[]): readonly PartChange[] | undefined {
  const row = view.rowOf(faults);
  if (row.unsolved) return undefined;
  const off: PartChange[] = [];
  for (const part of view.partIndex.keys()) {
    const sound = workOf(view, view.sound, part);
    const work = workOf(view, row, part);
    if (work === undefined || sound === undefined) continue;
    const ratio = sound > 0.05 ? work / sound : work;
    if (sound > 0.05 && (ratio < LESS || flickersIn(view, row, part)))
      off.push({ part, word: flickersIn(view, row, part) ? "flickers" : ratio < NO_WORK ? "none" : "weak", by: 1 - ratio });
    if (sound > 0.05 && ratio > MORE) off.push({ part, word: "too much", by: 1 - 1 / ratio });
    const share = work / ratedWork(harness, part);
    if (sound <= 0.02 && share > UNASKED) off.push({ part, word: share > FULL_WORK ? "full" : "weak", by: 0.9 });
  }
  // Lamps, motors and what people see come before the relays that they may hear.
  const seen = (part: string): number => {
    const c = harness.components.find((x) => x.id === part)!;
    return c.kind === "load"
      ? 1
      : c.kind === "device" && deviceOf(c).device.isNoticed === true
        ? 1
        : c.kind === "device" && c.device === "module"
          ? 0.5
          : 0;
  };
  off.sort((p, q) => seen(q.part) - seen(p.part) || q.by - p.by);
  return [...new Map(off.map((o) => [o.part, o])).values()];
}
