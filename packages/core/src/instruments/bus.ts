import type { Fault, VehicleState } from "../circuit/index.ts";
import { LIN_DOMINANT_SHARE, LIN_RECESSIVE_SHARE } from "../devices/index.ts";
import { type Device, deviceOf, type Harness } from "../harness/index.ts";
import { nodeAt, solveSteadyState, type Moment, type SteadyState } from "./steady-state.ts";

type BusSort = "can" | "lin" | "single wire";

interface Member {
  readonly id: string;
  readonly sort: BusSort;
  /** One pin, or CAN high and CAN low. */
  readonly pins: readonly string[];
}

/** Which modules a module hears when they speak, by the levels at its own pins. */
export interface Talk {
  readonly bus: BusSort;
  readonly from: string;
  readonly to: string;
  readonly heard: boolean;
}

/** CAN receivers: dominant above 0.9 V between the lines, recessive below 0.5 V (ISO 11898-2). */
const CAN_DOMINANT_VOLTS = 0.9;
const CAN_RECESSIVE_VOLTS = 0.5;
/** Single-wire receivers: half of the sent level. */
const WIRE_THRESHOLD_VOLTS = 2;

interface PinView {
  readonly sort: string;
}
const pinsOf = (part: Device): Record<string, PinView> => (deviceOf(part).settings as { pins?: Record<string, PinView> }).pins ?? {};

function membersOf(harness: Harness): Member[] {
  return harness.components.flatMap((part): Member[] => {
    if (part.kind !== "device" || part.device !== "module") return [];
    const pins = Object.entries(pinsOf(part));
    const named = (sort: string): string[] => pins.flatMap(([name, p]) => (p.sort === sort ? [name] : []));
    const [high, low] = [named("can high"), named("can low")];
    return [
      ...high.slice(0, low.length).map((h, i): Member => ({ id: part.id, sort: "can", pins: [h, low[i]!] })),
      ...named("lin").map((pin): Member => ({ id: part.id, sort: "lin", pins: [pin] })),
      ...named("single wire").map((pin): Member => ({ id: part.id, sort: "single wire", pins: [pin] })),
    ];
  });
}

/**
 * Lets every module speak in turn, as its driver does, and looks whether the others see it: the level while it holds the line and the level while nobody
 * does must both be valid at the listener's pins. A module that nobody hears is silent, whatever the reason: no feed, no ground, a broken line, a line held by another.
 */
export function busTalk(harness: Harness, state: VehicleState, faults: readonly Fault[]): Talk[] {
  const members = membersOf(harness);
  const quiet = solveSteadyState(harness, state, faults, { phase: 1 }, () => []);
  return members.flatMap((speaker) => {
    const speaks = speaking(harness, state, faults, speaker);
    return members
      .filter((m) => m.sort === speaker.sort && m.id !== speaker.id && mayMeet(harness, state, speaker, m))
      .map((listener): Talk => {
        const heard =
          quiet.kind === "steady" &&
          speaks !== undefined &&
          levelAt(quiet.moments[0]!, listener) === "recessive" &&
          levelAt(speaks.moments[0]!, listener) === "dominant";
        return { bus: speaker.sort, from: speaker.id, to: listener.id, heard };
      });
  });
}

/** Modules that are on a bus and heard by none of its members. */
export function silentModules(harness: Harness, state: VehicleState, faults: readonly Fault[]): string[] {
  const talk = busTalk(harness, state, faults);
  const speakers = [...new Set(talk.map((t) => t.from))];
  return speakers.filter((id) => talk.every((t) => t.from !== id || !t.heard));
}

function speaking(harness: Harness, state: VehicleState, faults: readonly Fault[], speaker: Member): SteadyState | undefined {
  const part = harness.components.find((c) => c.id === speaker.id) as Device;
  // What a fault has already done to this module stays; its drivers are held on top of it.
  const settings = {
    ...deviceOf(part).settings,
    ...faults.flatMap((f) => (f.kind === "settings" && f.component === part.id ? [f.settings] : []))[0],
  };
  const pins = { ...(settings as { pins: Record<string, object> }).pins };
  for (const pin of speaker.pins) pins[pin] = { ...pins[pin], holds: true };
  const held: Fault = { kind: "settings", component: part.id, settings: { ...settings, pins } };
  const steady = solveSteadyState(harness, state, [...faults, held], { phase: 1 }, () => []);
  return steady.kind === "steady" ? steady : undefined;
}

/** Members of one bus: in the sound circuit one hears the other. */
const meets = new WeakMap<Harness, Map<string, boolean>>();
function mayMeet(harness: Harness, state: VehicleState, speaker: Member, listener: Member): boolean {
  const known = meets.get(harness) ?? new Map<string, boolean>();
  meets.set(harness, known);
  const key = `${speaker.id} ${speaker.pins.join()} ${listener.id} ${listener.pins.join()}`;
  const found = known.get(key);
  if (found !== undefined) return found;
  // Awake and unplugged from nothing, so that only the wiring decides.
  const speaks = speaking(harness, { ...state, key: "run", asleep: [], opened: [] }, [], speaker);
  const heard = speaks !== undefined && levelAt(speaks.moments[0]!, listener) === "dominant";
  known.set(key, heard);
  return heard;
}

function levelAt(m: Moment, { id, sort, pins }: Member): "dominant" | "recessive" | "between" | "asleep" {
  const volts = (node: string): number => m.point.volts[nodeAt(m.circuit, `${id}.${node}`)] ?? 0;
  const awake = m.circuit.elementOf.get(`${id}.electronics`);
  if (awake === undefined || m.point.closed[awake] === 0) return "asleep";
  const ground = volts("~ground");
  if (sort === "can") {
    const apart = volts(pins[0]!) - volts(pins[1]!);
    return apart > CAN_DOMINANT_VOLTS ? "dominant" : apart < CAN_RECESSIVE_VOLTS ? "recessive" : "between";
  }
  const level = volts(pins[0]!) - ground;
  if (sort === "single wire") return level > WIRE_THRESHOLD_VOLTS ? "dominant" : "recessive";
  const share = level / Math.max(0.1, volts("~supply") - ground);
  return share > LIN_RECESSIVE_SHARE ? "recessive" : share < LIN_DOMINANT_SHARE ? "dominant" : "between";
}
