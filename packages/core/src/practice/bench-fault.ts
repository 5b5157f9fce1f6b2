import type { Fault } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { complaintOf, type Complaint } from "./complaint.ts";
import { truthsOf } from "./summary.ts";
import type { Chance } from "./truth.ts";

/** One thing that is wrong with a circuit, and what its driver says of it. */
export interface BenchFault {
  readonly faults: readonly Fault[];
  readonly complaint: Complaint;
}

/** Faults that are tried for one that a driver notices. */
const MOST_TRIED = 200;

/** A fault of a circuit, drawn by chance from all that a driver notices; undefined where none of those that were tried is noticed. */
export function benchFaultOf(harness: Harness, chance: Chance): BenchFault | undefined {
  const all = truthsOf(harness, undefined, 1);
  for (let i = 0; i < MOST_TRIED && all.length > 0; i++) {
    const { fault, severity } = all[Math.floor(chance() * all.length)]!;
    const faults = [fault.faultAt(severity)];
    const complaint = complaintOf(harness, faults);
    if (complaint?.by === "driver") return { faults, complaint };
  }
  return undefined;
}
