import { HEAVY_CABLE_MM2 } from "../../devices/index.ts";
import type { VehicleState } from "../../circuit/index.ts";
import { consumes, type Harness, type Hop, type Link, lookupOf, pathOfLoad, type PlaceId } from "../../harness/index.ts";
import type { Prediction } from "../../instruments/index.ts";
import { predictionIn } from "./predictions.ts";
import { limitVolts, type PathKind, type RuleSet } from "../../limits/index.ts";

/** One step of the staircase: what lies between two neighbouring places of the path. */
export interface Step {
  readonly link: Link;
  readonly side: "feed" | "load" | "ground";
  readonly from: PlaceId;
  readonly to: PlaceId;
  /** What a sound circuit drops here in this state, V. */
  readonly soundDropVolts: number;
  /** Current that a sound circuit passes here in this state, A, positive from battery positive to negative. */
  readonly soundAmps: number;
  /** What the chosen rule set allows here, V; undefined for the load itself. */
  readonly limitVolts: number | undefined;
}

/** The path of one load laid out from battery positive to battery negative. */
export interface Staircase {
  readonly kind: "staircase";
  readonly loadId: string;
  /** n + 1 places around n steps. */
  readonly places: readonly PlaceId[];
  readonly steps: readonly Step[];
  /** V against battery negative by place; undefined where a sound circuit leaves the place floating in this state. */
  readonly soundVolts: readonly (number | undefined)[];
  /** Current through the load in a sound circuit in this state, A. */
  readonly loadAmps: number;
  readonly rules: RuleSet;
}

export type StaircaseResult = Staircase | { readonly kind: "no staircase"; readonly message: string };

/** Lays out the path of a load with what the model predicts for a sound circuit. `sourceVolts`: measured at the battery. */
export function buildStaircase(
  harness: Harness,
  state: VehicleState,
  loadId: string,
  rules: RuleSet,
  sourceVolts?: number,
): StaircaseResult {
  const path = pathOfLoad(harness, loadId);
  if (path.kind === "no battery") return { kind: "no staircase", message: "The circuit has no battery." };
  if (path.kind !== "path") return { kind: "no staircase", message: `${path.place} is not joined to the battery: ${path.kind}.` };
  const prediction = predictionIn(harness, state, [], sourceVolts);
  if (!("volts" in prediction)) return { kind: "no staircase", message: "The circuit has no operating point in this state." };
  const hops: readonly (readonly [Hop, Step["side"]])[] = [
    ...path.feed.map((h) => [h, "feed"] as const),
    [path.load, "load"] as const,
    ...path.ground.map((h) => [h, "ground"] as const),
  ];
  const steps = hops.map(([hop, side]) => stepOf(harness, state, hop, side, prediction, rules));
  return {
    kind: "staircase",
    loadId,
    places: [steps[0]!.from, ...steps.map((s) => s.to)],
    steps,
    soundVolts: [steps[0]!.from, ...steps.map((s) => s.to)].map((p) => prediction.volts.get(p)),
    loadAmps: steps.find((s) => s.side === "load")!.soundAmps,
    rules,
  };
}

function stepOf(harness: Harness, state: VehicleState, hop: Hop, side: Step["side"], prediction: Prediction, rules: RuleSet): Step {
  const through = prediction.amps.get(hop.link.id) ?? 0;
  const from = prediction.volts.get(hop.from);
  const to = prediction.volts.get(hop.to);
  return {
    link: hop.link,
    side,
    from: hop.from,
    to: hop.to,
    soundDropVolts: from === undefined || to === undefined ? 0 : from - to,
    soundAmps: hop.from === hop.link.a ? through : -through,
    limitVolts:
      side === "load" || consumes(hop.link)
        ? undefined
        : limitVolts(pathKindOf(harness, state, hop.link, side), rules, harness.nominalVolts),
  };
}

function pathKindOf(harness: Harness, state: VehicleState, link: Link, side: Step["side"]): PathKind {
  switch (link.kind) {
    case "wire": {
      const heavy = (lookupOf(harness).wires.get(link.id)?.areaMm2 ?? 0) >= HEAVY_CABLE_MM2;
      if (!heavy || state.engine !== "cranking") return "wire";
      return side === "ground" ? "engine to negative, cranking" : "positive to starter, cranking";
    }
    case "switch":
    case "fuse":
    case "device":
      return "wire";
    case "cavity":
    case "ground":
    case "joint":
      return "joint";
    case "load":
      throw new RangeError("a load has no limit");
  }
}

/** How far estimated lengths and contacts may be off before a drop over several steps speaks against one of them. */
const ESTIMATE_TOLERANCE = 1.25;
/** The same for one step, where the computed drop may itself exceed the rule. */
const MODEL_TOLERANCE = 1.5;

/**
 * The drop up to which a stretch counts as sound, V. One step: its rule, or what a sound conductor drops here with some room, whichever is more.
 * Several steps: what they drop when sound, with some room, plus what the rule leaves to the tightest of them; a ground side never has more
 * than its own rule. `soundDrops`: computed drop of each step at the current that flowed. Undefined when the load is inside.
 */
export function allowedOver(
  harness: Harness,
  state: VehicleState,
  rules: RuleSet,
  steps: readonly Step[],
  soundDrops: readonly number[],
): number | undefined {
  const limits: number[] = [];
  for (const s of steps) {
    if (s.limitVolts === undefined) return undefined;
    limits.push(s.limitVolts);
  }
  if (steps.length === 1) return Math.max(limits[0]!, MODEL_TOLERANCE * soundDrops[0]!);
  const sound = soundDrops.reduce((sum, v) => sum + v, 0);
  const room = Math.min(...limits.map((limit, i) => Math.max(limit - soundDrops[i]!, (MODEL_TOLERANCE - 1) * soundDrops[i]!)));
  const allowed = ESTIMATE_TOLERANCE * sound + room;
  if (!steps.every((s) => s.side === "ground")) return allowed;
  const cranking = state.engine === "cranking";
  const whole = limitVolts(cranking ? "engine to negative, cranking" : "ground side", rules, harness.nominalVolts);
  return Math.min(allowed, Math.max(whole, ESTIMATE_TOLERANCE * sound));
}
