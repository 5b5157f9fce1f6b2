import { codeToNumber, STATUS_BITS as BIT } from "@rheonom/core/codes";
import { type Harness, moduleGround, type Monitor } from "@rheonom/core/harness";
import type { Snapshot } from "./world.ts";

/** All of them are kept by these modules. */
export const AVAILABLE = 0xff;
const FRESH = BIT.notTestedSinceClear | BIT.notTestedThisCycle;

/** Cycles without failure after which the lamp goes out, and after which the code is forgotten. */
const LAMP_OUT_CYCLES = 3;
const FORGOTTEN_CYCLES = 40;

/** One code of a module. */
export interface Remembered {
  readonly monitor: Monitor;
  /** Three bytes: code and failure type. */
  readonly code: number;
  readonly status: number;
  readonly occurrences: number;
  /** Cycles in a row without a failure. */
  readonly healthy: number;
  /** Whether it was confirmed with the lamp on and has not been seen sound for a whole cycle since: such a code no tester can clear. */
  readonly permanent: boolean;
  /** Values at the first failure, by identifier; undefined while it never failed. */
  readonly snapshot: ReadonlyMap<number, number> | undefined;
}

export interface Memory {
  /** Runs the monitors for a stretch of time, s. */
  readonly tick: (seconds: number, now: Snapshot, isOn: boolean) => void;
  readonly codesOf: (module: string) => readonly Remembered[];
  readonly clear: (module: string, group: number) => void;
  /** While off nothing is set or healed, as service 0x85 wants it. */
  readonly setUpdating: (module: string, on: boolean) => void;
}

type Changing<T> = { -readonly [K in keyof T]: T[K] };
interface Watched extends Changing<Remembered> {
  failing: number;
  passing: number;
  failedInCycle: boolean;
  testedInCycle: boolean;
}

/** Codes of all modules of a harness, set, aged and healed by its monitors. `freeze`: what a module stores with a code. */
export function createMemory(
  harness: Harness,
  lampModule: string | undefined,
  freeze: (module: string, now: Snapshot) => ReadonlyMap<number, number>,
): Memory {
  const entries: Watched[] = (harness.monitors ?? []).map((monitor) => ({
    monitor,
    code: codeNumber(monitor.code),
    status: FRESH,
    occurrences: 0,
    healthy: 0,
    permanent: false,
    snapshot: undefined,
    failing: 0,
    passing: 0,
    failedInCycle: false,
    testedInCycle: false,
  }));
  const stopped = new Set<string>();
  let wasOn = false;

  function fails(e: Watched, now: Snapshot): void {
    if ((e.status & BIT.failed) === 0) {
      e.occurrences = Math.min(255, e.occurrences + 1);
      e.snapshot ??= freeze(e.monitor.module, now);
    }
    const lamp = e.monitor.module === lampModule && e.monitor.code.startsWith("P");
    e.status |= BIT.failed | BIT.failedThisCycle | BIT.pending | BIT.confirmed | BIT.failedSinceClear | (lamp ? BIT.warningLamp : 0);
    e.status &= ~FRESH;
    e.failedInCycle = e.testedInCycle = true;
    e.healthy = 0;
    if (lamp) e.permanent = true;
  }

  function passes(e: Watched): void {
    e.status &= ~(BIT.failed | FRESH);
    e.testedInCycle = true;
  }

  function endCycle(): void {
    for (const e of entries) {
      if (!e.testedInCycle) continue;
      if (e.failedInCycle) continue;
      e.status &= ~BIT.pending;
      e.permanent = false;
      if ((e.status & BIT.confirmed) === 0) continue;
      e.healthy++;
      if (e.healthy >= LAMP_OUT_CYCLES) e.status &= ~BIT.warningLamp;
      if (e.healthy >= FORGOTTEN_CYCLES) forget(e);
    }
  }

  function beginCycle(): void {
    for (const e of entries) {
      e.status = (e.status & ~BIT.failedThisCycle) | BIT.notTestedThisCycle;
      e.failing = e.passing = 0;
      e.failedInCycle = e.testedInCycle = false;
    }
  }

  const forget = (e: Watched): void => {
    e.status = FRESH;
    e.occurrences = e.healthy = e.failing = e.passing = 0;
    e.snapshot = undefined;
    e.failedInCycle = e.testedInCycle = false;
  };

  return {
    tick: (seconds, now, isOn) => {
      if (isOn && !wasOn) beginCycle();
      if (!isOn && wasOn) endCycle();
      wasOn = isOn;
      if (!isOn) return;
      for (const e of entries) {
        if (stopped.has(e.monitor.module)) continue;
        const wrong = isWrong(e.monitor, now);
        if (wrong === undefined) continue;
        e.failing = wrong ? e.failing + seconds : 0;
        e.passing = wrong ? 0 : e.passing + seconds;
        const due = e.monitor.seconds ?? 0;
        if (wrong && e.failing >= due) fails(e, now);
        else if (!wrong && e.passing >= due) passes(e);
      }
    },
    codesOf: (module) => entries.filter((e) => e.monitor.module === module),
    clear: (module, group) => {
      for (const e of entries) if (e.monitor.module === module && (group === 0xffffff || group === e.code)) forget(e);
    },
    setUpdating: (module, on) => void (on ? stopped.delete(module) : stopped.add(module)),
  };
}

/** Whether what a monitor watches is out of range; undefined while its module cannot look. */
function isWrong(m: Monitor, now: Snapshot): boolean | undefined {
  if (!now.awake.has(m.module)) return undefined;
  if (m.silent !== undefined) return !now.gets(m.module, m.silent);
  if (m.pin === undefined) return undefined;
  const volts = now.volts(`${m.module}.${m.pin}`) - now.volts(moduleGround(m.module));
  if (Number.isNaN(volts)) return undefined;
  return (m.belowVolts !== undefined && volts < m.belowVolts) || (m.aboveVolts !== undefined && volts > m.aboveVolts);
}

/** "P0625-13" as its three bytes: the code, then the failure type. */
const codeNumber = (code: string): number => codeToNumber(code.slice(0, 5)) * 256 + Number.parseInt(code.slice(6) || "00", 16);
