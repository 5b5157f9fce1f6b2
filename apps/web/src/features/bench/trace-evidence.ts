import type { VehicleState } from "@rheonom/core/circuit";
import type { EventOf } from "@rheonom/core/job";
import type { GoodTrace, Measures } from "@rheonom/core/waveform";
import type { LeadPair } from "./capture-model.ts";

type Seen = EventOf<"seen">["data"];

/** A line that swings by less stands still, V. */
const LEAST_SWING = 0.5;
/** A level of a good recording is at rest within so much, V and as a share of it, and its share of the time within so many %. */
const AT_REST = { volts: 0.5, share: 0.05, percent: 3 } as const;

/**
 * What is counted for the suspects: both levels and the duty of pulses, or the one level at which a line stands. V and %. The suspects are weighed by the circuit at rest in each phase; what is not at rest in
 * a good recording either, such as the current of a coil that rises all through its dwell, counts for nothing.
 */
export function evidenceOf(
  { red, black }: LeadPair,
  state: VehicleState,
  m: Measures,
  { measures: good, steady }: GoodTrace,
): readonly Seen[] {
  if (steady === undefined) return [];
  const isAtRest = (recorded: number, rest: number): boolean => Math.abs(recorded - rest) <= AT_REST.volts + AT_REST.share * Math.abs(rest);
  const seen = (observe: Seen["observe"], value: number): Seen => ({ state, observe, value: Number(value.toPrecision(4)), wrong: false });
  const at = { red, black };
  if (m.edges < 2 || m.duty === undefined || m.high - m.low <= LEAST_SWING)
    return !isAtRest(good.high, steady.high) ? [] : [seen({ kind: "level", which: "high", ...at }, m.mean)];
  return [
    ...(isAtRest(good.high, steady.high) ? [seen({ kind: "level", which: "high", ...at }, m.high)] : []),
    ...(isAtRest(good.low, steady.low) ? [seen({ kind: "level", which: "low", ...at }, m.low)] : []),
    ...(Math.abs(100 * (good.duty ?? 0) - steady.dutyPercent) <= AT_REST.percent ? [seen({ kind: "duty", ...at }, 100 * m.duty)] : []),
  ];
}
