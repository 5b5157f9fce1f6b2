import { z } from "zod";
import { copperFactor } from "./copper.ts";
import type { DeviceKind } from "./device.ts";
import { positive } from "./settings.ts";
import { teethPerTurn, toothHertz } from "./tooth-wheel.ts";
import { twoPinModes, twoPinWay } from "./two-pin.ts";

const settings = z.strictObject({
  ohms: positive.default(900),
  henries: positive.default(0.4),
  /** Peak for each hertz of passing teeth, V: about 1 V at cranking speed, tens at full speed. */
  voltsPerHertz: positive.default(0.0025),
  teethPerTurn,
});

/**
 * Two-wire inductive sensor: a winding of a few hundred ohms to some kilohms whose voltage grows with the speed of the teeth, e = k·f·sin(2πft). The state's input is
 * the frequency of the teeth, Hz; on the engine's own wheel it is the engine's over time. At rest and for a direct-voltage meter it is its resistance. Source: induction law; wide gaps give less.
 */
export const pickup: DeviceKind<z.infer<typeof settings>> = {
  kind: "pickup",
  family: "sensor",
  words: "inductive sensor",
  settings,
  terminals: () => [
    { name: "1", role: "signal" },
    { name: "2", role: "signal" },
  ],
  ways: () => twoPinWay("winding"),
  stamp: (s, at, into) => {
    const hertz = Math.max(0, at.input ?? toothHertz(s.teethPerTurn, at));
    into.winding("winding", "1", ".emf", s.ohms * copperFactor(at.temperatureC), s.henries);
    into.source("induced voltage", ".emf", "2", 0, 1e-3, {
      kind: "sine",
      offset: 0,
      amplitude: s.voltsPerHertz * hertz,
      hertz: Math.max(1e-3, hertz),
      delayS: 0,
      dampingPerS: 0,
    });
  },
  modes: () => [
    ...twoPinModes("winding", 2, 1),
    {
      id: "weak",
      words: "gap too wide or teeth damaged",
      weight: 1,
      harm: { kind: "settings", change: (voltsPerHertz) => ({ voltsPerHertz }) },
      severities: [5e-4],
    },
  ],
  sights: () => [],
};

/** Root mean square of the open-circuit voltage at a frequency of teeth, V: what a meter on alternating volts shows. */
export const pickupRmsVolts = (voltsPerHertz: number, hertz: number): number => (voltsPerHertz * hertz) / Math.SQRT2;
