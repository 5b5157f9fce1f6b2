import { MOVED_FROM, type Capture, type PracticeWorld, type Simulate, type SimulateLook } from "@rheonom/contract/api";
import type { Looked, Simulated } from "@rheonom/contract/light";
import type { Fault } from "@rheonom/core/circuit";
import { coloursAt, inWords, isAt, resultWords, toolsFor, WIRE_COLOUR, type Instrument } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { displayText, predictReading, predictTraces, throughScope } from "@rheonom/core/instruments";
import { foldJob, minutesOfTests, observedBy, type JobView, type LogEntry } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import { asBuilt, chanceOf, endsFault, isMovedWith, peopleWhoErr, resultOf, truthFrom } from "@rheonom/core/practice";
import type { Trace } from "@rheonom/core/waveform";
import { AppError } from "../errors.ts";

/**
 * Takes a reading on the simulated vehicle of a demo job: the job's circuit with its hidden fault, until a mend names the
 * faulty part. `chance`: numbers from 0 to below 1 for what happens while something is moved. Throws AppError no-stand-in, no-circuit or place-unknown.
 */
export function simulateReading(entries: readonly LogEntry[], hidden: HiddenOrNone, ask: Simulate, chance: () => number): Simulated {
  const { harness, faults: left } = standInOf(entries, hidden, toolsFor({ state: ask.state, observe: observedBy(ask.leads) }), ask.moving);
  const faults = left.map((f) => moved(harness, f, ask.moving, chance));
  try {
    const reading = predictReading(harness, ask.state, faults, ask.leads);
    switch (reading.kind) {
      case "value":
        return { kind: "value", text: displayText(reading.quantity, reading.value), message: "" };
      case "over":
        return { kind: "over", text: "OL", message: "" };
      case "void":
        return {
          kind: "void",
          text: "",
          message:
            reading.why === "live"
              ? "There is voltage between the leads, so ohms would prove nothing. Switch off and disconnect the feed."
              : "This is an igniter. No instrument may touch it.",
        };
      case "unsolved":
        throw new AppError("place-unknown", {
          why:
            reading.between === undefined
              ? `The circuit has no answer at ${reading.at}`
              : `The reading swings from ${reading.between.map((v) => v.toFixed(1)).join(" to ")}: ${reading.at} opens and closes without end`,
        });
    }
  } catch (error) {
    if (error instanceof RangeError) throw new AppError("place-unknown", { why: error.message });
    throw error;
  }
}

/** How long a running vehicle has settled before a recording begins, s. */
const SETTLED_S = 0.03;

/**
 * Records the simulated vehicle of a demo job with a scope: the same circuit with the same fault, through the scope's steps and noise. Throws what `simulateReading` does.
 */
export function simulateCapture(
  entries: readonly LogEntry[],
  hidden: HiddenOrNone,
  { state, probes, seconds, rateHz, moving }: Capture,
  chance: () => number,
  onProgress?: (share: number) => void,
): Trace {
  const { harness, faults } = standInOf(entries, hidden, ["scope"], moving);
  const shaken = moving === undefined ? [] : faults.flatMap((f) => (f.kind === "series" && isAt(harness, f.link, moving) ? [f.link] : []));
  const recording = {
    seconds,
    resolutionS: 1 / rateHz,
    delayS: state.engine === "stopped" ? 0 : SETTLED_S,
    shaken: shaken.map((link) => ({ link, turnsS: breaksBetween(MOVED_FROM * seconds, seconds, chance) })),
  };
  try {
    const traces = predictTraces(harness, state, faults, probes, recording, onProgress);
    if (traces.kind === "void") throw new AppError("place-unknown", { why: "This is an igniter. No instrument may touch it" });
    if (traces.kind === "unsolved")
      throw new AppError("place-unknown", { why: `The circuit has no answer after ${traces.atS.toPrecision(3)} s` });
    return {
      startS: 0,
      rateHz,
      count: traces.channels[0]!.length,
      channels: traces.channels.map((values, k) => {
        const { at } = probes[k]!;
        return { name: "red" in at ? at.red : `clamp ${at.around}`, unit: "red" in at ? "V" : "A", samples: throughScope(values, chance) };
      }),
    };
  } catch (error) {
    if (error instanceof RangeError) throw new AppError("place-unknown", { why: error.message });
    throw error;
  }
}

/** What is really wrong, and in which world; without truth for a vehicle that is no simulated one. */
export interface HiddenOrNone {
  readonly truth: readonly Fault[] | undefined;
  readonly world?: PracticeWorld | undefined;
}

/** The diagram that the simulated vehicle of a job was made by: of one to practise on the first, as what is changed in a diagram changes no vehicle. Undefined without a circuit. */
export function drawnFirst(entries: readonly LogEntry[], view: JobView, world: PracticeWorld | undefined): Harness | undefined {
  const first = entries.find((e) => e.type === "circuit-set");
  const notation = world === undefined || first === undefined ? view.circuit?.notation : first.data.notation;
  return notation === undefined ? undefined : parseNotation(notation).harness;
}

/** The simulated vehicle of a job: as drawn, but for the place where the diagram is wrong. */
export function vehicleOf(entries: readonly LogEntry[], view: JobView, world: PracticeWorld | undefined): Harness | undefined {
  const drawn = drawnFirst(entries, view, world);
  return drawn === undefined ? undefined : asBuilt(drawn, world?.misdrawn);
}

/** Throws AppError practice-tool where one of them may not be used. */
export function checkTools(view: JobView, tools: readonly Instrument[]): void {
  const tool = tools.find((t) => view.practice?.without?.includes(t));
  if (tool !== undefined) throw new AppError("practice-tool", { tool });
}

function standInOf(
  entries: readonly LogEntry[],
  hidden: HiddenOrNone,
  tools: readonly Instrument[],
  moving?: string,
): { readonly harness: Harness; readonly faults: readonly Fault[]; readonly drawn: Harness } {
  const view = foldJob(entries);
  if (hidden.truth === undefined || view === undefined) throw new AppError("no-stand-in");
  checkTools(view, tools);
  const harness = vehicleOf(entries, view, hidden.world);
  if (harness === undefined) throw new AppError("no-circuit");
  const drawn = view.circuit === undefined ? undefined : parseNotation(view.circuit.notation).harness;
  return { harness, faults: faultsNow(view, harness, hidden, entries.length, moving), drawn: drawn ?? harness };
}

/** Those of the faults left that are there after so many entries of the log: what comes and goes may be away, but moving its spot brings it about. */
export function faultsNow(
  view: JobView,
  harness: Harness,
  hidden: HiddenOrNone,
  entries: number,
  moving: string | undefined,
): readonly Fault[] {
  const { truth, world } = hidden;
  const left = faultsLeft(view, harness, hidden);
  const isMoved = moving !== undefined && (truth ?? []).some((f) => f.kind !== "lead" && isMovedAt(harness, f, moving));
  const isYet = world?.afterMinutes === undefined || minutesOfTests(harness, view) >= world.afterMinutes;
  if (isMoved || (isYet && isPresent(world, entries))) return left;
  const beside = new Set((world?.beside ?? []).map((f) => JSON.stringify(f)));
  return left.filter((f) => beside.has(JSON.stringify(f)));
}

/** What is still wrong with the simulated vehicle of a demo job: its hidden faults that no repair has named, and what is wrong beside them. */
export const faultsLeft = (view: JobView, harness: Harness, { truth, world }: HiddenOrNone): readonly Fault[] =>
  [...(truth ?? []), ...(world?.beside ?? [])].filter((f) => !isMended(f, view, harness));

/** What comes and goes stays as it is for so many entries of the log. */
const STAYS_ENTRIES = 4;

/** Whether a fault that comes and goes is there now: the same for everybody who asks at the same point of the log. */
function isPresent(world: PracticeWorld | undefined, entries: number): boolean {
  if (world === undefined || world.presence >= 1) return true;
  return chanceOf(world.seed + Math.floor(entries / STAYS_ENTRIES))() < world.presence;
}

const isMovedAt = (harness: Harness, fault: Fault, moving: string): boolean => isMovedWith(harness, truthFrom(harness, fault), moving);

/**
 * What eyes, ears and hands find at the simulated vehicle of a demo job. People miss what they miss. Throws AppError no-stand-in, no-circuit or place-unknown.
 */
export function simulateLooking(
  entries: readonly LogEntry[],
  hidden: HiddenOrNone,
  { state, observe }: SimulateLook,
  chance: () => number,
): Looked {
  const { harness, faults, drawn } = standInOf(entries, hidden, toolsFor({ state, observe }));
  const people = peopleWhoErr(1);
  if (observe.kind === "check" && observe.what === WIRE_COLOUR) {
    const isOther = coloursAt(drawn, observe.at).join() !== coloursAt(harness, observe.at).join();
    return {
      word: isOther && chance() >= people.colourMissed ? "otherwise" : "as it should be",
      text: coloursAt(harness, observe.at).join(", "),
    };
  }
  const all = faults.map((f) => truthFrom(harness, f));
  try {
    const result = resultOf(harness, { state, observe }, all, true, chance, people);
    switch (result.kind) {
      case "word":
        return { word: result.word, text: inWords(resultWords(observe, result)) };
      case "value":
        return { value: result.value, text: inWords(resultWords(observe, result)) };
      default:
        throw new AppError("place-unknown", { why: "Nothing can be said of that in this state" });
    }
  } catch (error) {
    if (error instanceof RangeError) throw new AppError("place-unknown", { why: error.message });
    throw error;
  }
}

/** For how long a bad joint breaks and holds while it is moved, s, from and to. */
const BROKEN_S = [0.001, 0.03] as const;
const HOLDS_S = [0.01, 0.12] as const;

/** When a joint that is moved breaks and closes again, s, by turns. */
function breaksBetween(fromS: number, toS: number, chance: () => number): readonly number[] {
  const lasts = ([least, most]: readonly [number, number]): number => least + (most - least) * chance();
  const turns: number[] = [];
  for (let at = fromS + lasts(HOLDS_S); at < toS;) {
    const closes = at + lasts(BROKEN_S);
    turns.push(at, Math.min(closes, toS));
    at = closes + lasts(HOLDS_S);
  }
  return turns;
}

/** How much a bad contact may be the better or worse while it is moved, as powers of ten. */
const MOVED_DECADES = 0.9;

/** A bad joint is now better and now worse while the spot that it lies in is moved. */
function moved(harness: Harness, fault: Fault, moving: string | undefined, chance: () => number): Fault {
  if (moving === undefined || fault.kind !== "series" || !isAt(harness, fault.link, moving)) return fault;
  return { ...fault, ohms: fault.ohms * 10 ** ((2 * chance() - 1) * MOVED_DECADES) };
}

/** Whether a standing mend names what is faulty. */
const isMended = (fault: Fault, view: JobView, harness: Harness): boolean =>
  view.mends.some((m) => m.struck === undefined && endsFault(harness, fault, m.data.at));
