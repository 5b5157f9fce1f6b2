import { z } from "zod";
import { type DeviceKind, NO_DEGREE } from "./device.ts";
import { positive, share } from "./settings.ts";
import { teethPerTurn, toothHertz } from "./tooth-wheel.ts";
import { ALWAYS, all } from "./stamp.ts";

const settings = z.strictObject({
  supplyAmps: positive.default(0.008),
  onOhms: positive.default(25),
  /** Below this supply it does not work, V. */
  leastVolts: positive.default(3.8),
  /** Share of the time that its output is low while the wheel turns. */
  lowShare: share.default(0.5),
  teethPerTurn,
});

/**
 * Three-wire Hall sensor: supply P, signal S, ground N. An open collector that pulls the module's pull-up low while a tooth stands before it. Standing wheel: a
 * tooth is there when the state's input is 0 or missing, a gap when it is 1. Turning (input above 1, Hz): low for its share of each period.
 * On the engine's own wheel it turns with it over time; at rest it stands, which is what a meter is told of.
 */
export const hall: DeviceKind<z.infer<typeof settings>> = {
  kind: "hall",
  family: "sensor",
  words: "three-wire sensor",
  settings,
  terminals: () => [
    { name: "P", role: "reference" },
    { name: "S", role: "signal" },
    { name: "N", role: "ground" },
  ],
  ways: () => [
    { part: "supply", a: "P", b: "N", consumes: true },
    { part: "output", a: "S", b: "N", consumes: false },
  ],
  stamp: (s, at, into) => {
    // A steady draw as a resistance at 5 V.
    into.resistor("supply", "P", "N", 5 / s.supplyAmps);
    const alive = into.watcher("P", "N", s.leastVolts, s.leastVolts - 0.3);
    const hertz = at.input ?? toothHertz(s.teethPerTurn, at);
    if (hertz > 1 && at.transient) {
      into.source("wheel", ".wheel", "N", 0, 1, {
        kind: "pulse",
        low: 0,
        high: 1,
        delayS: 0,
        riseS: 1e-6,
        fallS: 1e-6,
        widthS: s.lowShare / hertz,
        periodS: 1 / hertz,
      });
      into.resistor("wheel's end", ".wheel", "N", 1);
      return into.contact("output", "S", "N", all(alive, into.watcher(".wheel", "N", 0.3, 0.2)), s.onOhms);
    }
    const low = hertz > 1 ? at.phase < s.lowShare : hertz < 0.5;
    if (low) into.contact("output", "S", "N", all(alive, ALWAYS), s.onOhms);
  },
  modes: () => [
    { id: "supply open", words: "supply open inside", weight: 1.5, harm: { kind: "open", part: "supply" }, severities: NO_DEGREE },
    {
      id: "output dead",
      words: "output never pulls low",
      weight: 2,
      harm: { kind: "stuck", part: "output", closed: false },
      severities: NO_DEGREE,
    },
    {
      id: "output stuck",
      words: "output stuck low",
      weight: 1,
      harm: { kind: "shunt", a: "S", b: "N" },
      effect: "stuck closed",
      severities: [25],
    },
    { id: "shorted", words: "supply shorted inside", weight: 1, harm: { kind: "shunt", a: "P", b: "N" }, severities: [1, 20] },
  ],
  pulses: (s, at) => ((at.input ?? 0) > 1 ? [s.lowShare] : []),
  sights: () => [],
};
