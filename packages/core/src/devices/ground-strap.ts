import { z } from "zod";
import { celsius, metres, squareMillimetres } from "../quantity/index.ts";
import { type DeviceKind, NO_DEGREE } from "./device.ts";
import { positive } from "./settings.ts";
import { twoTerminals } from "./two-pin.ts";
import { wireOhms } from "./wire.ts";

const settings = z.strictObject({
  areaMm2: positive.default(25),
  lengthM: positive.default(0.25),
  /** Each end: lug, bolt and the metal under them. Sound 0.05–0.5 mΩ. */
  lugOhms: positive.default(0.15e-3),
});

/** A braid is longer than it looks: its strands run at an angle. */
const BRAID_FACTOR = 1.1;

/**
 * Braided strap between engine, body and battery: R = 1.1·ρ₂₀·L/A·(1 + α·(T − 20)) and two lugs. Sound straps have 0.1–1 mΩ; corrosion sits under the lugs, broken strands in
 * the braid. Valid as copper is; a heavily loaded strap is warmer than its surroundings. Source: copper as in wire.ts, angle of usual braids.
 */
export const groundStrap: DeviceKind<z.infer<typeof settings>> = {
  kind: "strap",
  family: "passive",
  words: "ground strap",
  settings,
  terminals: () => twoTerminals,
  ways: () => [{ part: "braid", a: "1", b: "2", consumes: false }],
  stamp: (s, at, into) => {
    into.resistor("first lug", "1", ".braid", s.lugOhms);
    into.resistor(
      "braid",
      ".braid",
      ".end",
      BRAID_FACTOR * wireOhms(squareMillimetres(s.areaMm2), metres(s.lengthM), celsius(at.temperatureC)),
    );
    into.resistor("second lug", ".end", "2", s.lugOhms);
  },
  modes: () => [
    { id: "open", words: "strap broken or missing", weight: 1.5, harm: { kind: "open", part: "braid" }, severities: NO_DEGREE },
    {
      id: "first lug corroded",
      words: "strap corroded under its first lug",
      mend: "clean the lug and its seat to bright metal and tighten",
      weight: 3,
      harm: { kind: "series", part: "first lug" },
      severities: [0.005, 0.02, 0.1, 1, 100],
    },
    {
      id: "second lug corroded",
      words: "strap corroded under its second lug",
      mend: "clean the lug and its seat to bright metal and tighten",
      weight: 3,
      harm: { kind: "series", part: "second lug" },
      severities: [0.005, 0.02, 0.1, 1, 100],
    },
    {
      id: "frayed",
      words: "strands broken",
      weight: 1,
      harm: { kind: "settings", change: (areaMm2) => ({ areaMm2 }) },
      severities: [5, 1],
    },
  ],
  sights: () => [],
};
