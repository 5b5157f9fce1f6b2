import { z } from "zod";
import { type DeviceKind, NO_DEGREE, SERIES_OHMS } from "./device.ts";
import { positive, share } from "./settings.ts";

const settings = z.strictObject({
  trackOhms: positive.default(2000),
  /** Share of the supply at the wiper at rest and at full travel. */
  restShare: share.default(0.1),
  fullShare: share.default(0.9),
  wiperOhms: positive.default(100),
});
export type PotentiometerSettings = z.infer<typeof settings>;

/** Nothing shorter than this stands on either side of the wiper, Ω. */
const LEAST_OHMS = 0.5;

/**
 * Potentiometer of a pedal, a throttle or a level sender: supply P, wiper W, ground N. The wiper divides the track: V = share·(Vp − Vn) while little current
 * is drawn; the state's input is its travel, 0…1. Linear tracks only.
 */
export const potentiometer: DeviceKind<PotentiometerSettings> = {
  kind: "pot",
  family: "sensor",
  words: "potentiometer",
  settings,
  terminals: () => [
    { name: "P", role: "reference" },
    { name: "W", role: "signal" },
    { name: "N", role: "ground" },
  ],
  ways: () => [
    { part: "upper track", a: "P", b: "W", consumes: true },
    { part: "lower track", a: "W", b: "N", consumes: true },
  ],
  stamp: (s, at, into) => {
    const travel = Math.min(1, Math.max(0, at.input ?? 0));
    const low = s.restShare + travel * (s.fullShare - s.restShare);
    into.resistor("upper track", "P", ".tap", Math.max(LEAST_OHMS, s.trackOhms * (1 - low)));
    into.resistor("lower track", ".tap", "N", Math.max(LEAST_OHMS, s.trackOhms * low));
    into.resistor("wiper", ".tap", "W", s.wiperOhms);
  },
  modes: () => [
    {
      id: "upper track open",
      words: "track open at the supply end",
      weight: 1,
      harm: { kind: "open", part: "upper track" },
      severities: NO_DEGREE,
    },
    {
      id: "lower track open",
      words: "track open at the ground end",
      weight: 1,
      harm: { kind: "open", part: "lower track" },
      severities: NO_DEGREE,
    },
    { id: "wiper worn", words: "wiper worn", weight: 3, harm: { kind: "series", part: "wiper" }, severities: SERIES_OHMS },
    { id: "wiper open", words: "wiper lifts off", weight: 1.5, harm: { kind: "open", part: "wiper" }, severities: NO_DEGREE },
    { id: "shorted", words: "supply touching ground inside", weight: 0.7, harm: { kind: "shunt", a: "P", b: "N" }, severities: [1, 20] },
  ],
  sights: () => [],
};
