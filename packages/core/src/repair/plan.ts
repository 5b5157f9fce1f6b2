import type { VehicleState } from "../circuit/index.ts";
import type { CaseAnswer, Evidence } from "../diagnosis/index.ts";
import { linksAt, lookupOf, onlyPlace, partNameIn, type Harness, type Wire } from "../harness/index.ts";
import { predictAll } from "../instruments/index.ts";
import type { RuleSet } from "../limits/index.ts";
import { damagedThing, damagePlaces, likelyDamage, type DamagedThing, type DamagePlace, type LikelyDamage } from "./damage.ts";
import { findOrOverlay, type Ways } from "./find-or-overlay.ts";
import { groundCandidates, type GroundCandidate } from "./ground-repair.ts";
import { checkPiece, fuseBefore, jointChoices, type JointChoice, type PieceChecked } from "./joint-plan.ts";
import { neighboursAtRisk } from "./neighbours.ts";
import { partProof, type PartProof } from "./part-proof.ts";
import { repairSteps, type RepairStep, type RepairWay } from "./steps.ts";

/** A repair that is being planned. */
export interface PlanQuestion {
  readonly at: string;
  readonly way: RepairWay;
  /** Segment of loom; "" while nobody has said. */
  readonly segment: string;
  /** Of a new piece of wire; the old one's where left out. mm² and m. */
  readonly areaMm2?: number | undefined;
  readonly lengthM?: number | undefined;
  /** In which the circuit carries its load. */
  readonly state: VehicleState;
  readonly rules: RuleSet;
  readonly highVoltage: boolean;
  /** The engine's answer to everything found; undefined while nothing was. */
  readonly answer: CaseAnswer | undefined;
  readonly evidence: readonly Evidence[];
}

export interface WirePlan {
  readonly areaMm2: number;
  readonly lengthM: number;
  /** What it carries on a sound vehicle in this state, A. */
  readonly amps: number;
  readonly fuse: { readonly id: string; readonly ratingAmps: number } | undefined;
  readonly joints: readonly JointChoice[];
  readonly piece: PieceChecked;
  readonly ways: Ways;
}

/** Everything that is to be known of a repair before it is done, as plain data. */
export interface RepairPlan {
  readonly thing: DamagedThing | undefined;
  readonly places: readonly DamagePlace[];
  readonly likely: readonly LikelyDamage[];
  readonly neighbours: readonly { readonly wire: string; readonly words: string; readonly risk: number; readonly why: readonly string[] }[];
  readonly wire: WirePlan | undefined;
  readonly grounds: readonly GroundCandidate[];
  readonly part: PartProof | undefined;
  readonly steps: readonly RepairStep[];
}

/** Joints that a new piece needs. */
const JOINTS = 2;

/** What the circuit and the engine know of a repair. A place that the circuit does not hold has a plan with nothing in it. */
export function repairPlan(harness: Harness, q: PlanQuestion): RepairPlan {
  const { at, way, segment, state, answer } = q;
  const { wires, parts } = lookupOf(harness);
  const thing = damagedThing(harness, at);
  const sound = predictAll(harness, state, []);
  const [volts, amps] = "volts" in sound ? [sound.volts, sound.amps] : [new Map<string, number | undefined>(), new Map<string, number>()];
  const wire = wires.get(at);
  const neighbours = neighboursAtRisk({
    harness,
    at,
    segment: segment === "" ? undefined : segment,
    suspected: new Map((answer?.suspects ?? []).map((s) => [s.element, s.probability])),
    volts,
  });
  const part = parts.get(partNameIn(at));
  return {
    thing,
    places: damagePlaces(harness, at),
    likely: likelyDamage(harness, at, segment === "" ? undefined : segment),
    neighbours: neighbours.map(({ wire: w, risk, why }) => ({ wire: w.id, words: wireWords(harness, w), risk, why })),
    wire: wire === undefined ? undefined : wirePlan(harness, wire, Math.abs(amps.get(wire.id) ?? 0), neighbours.length, q),
    grounds:
      thing === "ground"
        ? groundCandidates(
            harness,
            at,
            linksAt(harness, onlyPlace(at)).reduce((sum, l) => sum + (l.kind === "wire" ? Math.abs(amps.get(l.id) ?? 0) : 0), 0),
            state,
          )
        : [],
    part: thing === "part" && part !== undefined && part.kind !== "fuse" ? partProof(harness, part.id, answer, q.evidence) : undefined,
    steps: thing === undefined ? [] : repairSteps({ harness, at, way, highVoltage: q.highVoltage }),
  };
}

function wirePlan(harness: Harness, wire: Wire, amps: number, neighbours: number, q: PlanQuestion): WirePlan {
  const areaMm2 = q.areaMm2 ?? wire.areaMm2;
  const lengthM = q.lengthM ?? wire.lengthM;
  return {
    areaMm2,
    lengthM,
    amps,
    fuse: fuseBefore(harness, wire),
    joints: jointChoices(harness, wire, amps, q.segment === "" ? undefined : q.segment),
    piece: checkPiece({ harness, wire, areaMm2, lengthM, joints: JOINTS, amps, rules: q.rules }),
    ways: findOrOverlay({ harness, wire, segment: q.segment === "" ? undefined : q.segment, neighbours }),
  };
}

/** "W12 RD/GN 2.5 mm², C21.4b to HB1". */
const wireWords = (harness: Harness, w: Wire): string => {
  const ends = [w.from, w.to].map((e) =>
    e.pin === "1" && lookupOf(harness).parts.get(e.component)?.kind !== "connector" ? e.component : `${e.component}.${e.pin}`,
  );
  return `${w.colour ?? ""} ${w.areaMm2} mm², ${ends.join(" to ")}`.trim();
};
