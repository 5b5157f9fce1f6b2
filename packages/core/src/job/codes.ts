import type { VehicleState } from "../circuit/index.ts";
import { triage, type Triage } from "../codes/index.ts";
import { createOracle, ownDoing, hypothesisSpaceOf } from "../diagnosis/index.ts";
import { scanAll } from "../instruments/index.ts";
import { batteryNegative, batteryPositive, type Harness } from "../harness/index.ts";
import { trayInModel } from "./evidence.ts";
import type { JobView } from "./fold.ts";
import { latestScan, scanBeforeClear } from "./question.ts";

/** The latest scan of a job sorted, with what was unplugged, what the battery had and what was seen to work. Undefined while there is none. */
export function triageOfJob(harness: Harness, view: JobView): Triage | undefined {
  const latest = latestScan(view);
  if (latest === undefined) return undefined;
  const state: VehicleState = { ...latest.data.state, ...trayInModel(harness, view) };
  const oracle = createOracle(hypothesisSpaceOf(harness, [], state));
  const done = new Map<string, readonly string[]>();
  const doneBy = (code: string): readonly string[] => {
    const known =
      done.get(code) ??
      ownDoing(oracle, [
        { id: code, state, observe: { kind: "code", code }, result: { kind: "word", word: "active" }, source: "scan" },
      ]).flatMap((o) => o.because);
    done.set(code, known);
    return known;
  };
  const battery = view.readings.findLast(
    (r) =>
      r.struck === undefined &&
      r.data.leads.quantity === "volts" &&
      r.data.leads.red === batteryPositive(harness) &&
      r.data.leads.black === batteryNegative(harness) &&
      r.data.state.engine === "stopped",
  );
  return triage({
    harness,
    scan: latest.data.scan,
    beforeClear: scanBeforeClear(view)?.data.scan,
    doneBy,
    batteryVolts: battery?.data.shown.kind === "value" ? battery.data.shown.value : undefined,
    works: view.seen.flatMap((s) =>
      s.struck === undefined && s.data.observe.kind === "part" && s.data.word === "full" && !s.data.wrong ? [s.data.observe.part] : [],
    ),
  });
}

/** Modules of a vehicle that do not answer in a state while all is sound: they are asleep there. */
export const asleepIn = (harness: Harness, state: VehicleState): readonly string[] => scanAll(harness, state, []).silent;
