import { isDrivenByPulses, settingsOf, surroundingsOf, type VehicleState } from "../circuit/index.ts";
import { filamentVolts, type Inside, lampBrightness, ratedOhms, type Sight } from "../devices/index.ts";
import { deviceNode, deviceOf, type Harness, lookupOf } from "../harness/index.ts";
import { volts } from "../quantity/index.ts";

/** What can be read off one solved point of a circuit, wherever it was solved. */
export interface PointReader {
  /** V of a place or inner node against battery negative; 0 where the circuit does not hold it. */
  readonly volts: (place: string) => number;
  /** A through an element; 0 where it is not there. */
  readonly amps: (element: string) => number;
  /** Whether an element conducts; false where it is not there. */
  readonly closed: (element: string) => boolean;
}

/** What a part shows at one point: a device's own sights; of a plain load the share of its rated voltage. */
export type PartSight = Sight | { readonly kind: "runs"; readonly share: number };

/** Moment in the period of pulses, and settings changed by faults, by part. */
export interface SightOptions {
  readonly phase: number;
  readonly overrides: ReadonlyMap<string, Readonly<Record<string, unknown>>>;
}

/** Below this nothing flows through a load, A: one that is burnt out has volts across it and does nothing. */
const LEAST_AMPS = 1e-6;

/** What a load or device shows at a solved point; nothing for parts of other kinds. */
export function sightsAt(
  harness: Harness,
  state: VehicleState,
  id: string,
  point: PointReader,
  { phase, overrides }: SightOptions,
): readonly PartSight[] {
  const part = lookupOf(harness).parts.get(id);
  if (part?.kind === "load") {
    // By the current, not by the voltage at its pins: a bad joint inside the part takes its share of that.
    const amps = state.opened.includes(id) ? 0 : Math.abs(point.amps(id));
    const rated = volts(harness.nominalVolts);
    const across = amps < LEAST_AMPS ? 0 : part.sort === "lamp" ? filamentVolts(part, rated, amps) : amps * ratedOhms(part, rated);
    return part.sort === "lamp"
      ? [{ kind: "brightness", share: lampBrightness(rated, volts(across)) }]
      : [{ kind: "runs", share: across / harness.nominalVolts }];
  }
  if (part?.kind !== "device") return [];
  return deviceOf(part).device.sights(settingsOf(part, overrides), surroundingsOf(harness, state, id, { phase }), insideOf(id, point));
}

const insideOf = (id: string, point: PointReader): Inside => ({
  volts: (node) => point.volts(deviceNode(id, node)),
  amps: (p) => point.amps(`${id}.${p}`),
  closed: (p) => point.closed(`${id}.${p}`),
});

/** What a part does, in one number: a share of what it does when rated, or rpm, or A; 1 or 0 for a fuse that conducts or not; NaN where it shows nothing. */
export function workAt(harness: Harness, state: VehicleState, id: string, point: PointReader, options: SightOptions): number {
  const part = lookupOf(harness).parts.get(id);
  if (part?.kind === "fuse") return point.closed(id) ? 1 : 0;
  const alone = part?.kind === "device" ? deviceOf(part).device.workSight : undefined;
  if (part?.kind !== "device" || alone === undefined) return workShown(sightsAt(harness, state, id, point, options));
  const { phase, overrides } = options;
  return workShown([alone(settingsOf(part, overrides), surroundingsOf(harness, state, id, { phase }), insideOf(id, point))]);
}

/** The one number of what a part shows; NaN where it shows no work. A starter is judged by its turning, not by its click. */
export function workShown(sights: readonly PartSight[]): number {
  const told = sights.find((x) => x.kind === "speed") ?? sights.find((x) => x.kind !== "reads");
  switch (told?.kind) {
    case undefined:
      return NaN;
    case "runs":
      return told.share;
    case "brightness":
    case "heat":
    case "stored":
      return Math.max(0, told.share);
    case "speed":
      return told.rpm;
    case "pulled in":
    case "awake":
      return told.yes ? 1 : 0;
    case "charging":
      return told.amps;
    case "fuse":
      return told.blown ? 0 : 1;
  }
}

/** Whether a part works by being switched off, and is: its work over a period is then what `deliveredShare` makes of the least and the most of it at any moment. */
export function worksBySwitchOff(harness: Harness, id: string): boolean {
  const part = lookupOf(harness).parts.get(id);
  return part?.kind === "device" && deviceOf(part).device.deliversAtSwitchOff === true && isDrivenByPulses(harness, id);
}

/** What is delivered at switch-off where so much is stored at most and at least, as shares of ½·L·I²: that of the step of the current. */
export const deliveredShare = (least: number, most: number): number => (Math.sqrt(most) - Math.sqrt(least)) ** 2;

/** What counts as all the work of a part, in the unit of `workAt`: 1 for shares; a device says otherwise where it tells rpm or A. */
export function ratedWork(harness: Harness, id: string): number {
  const part = lookupOf(harness).parts.get(id);
  if (part?.kind !== "device") return 1;
  const { device, settings } = deviceOf(part);
  return device.ratedWork?.(settings) ?? 1;
}
