import { z } from "zod";
import { type FailureMode, NO_DEGREE } from "../device.ts";
import { share } from "../settings.ts";
import { all, ALWAYS } from "../stamp.ts";
import { GATE_OHMS, type PinKind } from "./pin.ts";
import { talk, talkRule } from "./talk.ts";

export const canPin = z.strictObject({
  sort: z.enum(["can high", "can low"]),
  /** Share of the time that this module holds the line dominant; one module of a bus stands for its traffic. */
  traffic: share.default(0),
  /** Its driver holds the line dominant for good. */
  holds: z.boolean().default(false),
  talk,
});

/** Of a node and its stretch of wire, each line against ground, F (ISO 11898-2 and usual twisted pairs). */
const LINE_FARADS = 200e-12;

const RECESSIVE_VOLTS = 2.5;
const BIAS_OHMS = 25_000;
export const CAN_DRIVE_VOLTS = 5;
/** With 60 Ω across, 5 V behind twice this leave 2 V between the lines: 3.5 and 1.5 V. */
export const CAN_DRIVE_OHMS = 45;

/**
 * One line of a high-speed CAN transceiver: 2.5 V behind 25 kΩ while awake, to ground behind 25 kΩ asleep; dominant it drives CAN high from 5 V, CAN low to
 * ground, each behind 45 Ω, which gives about 3.5 and 1.5 V over 60 Ω. The 120 Ω at each end are resistors of their own. Source: levels of ISO 11898-2.
 */
export const can: PinKind<z.infer<typeof canPin>> = {
  sort: "can high",
  role: "bus",
  stamp: (p, c, into) => {
    const { pin, awake, at } = c;
    into.source(`${pin} bias`, `.${pin} bias`, ".ground", RECESSIVE_VOLTS, BIAS_OHMS);
    into.contact(`${pin} bias gate`, `.${pin} bias`, pin, awake, GATE_OHMS);
    into.resistor(`${pin} leak`, pin, ".ground", 40 * BIAS_OHMS);
    const talking = talkRule(p.talk, LINE_FARADS, c, into);
    const driving = p.holds || at.phase < p.traffic ? ALWAYS : talking;
    if (p.sort === "can high") {
      into.source(`${pin} drive`, `.${pin} drive`, ".ground", CAN_DRIVE_VOLTS, CAN_DRIVE_OHMS);
      into.contact(`${pin} driver`, `.${pin} drive`, pin, all(awake, driving), GATE_OHMS);
    } else into.contact(`${pin} driver`, pin, ".ground", all(awake, driving), CAN_DRIVE_OHMS);
  },
  modes: (p, pin, change): readonly FailureMode[] => [
    {
      id: `${pin} holds`,
      words: `driver of ${p.sort} stuck on`,
      weight: 0.15,
      harm: { kind: "settings", change: () => change({ holds: true }) },
      effect: "holds",
      severities: NO_DEGREE,
    },
  ],
  pulses: (p) => (p.traffic > 0 && p.traffic < 1 ? [p.traffic] : []),
};
