import type { VehicleState } from "../../circuit/index.ts";
import { batteryNegative, batteryPositive, type Harness, partNameIn } from "../../harness/index.ts";
import type { Stretch, PathJudgement } from "./judge.ts";

/** Where to put the leads next, to narrow what is left. */
export interface NextLeads {
  readonly red: string;
  readonly black: string;
  readonly reason: "battery first" | "tie the reference" | "voltage at the load" | "ground of the load" | "split" | "closer";
}

export type PathVerdict =
  | { readonly kind: "nothing measured" | "battery not measured" }
  /** No current would flow even in a sound circuit. `close`: hand switches and key positions that would load it. */
  | { readonly kind: "unloaded"; readonly close: readonly string[] }
  | { readonly kind: "reference"; readonly black: string; readonly reading: string }
  | { readonly kind: "found"; readonly stretch: Stretch }
  | { readonly kind: "narrowed"; readonly stretch: Stretch }
  | { readonly kind: "unclear"; readonly stretch: Stretch }
  | { readonly kind: "part of the path"; readonly stretches: readonly Stretch[] }
  | { readonly kind: "path sound"; readonly loadVolts: number };

export interface PathAnswer {
  readonly verdict: PathVerdict;
  readonly next: NextLeads | undefined;
  /** More suspects than the one in the verdict. */
  readonly others: readonly Stretch[];
}

/** What the judged readings say as a whole, and what to measure next. */
export function answerPath(harness: Harness, state: VehicleState, trace: PathJudgement): PathAnswer {
  const minus = batteryNegative(harness);
  const plus = batteryPositive(harness);
  const { staircase, stretches } = trace;
  const note = trace.referenceNotes[0];
  const suspects = stretches
    .filter((s) => s.verdict === "suspect")
    .sort((p, q) => q.dropVolts - q.soundDropVolts - (p.dropVolts - p.soundDropVolts));
  const worst = suspects[0];
  const answer = (verdict: PathVerdict, next?: NextLeads): PathAnswer => ({ verdict, next, others: suspects.slice(1) });

  if (Math.abs(staircase.loadAmps) < 1e-4) {
    return answer({ kind: "unloaded", close: whatWouldLoad(harness, state, trace) });
  }
  if (note !== undefined && (worst === undefined || worst.readings.includes(note.reading))) {
    // What rests on a reference that nobody measured is not judged yet.
    return answer(
      { kind: "reference", black: note.black, reading: note.reading },
      { red: note.black, black: minus, reason: "tie the reference" },
    );
  }
  if (worst !== undefined) {
    const split = splitOf(trace, worst);
    if (worst.steps.length === 1 || split === undefined) return answer({ kind: "found", stretch: worst });
    return answer({ kind: "narrowed", stretch: worst }, split);
  }
  if (trace.batteryVolts === undefined) {
    const kind =
      stretches.length === 0 && trace.measuredVolts.every((v, i) => v === undefined || staircase.places[i] === minus)
        ? "nothing measured"
        : "battery not measured";
    return answer({ kind }, { red: plus, black: minus, reason: "battery first" });
  }
  const unclear = stretches.find(
    (s) => s.why === "too close to call" || s.why === "rises along the path" || s.why === "too little current",
  );
  if (unclear !== undefined) {
    return answer({ kind: "unclear", stretch: unclear }, { red: unclear.fromPlace, black: unclear.toPlace, reason: "closer" });
  }
  const load = staircase.steps.findIndex((s) => s.side === "load");
  const feedVolts = trace.measuredVolts[load];
  const groundVolts = trace.measuredVolts[load + 1];
  if (feedVolts === undefined) {
    return answer({ kind: "part of the path", stretches }, { red: staircase.places[load]!, black: minus, reason: "voltage at the load" });
  }
  if (groundVolts === undefined) {
    return answer(
      { kind: "part of the path", stretches },
      { red: staircase.places[load + 1]!, black: minus, reason: "ground of the load" },
    );
  }
  return answer({ kind: "path sound", loadVolts: feedVolts - groundVolts });
}

/** The middle of a stretch that holds more than one step, measured against battery negative. */
function splitOf(trace: PathJudgement, stretch: Stretch): NextLeads | undefined {
  if (stretch.steps.length < 2) return undefined;
  const { places } = trace.staircase;
  const middle = stretch.steps[stretch.steps.length >> 1]!;
  const candidates = [middle, ...stretch.steps.slice(1)].filter((i) => trace.measuredVolts[i] === undefined);
  const at = candidates[0];
  const minus = places.at(-1)!;
  return at === undefined ? undefined : { red: places[at]!, black: minus, reason: "split" };
}

/** Switches on the path that are open in this state, and parts that were opened. */
function whatWouldLoad(harness: Harness, state: VehicleState, trace: PathJudgement): string[] {
  const found: string[] = [];
  for (const step of trace.staircase.steps) {
    const part = harness.components.find((c) => c.id === step.link.id);
    if (part?.kind === "switch") {
      if (part.closedBy === "hand" && !state.on.includes(part.id)) found.push(`${part.id} on`);
      if (part.closedBy === "accessory" && state.key !== "accessory" && state.key !== "run") found.push("key to accessory or run");
      if (part.closedBy === "run" && state.key !== "run" && state.key !== "crank") found.push("key to run");
      if (part.closedBy === "crank" && state.key !== "crank") found.push("key to crank");
    }
    const owner = step.link.kind === "cavity" ? partNameIn(step.link.id) : step.link.id;
    if (state.opened.includes(owner) && !found.includes(`${owner} back in`)) found.push(`${owner} back in`);
  }
  return found;
}
