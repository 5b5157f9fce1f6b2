import type { Fault, VehicleState } from "../circuit/index.ts";
import { type Harness, moduleGround, type Monitor, pinPlace } from "../harness/index.ts";
import { busTalk, getsMessages, silentModules, type Talk } from "./bus.ts";
import { observe } from "./observe.ts";
import { predictReading } from "./predict.ts";

/** What a scan tool finds: modules that do not answer though they should be there, and the codes of those that are awake. */
export interface Scan {
  readonly silent: readonly string[];
  readonly codes: readonly string[];
}

/** Scans every module of a vehicle in a state, solved in full. */
export function scanAll(harness: Harness, state: VehicleState, faults: readonly Fault[]): Scan {
  const awake = awakeModules(harness, state, faults);
  const onBus = new Set(silentModules(harness, state, faults));
  const modules = harness.components.flatMap((c) => (c.kind === "device" && c.device === "module" ? [c.id] : []));
  let talk: readonly Talk[] | undefined;
  const talking = (): readonly Talk[] => (talk ??= busTalk(harness, state, faults));
  return {
    silent: modules.filter((id) => !awake.has(id) || onBus.has(id)),
    codes: [
      ...new Set(
        (harness.monitors ?? []).flatMap((m) => (awake.has(m.module) && seesWrong(harness, state, m, faults, talking) ? [m.code] : [])),
      ),
    ],
  };
}

/** Whether a code is set in a state. */
export function isCodeSet(harness: Harness, state: VehicleState, code: string, faults: readonly Fault[]): boolean {
  const monitors = harness.monitors?.filter((m) => m.code === code) ?? [];
  if (monitors.length === 0) return false;
  const awake = awakeModules(harness, state, faults);
  return monitors.some((m) => awake.has(m.module) && seesWrong(harness, state, m, faults, () => busTalk(harness, state, faults)));
}

/** Modules that are awake. */
export function awakeModules(harness: Harness, state: VehicleState, faults: readonly Fault[]): ReadonlySet<string> {
  const seen = observe(harness, state, faults);
  return new Set(Array.isArray(seen) ? seen.flatMap((x) => (x.sight.kind === "awake" && x.sight.yes ? [x.component] : [])) : []);
}

function seesWrong(harness: Harness, state: VehicleState, m: Monitor, faults: readonly Fault[], talk: () => readonly Talk[]): boolean {
  if (m.silent !== undefined) return !getsMessages(harness, talk(), m.module, m.silent);
  if (m.pin === undefined) return false;
  const volts = seenAtPin(harness, state, m.module, m.pin, faults);
  return (m.belowVolts !== undefined && volts < m.belowVolts) || (m.aboveVolts !== undefined && volts > m.aboveVolts);
}

/** V that a module sees at one of its pins, the middle of what swings; 0 where the circuit has no answer. */
function seenAtPin(harness: Harness, state: VehicleState, module: string, pin: string, faults: readonly Fault[]): number {
  const leads = { quantity: "volts", red: pinPlace(module, pin), black: moduleGround(module) } as const;
  const reading = predictReading(harness, state, faults, leads);
  if (reading.kind === "unsolved" && reading.between !== undefined) return (reading.between[0] + reading.between[1]) / 2;
  return reading.kind === "value" ? reading.value : 0;
}
