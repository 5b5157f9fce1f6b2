import { z } from "zod";
import { limitedSource } from "../curves.ts";
import { type FailureMode, NO_DEGREE } from "../device.ts";
import { positive } from "../settings.ts";
import { GATE_OHMS, type PinKind } from "./pin.ts";

export const referencePin = z.strictObject({
  sort: z.literal("reference"),
  volts: positive.default(5),
  /** 50–150 mA; beyond it the output falls, and all its users lose it together. */
  limitAmps: positive.default(0.1),
  ohms: positive.default(0.05),
});

/** Reference for sensors: a linear regulator with a current limit, alive while the module is awake. */
export const reference: PinKind<z.infer<typeof referencePin>> = {
  sort: "reference",
  role: "reference",
  stamp: (p, { pin, awake }, into) => {
    into.curve(`${pin} regulator`, `.${pin} regulator`, ".ground", limitedSource(p.volts, p.ohms, p.limitAmps));
    into.contact(`${pin} gate`, `.${pin} regulator`, pin, awake, GATE_OHMS * 0.1);
    // Discharges the line while it is off.
    into.resistor(`${pin} bleeder`, pin, ".ground", 50_000);
  },
  modes: (_, pin, change): readonly FailureMode[] => [
    { id: `${pin} dead`, words: `reference ${pin} dead`, weight: 0.5, harm: { kind: "open", part: `${pin} gate` }, severities: NO_DEGREE },
    {
      id: `${pin} low`,
      words: `reference ${pin} too low or too high`,
      weight: 0.3,
      harm: { kind: "settings", change: (volts) => change({ volts }) },
      effect: "holds",
      severities: [4.2, 4.7, 5.5],
    },
  ],
};
