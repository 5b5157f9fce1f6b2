import { speaking, stateKey, type Fault, type VehicleState } from "../circuit/index.ts";
import { busLevel, isFreeInTime, type BusLevel, type BusSort } from "../devices/index.ts";
import {
  busMembersOf,
  extentOfLine,
  mayAsk,
  moduleGround,
  moduleSupply,
  pinPlace,
  type BusMember,
  type Harness,
} from "../harness/index.ts";
import { nodeAt, solveSteadyState, type Moment, type SteadyState } from "./steady-state.ts";

/** Which modules a module hears when they speak, by the levels at its own pins. */
export interface Talk {
  readonly bus: BusSort;
  readonly from: string;
  readonly to: string;
  readonly heard: boolean;
}

/**
 * Lets every module speak in turn, as its driver does, and looks whether the others see it: the level while it holds the line and the level while nobody
 * does must both be valid at the listener's pins. A module that nobody hears is silent, whatever the reason: no feed, no ground, a broken line, a line held by another.
 * `known`: what a module says where that need not be solved.
 */
export function busTalk(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  known: (speaker: BusMember) => readonly Talk[] | undefined = () => undefined,
): readonly Talk[] {
  const members = busMembersOf(harness);
  const isSound = faults.length === 0 && stateKey(state) === stateKey(ofWiring(state));
  const quiet = solveSteadyState(harness, state, faults, { phase: 1 }, () => []);
  return members.flatMap((speaker): readonly Talk[] => {
    const told = known(speaker);
    if (told !== undefined) return told;
    const speaks = whileSpeaking(harness, state, faults, speaker);
    const met = membersMet(harness, state, speaker, isSound ? speaks : undefined);
    return members
      .filter((m) => met.has(m))
      .map((listener): Talk => {
        const heard =
          quiet.kind === "steady" &&
          speaks !== undefined &&
          levelAt(quiet.moments[0]!, listener) === "recessive" &&
          levelAt(speaks.moments[0]!, listener) === "dominant" &&
          letsGo(harness, speaker, quiet.moments[0]!, speaks.moments[0]!);
        return { bus: speaker.sort, from: speaker.id, to: listener.id, heard };
      });
  });
}

/** Modules that are on a bus and that nobody there can talk with. */
export const silentModules = (harness: Harness, state: VehicleState, faults: readonly Fault[]): string[] =>
  silentIn(harness, busTalk(harness, state, faults));

/** The same from who hears whom. */
export function silentIn(harness: Harness, talk: readonly Talk[]): string[] {
  const speakers = [...new Set(talk.map((t) => t.from))];
  return speakers.filter((id) => !talk.some((t) => t.from === id && isAsked(harness, t) && talksBothWays(talk, t)));
}

/** A slave of a LIN line speaks only when the master asks it; elsewhere anybody may ask. */
const isAsked = (harness: Harness, { bus, from, to }: Talk): boolean => mayAsk(harness, bus, to, from);

const talksBothWays = (talk: readonly Talk[], { bus, from, to, heard }: Talk): boolean =>
  heard && talk.some((t) => t.bus === bus && t.from === to && t.to === from && t.heard);

/** Whether a module gets the messages of another: it must hear it, and on a LIN line the other must hear the header that asks for them. */
export function getsMessages(harness: Harness, talk: readonly Talk[], to: string, from: string): boolean {
  return talk.some((t) => t.from === from && t.to === to && (t.bus === "lin" && isAsked(harness, t) ? talksBothWays(talk, t) : t.heard));
}

function whileSpeaking(harness: Harness, state: VehicleState, faults: readonly Fault[], speaker: BusMember): SteadyState | undefined {
  const steady = solveSteadyState(harness, state, [...faults, speaking(harness, speaker, faults)], { phase: 1 }, () => []);
  return steady.kind === "steady" ? steady : undefined;
}

/** Awake and unplugged from nothing, so that only the wiring decides. */
const ofWiring = (state: VehicleState): VehicleState => ({ ...state, key: "run", asleep: [], opened: [] });

/**
 * Members of one bus with a speaker: in the sound circuit they hear it. `spoken`: the sound circuit while it speaks, where it is solved already.
 */
const meets = new WeakMap<Harness, Map<string, ReadonlySet<BusMember>>>();
function membersMet(harness: Harness, state: VehicleState, speaker: BusMember, spoken: SteadyState | undefined): ReadonlySet<BusMember> {
  const known = meets.get(harness) ?? new Map<string, ReadonlySet<BusMember>>();
  meets.set(harness, known);
  const key = `${speaker.id} ${speaker.pins.join()}`;
  const found = known.get(key);
  if (found !== undefined) return found;
  const speaks = spoken ?? whileSpeaking(harness, ofWiring(state), [], speaker);
  const others = busMembersOf(harness).filter((m) => m.sort === speaker.sort && m.id !== speaker.id);
  const met = new Set(speaks === undefined ? [] : others.filter((m) => levelAt(speaks.moments[0]!, m) === "dominant"));
  known.set(key, met);
  return met;
}

/** Whether a line is free in time once its speaker lets it go. */
function letsGo(harness: Harness, speaker: BusMember, free: Moment, held: Moment): boolean {
  const at = ({ circuit, point }: Moment): readonly number[] =>
    speaker.pins.map(
      (pin) => point.volts[nodeAt(circuit, pinPlace(speaker.id, pin))]! - point.volts[nodeAt(circuit, moduleGround(speaker.id))]!,
    );
  return isFreeInTime(speaker.sort, at(free), at(held), extentOfLine(harness, speaker));
}

function levelAt(m: Moment, { id, sort, pins }: BusMember): BusLevel | "asleep" {
  const awake = m.circuit.elementOf.get(`${id}.electronics`);
  if (awake === undefined || m.point.closed[awake] === 0) return "asleep";
  const volts = (place: string): number => m.point.volts[nodeAt(m.circuit, place)] ?? 0;
  const ground = volts(moduleGround(id));
  return busLevel(
    sort,
    pins.map((pin) => volts(pinPlace(id, pin)) - ground),
    volts(moduleSupply(id)) - ground,
  );
}
