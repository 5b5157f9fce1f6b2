import type { VehicleState } from "@rheonom/core/circuit";
import type { EventOf } from "@rheonom/core/job";
import type { Measures } from "@rheonom/core/waveform";
import type { LeadPair } from "./capture-model.ts";

type Seen = EventOf<"seen">["data"];

/** A line that swings by less stands still, V. */
const LEAST_SWING = 0.5;

/** What is counted for the suspects: both levels and the duty of pulses, or the one level at which a line stands. V and %. */
export function evidenceOf({ red, black }: LeadPair, state: VehicleState, m: Measures): readonly Seen[] {
  const seen = (observe: Seen["observe"], value: number): Seen => ({ state, observe, value: Number(value.toPrecision(4)), wrong: false });
  const at = { red, black };
  if (m.edges < 2 || m.duty === undefined || m.high - m.low <= LEAST_SWING) return [seen({ kind: "level", which: "high", ...at }, m.mean)];
  return [
    seen({ kind: "level", which: "high", ...at }, m.high),
    seen({ kind: "level", which: "low", ...at }, m.low),
    seen({ kind: "duty", ...at }, 100 * m.duty),
  ];
}
