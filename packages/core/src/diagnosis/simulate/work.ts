import { settingsOf, surroundingsOf, type VehicleState } from "../../circuit/index.ts";
import { lampBrightness, type Sight } from "../../devices/index.ts";
import { deviceNode, deviceOf, type Harness, lookupOf } from "../../harness/index.ts";
import { volts as asVolts } from "../../quantity/index.ts";

/** What can be read off a solved point. */
export interface SolvedPoint {
  /** V by node index. */
  readonly volts: Float64Array;
  readonly amps: (id: string) => number;
  readonly closed: (id: string) => boolean;
}

/** What a part does, in one number: a share of what it does when rated, or rpm, or A. `overrides`: settings changed by faults. */
export function workIn(
  harness: Harness,
  state: VehicleState,
  id: string,
  { volts: at, amps, closed, nodeOf, phase }: SolvedPoint & { readonly nodeOf: ReadonlyMap<string, number>; readonly phase: number },
  overrides: ReadonlyMap<string, Readonly<Record<string, unknown>>>,
): number {
  const part = lookupOf(harness).parts.get(id);
  const voltsAt = (name: string): number => {
    const node = nodeOf.get(name);
    return node === undefined ? 0 : at[node]!;
  };
  switch (part?.kind) {
    case "load": {
      const share = Math.abs(voltsAt(`${id}.${part.pins[0]}`) - voltsAt(`${id}.${part.pins[1]}`)) / harness.nominalVolts;
      if (state.opened.includes(id)) return 0;
      // One that is burnt out has volts across it and does nothing.
      if (Math.abs(amps(id)) < 1e-6) return 0;
      return part.sort === "lamp" ? lampBrightness(asVolts(harness.nominalVolts), asVolts(share * harness.nominalVolts)) : share;
    }
    case "fuse":
      return closed(id) ? 1 : 0;
    case "device": {
      const sights = deviceOf(part).device.sights(settingsOf(part, overrides), surroundingsOf(harness, state, id, { phase }), {
        volts: (node) => voltsAt(deviceNode(id, node)),
        amps: (p) => amps(`${id}.${p}`),
        closed: (p) => closed(`${id}.${p}`),
      });
      // A starter is judged by its turning, not by its click.
      const told = sights.find((x) => x.kind === "speed") ?? sights.find((x) => x.kind !== "reads");
      return told === undefined ? NaN : workOfSight(told);
    }
    default:
      return NaN;
  }
}

export function workOfSight(sight: Sight): number {
  switch (sight.kind) {
    case "brightness":
    case "heat":
      return Math.max(0, sight.share);
    case "speed":
      return sight.rpm;
    case "pulled in":
    case "awake":
      return sight.yes ? 1 : 0;
    case "charging":
      return sight.amps;
    case "fuse":
      return sight.blown ? 0 : 1;
    case "reads":
      return NaN;
  }
}
