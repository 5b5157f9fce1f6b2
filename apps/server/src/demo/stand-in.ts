import type { Capture, Simulate } from "@rheonom/contract/api";
import type { Simulated } from "@rheonom/contract/light";
import type { Fault } from "@rheonom/core/circuit";
import { isAt } from "@rheonom/core/diagnosis";
import { cavityIn, type Harness, lookupOf, partNameIn, wiresAt } from "@rheonom/core/harness";
import { displayText, predictReading, predictTraces, throughScope } from "@rheonom/core/instruments";
import { foldJob, type JobView, type LogEntry } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import type { Trace } from "@rheonom/core/waveform";
import { AppError } from "../errors.ts";

/**
 * Takes a reading on the simulated vehicle of a demo job: the job's circuit with its hidden fault, until a mend names the
 * faulty part. `chance`: numbers from 0 to below 1 for what happens while something is moved. Throws AppError no-stand-in, no-circuit or place-unknown.
 */
export function simulateReading(
  entries: readonly LogEntry[],
  truth: readonly Fault[] | undefined,
  ask: Simulate,
  chance: () => number,
): Simulated {
  const { harness, faults: left } = standInOf(entries, truth);
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
  truth: readonly Fault[] | undefined,
  { state, probes, seconds, rateHz }: Capture,
  chance: () => number,
): Trace {
  const { harness, faults } = standInOf(entries, truth);
  const recording = { seconds, resolutionS: 1 / rateHz, delayS: state.engine === "stopped" ? 0 : SETTLED_S };
  try {
    const traces = predictTraces(harness, state, faults, probes, recording);
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

function standInOf(
  entries: readonly LogEntry[],
  truth: readonly Fault[] | undefined,
): { readonly harness: Harness; readonly faults: readonly Fault[] } {
  const view = foldJob(entries);
  if (truth === undefined || view === undefined) throw new AppError("no-stand-in");
  const harness = view.circuit === undefined ? undefined : parseNotation(view.circuit.notation).harness;
  if (harness === undefined) throw new AppError("no-circuit");
  return { harness, faults: faultsLeft(view, harness, truth) };
}

/** What is still wrong with the simulated vehicle of a demo job: its hidden faults that no mend has named. */
export const faultsLeft = (view: JobView, harness: Harness, truth: readonly Fault[] | undefined): readonly Fault[] =>
  (truth ?? []).filter((f) => !isMended(f, view, harness));

/** How much a bad contact may be the better or worse while it is moved, as powers of ten. */
const MOVED_DECADES = 0.9;

/** A bad joint is now better and now worse while the spot that it lies in is moved. */
function moved(harness: Harness, fault: Fault, moving: string | undefined, chance: () => number): Fault {
  if (moving === undefined || fault.kind !== "series" || !isAt(harness, fault.link, moving)) return fault;
  return { ...fault, ohms: fault.ohms * 10 ** ((2 * chance() - 1) * MOVED_DECADES) };
}

/** Whether a standing mend names what is faulty: the part itself, the connector around it, a side or blade of it, or a wire that touches something there. */
function isMended(fault: Fault, view: JobView, harness: Harness): boolean {
  const mended = view.mends.flatMap((m) => (m.struck === undefined ? [m.data.at.trim().toLowerCase()] : []));
  return placesOfFault(harness, fault).some((place) => {
    const faulty = place.toLowerCase();
    return mended.some((named) => {
      const within = named.startsWith(faulty) && /^(\.\w+|[ab])$/.test(named.slice(faulty.length));
      return named === faulty || faulty.startsWith(`${named}.`) || within;
    });
  });
}

/** Everything whose mending ends a fault: where it is, and where something touches what it should not, the cavity and the wires there, on either side. */
function placesOfFault(harness: Harness, fault: Fault): readonly string[] {
  const touching = (place: string): readonly string[] => [
    place,
    ...(lookupOf(harness).parts.get(partNameIn(place))?.kind === "connector" ? [cavityIn(place)] : []),
    ...wiresAt(harness, place).map((w) => w.id),
  ];
  switch (fault.kind) {
    case "open":
    case "series":
      return [fault.link];
    case "short to ground":
    case "short to feed":
      return touching(fault.place);
    case "across":
      return [...touching(fault.from), ...touching(fault.to)];
    // A part inside a device is mended by mending or changing the device.
    case "stuck":
      return [partNameIn(fault.link)];
    case "settings":
      return [fault.component];
    case "splice":
      return [fault.splice];
    case "lead":
      return [fault.lead];
  }
}
