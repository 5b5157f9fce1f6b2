import { z } from "zod";
import { flattening, flatteningVolts } from "./curves.ts";
import type { DeviceKind } from "./device.ts";
import { positive } from "./settings.ts";
import { twoPinModes, twoPinWay, twoTerminals } from "./two-pin.ts";

const settings = z.strictObject({
  /** Cold, at 20 °C. */
  coldOhms: positive.default(0.4),
  /** Current it settles at when hot, at nominal voltage, A. */
  settledAmps: positive.default(12),
});
type Settings = z.infer<typeof settings>;

/** Knee of the flattening curve so that the settled current flows at nominal voltage: I = V/(R·√(1 + (V/Vk)²)). */
const kneeVolts = (s: Settings, nominalVolts: number): number => {
  const bend = (nominalVolts / (s.coldOhms * s.settledAmps)) ** 2 - 1;
  return bend > 1e-6 ? nominalVolts / Math.sqrt(bend) : 1e3 * nominalVolts;
};

/**
 * Heater of a material whose resistance rises steeply when it is hot, settled in steady air: a resistance up to the knee, then a current that hardly grows. Not
 * for the first seconds (inrush V/R) and not for changing air flow. Source: general form of barium titanate heaters, parameters ours.
 */
export const ptc: DeviceKind<Settings> = {
  kind: "ptc",
  family: "load",
  isNoticed: true,
  words: "self-limiting heater",
  settings,
  terminals: () => twoTerminals,
  ways: () => twoPinWay("element"),
  stamp: (s, at, into) => {
    into.curve("element", "1", "2", flattening(s.coldOhms, kneeVolts(s, at.nominalVolts)));
  },
  modes: () => twoPinModes("element", 2, 0.2),
  sights: (s, at, inside) => [
    {
      kind: "heat",
      share:
        (heatingVolts(s, at.nominalVolts, inside.amps("element")) * Math.abs(inside.amps("element"))) / (s.settledAmps * at.nominalVolts),
    },
  ],
};

/** V across the element itself; at the end of its curve no more than what stands at the pins of a sound one. */
const heatingVolts = (s: z.infer<typeof settings>, nominalVolts: number, amps: number): number =>
  Math.min(1.5 * nominalVolts, flatteningVolts(s.coldOhms, kneeVolts(s, nominalVolts), amps));
