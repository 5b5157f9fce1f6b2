import { z } from "zod";
import { type FailureMode, NO_DEGREE } from "../device.ts";
import { share } from "../settings.ts";
import { all, ALWAYS, SILICON } from "../stamp.ts";
import { GATE_OHMS, type PinKind } from "./pin.ts";
import { talk, talkRule } from "./talk.ts";

export const linPin = z.strictObject({
  sort: z.literal("lin"),
  master: z.boolean().default(false),
  traffic: share.default(0),
  holds: z.boolean().default(false),
  talk,
});

/** Of a node and its stretch of wire, F (ISO 17987-4). */
const LINE_FARADS = 470e-12;

/** Pull-ups of ISO 17987: 1 kΩ at the master, 30 kΩ at each slave, each behind a diode. */
const MASTER_OHMS = 1000;
const SLAVE_OHMS = 30_000;
/** Transistor of the driver; with the master's 1 kΩ the line falls well below 20 % of the feed. */
export const LIN_DRIVE_OHMS = 40;
/** Leakage of the receiver as a resistance, Ω. */
const RECEIVER_OHMS = 2e6;
/** A receiver sees recessive above this share of its feed and dominant below the other. */
export const LIN_RECESSIVE_SHARE = 0.6;
export const LIN_DOMINANT_SHARE = 0.4;

/** LIN transceiver: pulled up to the module's feed, pulled low to send. Source: ISO 17987-4. */
export const lin: PinKind<z.infer<typeof linPin>> = {
  sort: "lin",
  role: "bus",
  stamp: (p, c, into) => {
    const { pin, awake, at } = c;
    into.resistor(`${pin} pull-up`, ".supply", `.${pin} pull`, p.master ? MASTER_OHMS : SLAVE_OHMS);
    into.diode(`${pin} pull-up diode`, `.${pin} pull`, `.${pin} gate`, SILICON);
    into.contact(`${pin} pull-up gate`, `.${pin} gate`, pin, awake, GATE_OHMS);
    into.resistor(`${pin} receiver`, pin, ".ground", RECEIVER_OHMS);
    into.contact(
      `${pin} driver`,
      pin,
      ".ground",
      all(awake, p.holds || at.phase < p.traffic ? ALWAYS : talkRule(p.talk, LINE_FARADS, c, into)),
      LIN_DRIVE_OHMS,
    );
  },
  modes: (p, pin, change): readonly FailureMode[] => [
    {
      id: `${pin} holds`,
      words: `transceiver holds LIN ${pin} low`,
      weight: 0.4,
      harm: { kind: "settings", change: () => change({ holds: true }) },
      effect: "holds",
      severities: NO_DEGREE,
    },
    ...(p.master
      ? [
          {
            id: `${pin} pull-up lost`,
            words: `master pull-up of ${pin} lost`,
            weight: 0.3,
            harm: { kind: "open", part: `${pin} pull-up` },
            severities: NO_DEGREE,
          } as const,
        ]
      : []),
  ],
  pulses: (p) => (p.traffic > 0 && p.traffic < 1 ? [p.traffic] : []),
};
