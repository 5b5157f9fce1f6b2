import { z } from "zod";
import { type FailureMode, NO_DEGREE } from "../device.ts";
import { positive, share } from "../settings.ts";
import { all, ALWAYS } from "../stamp.ts";
import { GATE_OHMS, type PinKind } from "./pin.ts";
import { talk, talkRule } from "./talk.ts";

export const singleWirePin = z.strictObject({
  sort: z.literal("single wire"),
  highVolts: positive.default(4),
  traffic: share.default(0),
  holds: z.boolean().default(false),
  talk,
});

/** Load of each member to ground, and resistance of a driver. */
const LOAD_OHMS = 9_100;
const DRIVE_OHMS = 50;
/** Of a node and its stretch of wire against ground, F. */
const LINE_FARADS = 220e-12;

/** Single-wire bus: rests at 0 V through every member's 9.1 kΩ, driven up to about 4 V to send. Source: general form of single-wire CAN (SAE J2411). */
export const singleWire: PinKind<z.infer<typeof singleWirePin>> = {
  sort: "single wire",
  role: "bus",
  stamp: (p, c, into) => {
    const { pin, awake, at } = c;
    const talking = talkRule(p.talk, LINE_FARADS, c, into);
    into.resistor(`${pin} load`, pin, ".ground", LOAD_OHMS);
    into.source(`${pin} drive`, `.${pin} drive`, ".ground", p.highVolts, DRIVE_OHMS);
    into.contact(`${pin} driver`, `.${pin} drive`, pin, all(awake, p.holds || at.phase < p.traffic ? ALWAYS : talking), GATE_OHMS);
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
