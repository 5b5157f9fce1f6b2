import type { Fault, VehicleState } from "../circuit/index.ts";
import { flickersIn, workOf, type Evidence } from "../diagnosis/index.ts";
import { deviceOf, type Harness } from "../harness/index.ts";
import { FULL_WORK, NO_WORK, ratedWork } from "../instruments/index.ts";
import { operationsOf } from "../procedures/index.ts";

/** What a driver says is wrong. */
export interface Complaint {
  readonly state: VehicleState;
  /** Parts that do not do what they should, worst first. */
  readonly focus: readonly string[];
  readonly evidence: readonly Evidence[];
}

/** A driver notices when a part does less than the one or more than the other share of what it should, or this much that it should not. */
const LESS = 0.6;
const MORE = 1.6;
const UNASKED = 0.3;
const MOST_NAMED = 3;

/** The first use of the vehicle in which a fault is noticed; undefined when nobody would notice. */
export function complaintOf(harness: Harness, faults: readonly Fault[]): Complaint | undefined {
  for (const op of operationsOf(harness)) {
    const row = op.view.rowOf(faults);
    if (row.unsolved) continue;
    const off: { part: string; ratio: number; word: "weak" | "none" | "full" | "flickers" | "too much"; by: number }[] = [];
    for (const part of op.view.partIndex.keys()) {
      const sound = workOf(op.view, op.view.sound, part);
      const work = workOf(op.view, row, part);
      if (work === undefined || sound === undefined) continue;
      const ratio = sound > 0.05 ? work / sound : work;
      if (sound > 0.05 && (ratio < LESS || flickersIn(op.view, row, part)))
        off.push({ part, ratio, word: flickersIn(op.view, row, part) ? "flickers" : ratio < NO_WORK ? "none" : "weak", by: 1 - ratio });
      if (sound > 0.05 && ratio > MORE) off.push({ part, ratio, word: "too much", by: 1 - 1 / ratio });
      const share = work / ratedWork(harness, part);
      if (sound <= 0.02 && share > UNASKED) off.push({ part, ratio, word: share > FULL_WORK ? "full" : "weak", by: 0.9 });
    }
    if (off.length === 0) continue;
    // Lamps, motors and what people see come before the relays that they may hear.
    const seen = (part: string): number => {
      const c = harness.components.find((x) => x.id === part)!;
      return c.kind === "load"
        ? 1
        : c.kind === "device" && deviceOf(c).device.isNoticed === true
          ? 1
          : c.kind === "device" && c.device === "module"
            ? 0.5
            : 0;
    };
    off.sort((p, q) => seen(q.part) - seen(p.part) || q.by - p.by);
    const named = [...new Map(off.map((o) => [o.part, o])).values()].slice(0, MOST_NAMED);
    return {
      state: op.state,
      focus: named.map((n) => n.part),
      evidence: named.map((n, i) => ({
        id: `complaint ${i + 1}`,
        state: op.state,
        observe: { kind: "part", part: n.part },
        result: { kind: "word", word: n.word },
        source: "technician",
      })),
    };
  }
  return undefined;
}
