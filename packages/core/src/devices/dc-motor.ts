import { z } from "zod";
import { bentAt, bentVolts } from "./curves.ts";
import { copperFactor } from "./copper.ts";
import type { DeviceKind } from "./device.ts";
import { positive } from "./settings.ts";
import { twoPinModes, twoPinWay, twoTerminals } from "./two-pin.ts";

const settings = z.strictObject({
  /** Running under its load at nominal voltage. */
  runningAmps: positive.default(8),
  runningRpm: positive.default(2500),
  /** Held fast at nominal voltage; three to six times the running current. */
  stallAmps: positive.optional(),
  /** Share of the running current that it takes to overcome rest: bearings and brushes. */
  breakawayShare: z.number().min(0.02).max(0.9).default(0.2),
  henries: positive.default(0.3e-3),
  /** Held fast by something: it only heats. */
  seized: z.boolean().default(false),
});
type Settings = z.infer<typeof settings>;

const ohmsOf = (s: Settings, nominalVolts: number): number => nominalVolts / (s.stallAmps ?? 5 * s.runningAmps);

/**
 * Permanent-magnet motor: V = R·I + k·ω, torque k·I. Below the current that breaks it away it stands and is a resistance; beyond, the current rises on a
 * straight line to the rated point (a load that grows with speed). Inrush is the stall current. Not for field weakening or generator braking.
 * Source: the separately excited machine of any textbook (Fitzgerald & Kingsley, Electric Machinery).
 */
export const dcMotor: DeviceKind<Settings> = {
  kind: "dcmotor",
  family: "load",
  isNoticed: true,
  words: "direct-current motor",
  settings,
  terminals: () => twoTerminals,
  ways: () => twoPinWay("winding"),
  stamp: (s, at, into) => {
    const ohms = ohmsOf(s, at.nominalVolts) * copperFactor(at.temperatureC);
    if (s.seized) return into.winding("winding", "1", "2", ohms, s.henries);
    const { bend, beyond } = bendOf(s, at.nominalVolts);
    into.curve("winding", "1", "2", bentAt(ohms, bend * ohms, beyond));
  },
  modes: () => [
    ...twoPinModes("winding", 3, 0.7),
    {
      id: "seized",
      words: "seized or held fast",
      weight: 1,
      harm: { kind: "settings", change: () => ({ seized: true }) },
      severities: [0],
    },
  ],
  ratedWork: (s) => s.runningRpm,
  sights: (s, at, inside) => {
    const amps = inside.amps("winding");
    const ohms = ohmsOf(s, at.nominalVolts) * copperFactor(at.temperatureC);
    const rated = at.nominalVolts - s.runningAmps * ohmsOf(s, at.nominalVolts);
    const { bend, beyond } = bendOf(s, at.nominalVolts);
    // Not by the voltage at the pins, of which a bad joint inside takes its share.
    const volts = bentVolts(ohms, bend * ohms, beyond, amps);
    const turns = s.seized ? 0 : Math.max(0, ((volts - Math.abs(amps) * ohms) / rated) * s.runningRpm);
    return [{ kind: "speed", rpm: turns < 1 ? 0 : turns, stalled: turns < 1 && Math.abs(amps) > 0.02 * s.runningAmps }];
  },
};

/** Current at which it begins to turn, A, and the slope of the current from there on, S. */
function bendOf(s: Settings, nominalVolts: number): { readonly bend: number; readonly beyond: number } {
  const bend = s.breakawayShare * s.runningAmps;
  return { bend, beyond: (s.runningAmps - bend) / (nominalVolts - bend * ohmsOf(s, nominalVolts)) };
}
