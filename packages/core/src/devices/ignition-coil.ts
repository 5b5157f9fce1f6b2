import { z } from "zod";
import { copperFactor } from "./copper.ts";
import { type DeviceKind, NO_DEGREE } from "./device.ts";
import { positive } from "./settings.ts";

const settings = z.strictObject({
  primaryOhms: positive.default(0.55),
  primaryHenries: positive.default(4e-3),
  /** Turns of the secondary over those of the primary. */
  turnsRatio: positive.default(90),
  secondaryOhms: positive.default(8000),
  coupling: z.number().min(0.5).max(0.999).default(0.97),
  /** Voltage at which the plug's gap breaks down, and at which it burns on. */
  gapVolts: positive.default(12_000),
  burnVolts: positive.default(1_200),
});
/** Eddy currents in the iron seen from the primary, Ω: what is left after the spark rings out in some five swings. */
const IRON_LOSS_OHMS = 600;
type Settings = z.infer<typeof settings>;

/** Energy stored in the primary at a current, J: ½·L·I². */
export const coilEnergyJ = (s: Settings, amps: number): number => 0.5 * s.primaryHenries * amps ** 2;
/** Time for the primary to reach a current from nothing, s: t = −(L/R)·ln(1 − I·R/V). Infinity when it never does. */
export const dwellS = (s: Settings, volts: number, amps: number): number => {
  const left = 1 - (amps * s.primaryOhms) / volts;
  return left > 0 ? (-s.primaryHenries / s.primaryOhms) * Math.log(left) : Infinity;
};

/**
 * Ignition coil: it delivers the energy ½·L·I² when its primary is switched off, so that one held on delivers nothing and only heats. Primary 15–1, secondary from 4 back to 15 through the plug's gap to ground E. At rest a resistance of 0.4–0.8 Ω; held on it takes V/R and heats. Over
 * time: coupled inductances (secondary = n²·L), some winding capacitance, a gap that breaks down and burns. No iron saturation: the driver limits the
 * current in time. Source: coupled-circuit equations; values are the usual ones.
 */
export const ignitionCoil: DeviceKind<Settings> = {
  kind: "ignition",
  family: "load",
  words: "ignition coil",
  settings,
  terminals: () => [
    { name: "15", role: "feed" },
    { name: "1", role: "control" },
    { name: "4", role: "high voltage", bare: true },
    { name: "E", role: "ground" },
  ],
  ways: () => [{ part: "primary", a: "15", b: "1", consumes: true }],
  stamp: (s, at, into) => {
    const warm = copperFactor(at.temperatureC);
    into.winding("primary", "15", "1", s.primaryOhms * warm, s.primaryHenries, IRON_LOSS_OHMS);
    into.winding("secondary", "4", "15", s.secondaryOhms * warm, s.primaryHenries * s.turnsRatio ** 2, Infinity);
    into.coupling("primary", "secondary", s.coupling);
    into.capacitor("winding capacitance", "4", "E", 50e-12);
    // The gap conducts from its breakdown until the burning voltage is gone; its slope stands for the arc.
    const struck = into.watcher("4", "E", s.gapVolts, s.burnVolts * 0.2, { eitherWay: true });
    into.contact("gap", "4", ".arc", struck, s.burnVolts / 0.05);
    into.resistor("arc to ground", ".arc", "E", 10);
  },
  modes: () => [
    { id: "primary open", words: "primary open circuit", weight: 2, harm: { kind: "open", part: "primary" }, severities: NO_DEGREE },
    { id: "primary shorted", words: "primary turns shorted", weight: 1.5, harm: { kind: "shunt", a: "15", b: "1" }, severities: [0.1, 1] },
    { id: "secondary open", words: "secondary open circuit", weight: 1, harm: { kind: "open", part: "secondary" }, severities: NO_DEGREE },
    {
      id: "insulation",
      words: "insulation tracking to ground",
      weight: 1.5,
      harm: { kind: "shunt", a: "4", b: "E" },
      severities: [1e5, 1e6],
    },
  ],
  deliversAtSwitchOff: true,
  sights: (s, at, inside) => [{ kind: "stored", share: (inside.amps("primary") / (at.nominalVolts / s.primaryOhms)) ** 2 }],
};
