import { talking, type Fault, type VehicleState } from "../circuit/index.ts";
import { busMembersOf, linMasterAt, netAt, pinPlace, type BusMember, type Harness } from "../harness/index.ts";
import { canFrameBits, linHeaderRuns, linResponseRuns } from "../waveform/index.ts";
import { busTalk, getsMessages, type Talk } from "./bus.ts";
import { awakeModules } from "./scan.ts";
import type { Probe } from "./scope.ts";

/** Bits a second. */
const LIN_BAUD = 19_200;
const CAN_BAUD = 500_000;
/** Normal speed of single-wire CAN (SAE J2411). */
const WIRE_BAUD = 33_333;
/** When the first frame begins, and from one to the next on a line, s: a handful close together, then few, since every edge is solved. */
const FIRST_S = 0.5e-3;
const LIN_EVERY_S = 10e-3;
const CAN_EVERY_S = 1e-3;
const WIRE_EVERY_S = 6e-3;
const CLOSE_TOGETHER = 5;
const LATER_EVERY_S = 0.1;
/** From the end of a header to the answer, bits. */
const RESPONSE_BITS = 2;
/** Identifiers: on LIN from here on by slave, on CAN by module, sixteen apart. */
const FIRST_LIN_ID = 0x10;
const FIRST_CAN_ID = 0x100;
/** Dominant bits by which a module says that nobody has answered its frame. */
const ERROR_FLAG_BITS = 6;

/**
 * What modules say on the lines that a scope is on, as changes of their settings beside `faults`: on LIN the master's headers, and the answer of each slave that gets them; on CAN a
 * frame of each module that is awake, answered by another that hears it, else followed by an error flag, and the same frames on a single wire. Nothing where no probe is on a bus.
 */
export function busFrames(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  probes: readonly Probe[],
  seconds: number,
): readonly Fault[] {
  const nets = new Set(
    probes.flatMap(({ at }) => ("red" in at ? [netAt(harness, at.red), netAt(harness, at.black)] : [])).filter((n) => n !== undefined),
  );
  const lines = linesOf(harness).filter((line) =>
    line.some(({ id, pins }) => pins.some((pin) => nets.has(netAt(harness, pinPlace(id, pin))!))),
  );
  if (lines.length === 0) return [];
  const awake = awakeModules(harness, state, faults);
  const talk = busTalk(harness, state, faults);
  const turns = new Map<string, Map<string, readonly number[]>>();
  const say = ({ id, pins }: BusMember, times: readonly number[]): void => {
    const own = turns.get(id) ?? new Map<string, readonly number[]>();
    turns.set(id, own);
    for (const pin of pins) own.set(pin, times);
  };
  for (const line of lines) {
    const said = new Map<BusMember, number[]>(line.map((m) => [m, []]));
    if (line[0]!.sort === "lin") linFrames(harness, line, awake, talk, seconds, said);
    if (line[0]!.sort !== "lin") canFrames(line, awake, talk, seconds, said);
    for (const [member, times] of said) say(member, times);
  }
  return [...turns].map(([id, of]) => talking(harness, id, of, faults));
}

/** When frames begin, s. */
function startsWithin(seconds: number, everyS: number): readonly number[] {
  const starts: number[] = [];
  for (let at = FIRST_S; at < seconds; at += starts.length < CLOSE_TOGETHER ? everyS : LATER_EVERY_S) starts.push(at);
  return starts;
}

/** Whether a place is on the line of a bus. */
export const isOnBus = (harness: Harness, place: string): boolean => {
  const net = netAt(harness, place);
  return net !== undefined && busMembersOf(harness).some((m) => m.pins.some((pin) => netAt(harness, pinPlace(m.id, pin)) === net));
};

/** Modules by the identifiers that a simulated vehicle's frames have, on the line of a place. */
export function frameSenders(harness: Harness, place: string): ReadonlyMap<number, string> {
  const net = netAt(harness, place);
  const line = linesOf(harness).find((l) => l.some((m) => m.pins.some((pin) => netAt(harness, pinPlace(m.id, pin)) === net)));
  if (net === undefined || line === undefined) return new Map();
  if (line[0]!.sort !== "lin") return new Map(line.map((m, i) => [FIRST_CAN_ID + 16 * i, m.id]));
  const master = linMasterAt(harness, place);
  return new Map(line.filter((m) => m.id !== master?.id).map((m, i) => [FIRST_LIN_ID + i, m.id]));
}

/** Members of each line, in the order of the harness. */
function linesOf(harness: Harness): readonly (readonly BusMember[])[] {
  const lines = new Map<object, BusMember[]>();
  for (const member of busMembersOf(harness)) {
    const net = netAt(harness, pinPlace(member.id, member.pins[0]!));
    if (net === undefined) continue;
    const line = lines.get(net) ?? [];
    line.push(member);
    lines.set(net, line);
  }
  return [...lines.values()];
}

function linFrames(
  harness: Harness,
  line: readonly BusMember[],
  awake: ReadonlySet<string>,
  talk: readonly Talk[],
  seconds: number,
  said: Map<BusMember, number[]>,
): void {
  const master = linMasterAt(harness, pinPlace(line[0]!.id, line[0]!.pins[0]!));
  const asker = line.find((m) => m.id === master?.id);
  const slaves = line.filter((m) => m !== asker);
  if (asker === undefined || slaves.length === 0 || !awake.has(asker.id)) return;
  const bit = 1 / LIN_BAUD;
  for (const [n, at] of startsWithin(seconds, LIN_EVERY_S).entries()) {
    const [index, slave] = [n % slaves.length, slaves[n % slaves.length]!];
    const id = FIRST_LIN_ID + index;
    const end = put(said.get(asker)!, at, linHeaderRuns(id), bit);
    if (!awake.has(slave.id) || !getsMessages(harness, talk, slave.id, asker.id)) continue;
    put(said.get(slave)!, end + RESPONSE_BITS * bit, linResponseRuns(id, [index, Math.floor(n / slaves.length) & 0xff]), bit);
  }
}

function canFrames(
  line: readonly BusMember[],
  awake: ReadonlySet<string>,
  talk: readonly Talk[],
  seconds: number,
  said: Map<BusMember, number[]>,
): void {
  const speakers = line.filter((m) => awake.has(m.id));
  const bus = line[0]!.sort;
  const [bit, everyS] = bus === "can" ? [1 / CAN_BAUD, CAN_EVERY_S] : [1 / WIRE_BAUD, WIRE_EVERY_S];
  if (speakers.length === 0) return;
  for (const [n, at] of startsWithin(seconds, everyS).entries()) {
    const speaker = speakers[n % speakers.length]!;
    const id = FIRST_CAN_ID + 16 * line.indexOf(speaker);
    const { bits, ackAt } = canFrameBits(id, [line.indexOf(speaker), Math.floor(n / speakers.length) & 0xff]);
    const answers = speakers.find(
      (m) => m !== speaker && talk.some((t) => t.bus === bus && t.from === speaker.id && t.to === m.id && t.heard),
    );
    const runs = bits.map((b) => [b === 1, 1] as const);
    if (answers === undefined) {
      // It sees that nobody has, and says so behind the answer's delimiter.
      const whole = [...runs.slice(0, ackAt + 2), [true, ERROR_FLAG_BITS] as const, [false, 8 + 3] as const];
      put(said.get(speaker)!, at, whole, bit);
      continue;
    }
    put(said.get(speaker)!, at, runs, bit);
    put(said.get(answers)!, at + ackAt * bit, [[true, 1]], bit);
  }
}

/** Adds the turns of levels one after the other, from a time on, and gives when they end. */
function put(turns: number[], startS: number, runs: readonly (readonly [isDominant: boolean, bits: number])[], bitS: number): number {
  let at = startS;
  let was = false;
  for (const [isDominant, bits] of runs) {
    if (isDominant !== was) turns.push(at);
    was = isDominant;
    at += bits * bitS;
  }
  if (was) turns.push(at);
  return at;
}
