import { z } from "zod";
import { type FailureMode, NO_DEGREE } from "../device.ts";
import { positive, share } from "../settings.ts";
import { all, ALWAYS, NEVER } from "../stamp.ts";
import { GATE_OHMS, type PinKind } from "./pin.ts";

export const singleWirePin = z.strictObject({
  sort: z.literal("single wire"),
  highVolts: positive.default(4),
  traffic: share.default(0),
  holds: z.boolean().default(false),
});

/** Load of each member to ground, and resistance of a driver. */
const LOAD_OHMS = 9_100;
const DRIVE_OHMS = 50;

/** Single-wire bus: rests at 0 V through every member's 9.1 kΩ, driven up to about 4 V to send. Source: general form of single-wire CAN (SAE J2411). */
export const singleWire: PinKind<z.infer<typeof singleWirePin>> = {
  sort: "single wire",
  role: "bus",
  stamp: (p, { pin, awake, at }, into) => {
    into.resistor(`${pin} load`, pin, ".ground", LOAD_OHMS);
    into.source(`${pin} drive`, `.${pin} drive`, ".ground", p.highVolts, DRIVE_OHMS);
    into.contact(`${pin} driver`, `.${pin} drive`, pin, all(awake, p.holds || at.phase < p.traffic ? ALWAYS : NEVER), GATE_OHMS);
  },
  modes: (_, pin, change): readonly FailureMode[] => [
    {
      id: `${pin} holds`,
      words: `transceiver holds ${pin} high`,
      weight: 0.4,
      harm: { kind: "settings", change: () => change({ holds: true }) },
      effect: "holds",
      severities: NO_DEGREE,
    },
  ],
  pulses: (p) => (p.traffic > 0 && p.traffic < 1 ? [p.traffic] : []),
};
