import type { Fault, VehicleState } from "../../circuit/index.ts";
import type { Harness } from "../../harness/index.ts";
import { comesAndGoes, deliveredShare, type PointReader, workAt, worksBySwitchOff } from "../../instruments/index.ts";
import type { PhaseBase } from "./phase-base.ts";
import type { RowBeingFilled } from "./row.ts";
import type { SolvedPoint } from "./solved-point.ts";

/** Writes what solved points show into rows. `also`: what is wrong beside whatever is supposed. */
export interface RowFiller {
  /** Adds a phase: one point where all rests; where something chatters those between which it goes, and what flickers and swings. */
  readonly add: (base: PhaseBase, points: readonly SolvedPoint[], faults: readonly Fault[], row: RowBeingFilled) => void;
}

/** A filler for one state of a vehicle: `parts` are those whose work is kept, `levels` the places whose levels are kept phase by phase, in this order. */
export function createRowFiller(
  harness: Harness,
  state: VehicleState,
  parts: readonly string[],
  levels: readonly string[],
  also: readonly Fault[],
): RowFiller {
  type Part = Pick<RowBeingFilled, "volts" | "work" | "extremes">;
  const switchedOff = parts.map((id) => worksBySwitchOff(harness, id));

  function fill(base: PhaseBase, reader: SolvedPoint, faults: readonly Fault[], row: Part, share: number): void {
    for (let i = 0; i < base.nodes.length; i++) {
      const now = reader.volts[base.nodes[i]!]!;
      const sound = base.prepared.base.volts[base.nodes[i]!]!;
      // What a fault has taken away from a place it no longer shares in.
      const stays = base.shift[i] === 0 ? 0 : Math.min(1, Math.max(0, now / sound));
      row.volts[i]! += share * (now + stays * base.shift[i]!);
    }
    const overrides = new Map([...also, ...faults].flatMap((f) => (f.kind === "settings" ? [[f.component, f.settings] as const] : [])));
    const point: PointReader = {
      volts: (place) => reader.volts[base.circuit.nodeOf.get(place) ?? -1] ?? 0,
      amps: reader.amps,
      closed: reader.closed,
    };
    const { phase } = base.how;
    for (let i = 0; i < parts.length; i++) {
      const work = workAt(harness, state, parts[i]!, point, { phase, overrides });
      if (switchedOff[i] === true) {
        const [least, most] = row.extremes.get(i) ?? [Infinity, -Infinity];
        const now = [Math.min(least, work), Math.max(most, work)] as const;
        row.extremes.set(i, now);
        row.work[i] = deliveredShare(...now);
      } else row.work[i]! += share * work;
    }
  }

  function addChatter(base: PhaseBase, points: readonly SolvedPoint[], faults: readonly Fault[], row: RowBeingFilled): void {
    const extremes = points.map((p) => {
      const one = {
        volts: new Float64Array(row.volts.length),
        work: new Float64Array(parts.length),
        extremes: new Map<number, readonly [number, number]>(),
      };
      fill(base, p, faults, one, 1);
      return one;
    });
    row.flickers = Uint8Array.from(parts, (_, i) => (comesAndGoes(extremes.map((e) => e.work[i]!)) ? 1 : 0));
    row.swings.push(extremes.map((e) => e.volts));
    for (let i = 0; i < row.volts.length; i++) {
      // A reader of the meter takes the middle between the extremes, whatever the shares of time.
      let [low, high, mean] = [Infinity, -Infinity, 0];
      for (const { volts } of extremes) {
        [low, high] = [Math.min(low, volts[i]!), Math.max(high, volts[i]!)];
        mean += volts[i]! / extremes.length;
      }
      row.volts[i]! += base.share * ((high + low) / 2 - mean);
    }
  }

  return {
    add: (base, points, faults, row) => {
      for (const p of points) {
        fill(base, p, faults, row, base.share / points.length);
        if (levels.length > 0)
          row.moments.push({
            share: base.share / points.length,
            volts: Float64Array.from(levels, (place) => p.volts[base.circuit.nodeOf.get(place) ?? -1] ?? 0),
          });
      }
      if (points.length > 1) addChatter(base, points, faults, row);
    },
  };
}
