import { withoutChanges, type VehicleState } from "../../circuit/index.ts";
import { type Harness, isInnerPlace, linkOf, lookupOf, massesOf, partOfPlace, pinPlace, type PlaceId } from "../../harness/index.ts";
import { outOfBounds, refusalsOf, type Refusal } from "../../instruments/index.ts";
import { kindOf } from "../evidence/kinds/index.ts";
import { placesTouched } from "./cost.ts";
import type { Hypothesis } from "../hypotheses/space.ts";
import type { Belief } from "../belief/belief.ts";
import type { Oracle, Test } from "../predict/oracle.ts";
import { voltsIn } from "../simulate/row.ts";

/** What kind of act a test is, for its name and its place in the list. */
export type TestKind =
  | "measure"
  | "operate"
  | "lamp in place of fuse"
  | "unplug"
  | "load it"
  | "series lamp"
  | "bypass"
  | "ohms"
  | "give a ground"
  | "give a feed"
  | "ask modules"
  | "look"
  | "swap"
  | "renew fuse"
  | "wiggle"
  | "clamp";

export interface CandidateTest extends Test {
  readonly kind: TestKind;
}

/** What the shop can measure with. */
export const INSTRUMENTS = ["meter", "clamp", "scope", "test lamp", "scan tool", "fused lead", "known-good parts"] as const;
export type Instrument = (typeof INSTRUMENTS)[number];

export interface TestSetting {
  /** The state in which the complaint shows. */
  readonly state: VehicleState;
  /** Parts of the complaint. */
  readonly focus: readonly string[];
  readonly instruments: ReadonlySet<Instrument>;
  /** Share of the time that the complaint shows. */
  readonly presence: number;
}

/** A thing that holds this much of the belief is worth a lead at its ends, wherever it lies. */
const WORTH_A_LEAD = 0.01;

/** Places worth a lead: pins, cavities, fuses, studs on the way of the complaint, and the ends of what is suspected. Inside devices and out of bounds there are none. */
export function measurable(oracle: Oracle, belief: Belief): readonly PlaceId[] {
  const { harness, core, parts, repairs } = oracle.space;
  const found = new Set<PlaceId>();
  const suspected = repairs.flatMap((r) => (belief.repairs[r.index]! > WORTH_A_LEAD ? [r.element] : []));
  for (const id of [...core, ...suspected]) {
    const link = linkOf(harness, id);
    for (const p of link === undefined ? [] : [link.a, link.b]) found.add(p);
  }
  for (const id of parts) {
    const part = lookupOf(harness).parts.get(id);
    if (part?.kind === "fuse") found.add(pinPlace(id, "1")).add(pinPlace(id, "2"));
  }
  return [...found].filter((p) => {
    const part = partOfPlace(harness, p);
    // Bare metal, away from the studs, tells a bad stud from a bad strap.
    if (part === undefined) return massesOf(harness).some((m) => m === p);
    return outOfBounds(harness, p) === undefined && !isInnerPlace(p);
  });
}

/** Where the hands and the vehicle are. */
export interface VehicleSetup {
  readonly state: VehicleState;
  readonly accessible: ReadonlySet<string>;
}

/** A look takes the vehicle as it stands, with the engine stopped; a fuse is looked at as the complaint has it. */
export function lookAt(harness: Harness, at: string, complaint: VehicleState, { key, ...vehicleNow }: VehicleState): Test {
  const isFuse = lookupOf(harness).parts.get(at)?.kind === "fuse";
  const still: VehicleState = { ...vehicleNow, key: key === "crank" ? "run" : key, engine: "stopped" };
  return { state: isFuse ? complaint : still, observe: { kind: "look", at } };
}

/** A usual test lamp, W. */
export const LAMP_WATTS = 21;

/** A lamp in place of a fuse. */
export const lampFor = (state: VehicleState, fuse: string): CandidateTest => ({
  kind: "lamp in place of fuse",
  state: { ...state, opened: [...new Set([...state.opened, fuse])].sort() },
  observe: { kind: "lamp", red: `${fuse}.1`, black: `${fuse}.2`, watts: LAMP_WATTS },
});

/** Rules that the leads or hands of a test break. */
export const leadRefusals = (harness: Harness, { state, observe: o }: Test): readonly Refusal[] =>
  refusalsOf(harness, state, { kind: kindOf(o).act, places: placesTouched(o) });

/** The same with what is put on, fitted and unplugged for it; each rule once at a place. */
export function refusalsOfTest(harness: Harness, test: Test): readonly Refusal[] {
  const { state } = test;
  const made = [
    ...leadRefusals(harness, test),
    ...state.bridged.flatMap((pair) => refusalsOf(harness, { ...state, bridged: [] }, { kind: "jumper", places: pair, fused: true })),
    ...(state.lamps ?? []).flatMap(([p, q]) => refusalsOf(harness, { ...state, lamps: [] }, { kind: "lamp", places: [p, q] })),
    ...state.opened.flatMap((id) => refusalsOf(harness, withoutChanges(state), { kind: "unplug", places: [id] })),
  ];
  return [...new Map(made.map((r) => [`${r.rule} ${r.at}`, r])).values()];
}

/** A test that no rule forbids. */
export const isSafe = (oracle: Oracle, test: Test): boolean => leadRefusals(oracle.space.harness, test).length === 0;

/** V over a lead with a whole fuse in it at most: ten amperes and more through some hundredths of an ohm. */
const WHOLE_LEAD_VOLTS = 0.6;

/** Whether every lead that a test puts on keeps its fuse on a vehicle with this wrong (undefined: a sound one). What the model cannot say counts as not. */
export function leadsHold(
  oracle: Oracle,
  { state }: Test,
  put: readonly (readonly [string, string])[],
  of: Hypothesis | undefined,
): boolean {
  const view = oracle.view(state);
  const row = oracle.row(state, of);
  if (view === undefined || row === undefined || row.unsolved) return false;
  return put.every(([p, q]) => Math.abs(voltsIn(view, row, p, q) ?? Infinity) < WHOLE_LEAD_VOLTS);
}
