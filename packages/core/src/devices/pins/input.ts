import { z } from "zod";
import { type FailureMode, NO_DEGREE } from "../device.ts";
import { positive } from "../settings.ts";
import { GATE_OHMS, type PinKind } from "./pin.ts";

export const inputPin = z.strictObject({
  sort: z.literal("input"),
  pull: z.enum(["up", "down", "none"]).default("up"),
  pullOhms: positive.default(2200),
  /** Voltage it is pulled up to, V; the module's own supply when not given as a number. */
  pullVolts: z.union([positive, z.literal("supply")]).default(5),
  inputOhms: positive.default(1e6),
});

/** Input with a pull-up or pull-down that works while the module is awake, and its own input resistance. */
export const input: PinKind<z.infer<typeof inputPin>> = {
  sort: "input",
  role: "signal",
  stamp: (p, { pin, awake }, into) => {
    into.resistor(`${pin} input`, pin, ".ground", p.inputOhms);
    if (p.pull === "down") into.resistor(`${pin} pull-down`, pin, ".ground", p.pullOhms);
    if (p.pull !== "up") return;
    if (p.pullVolts === "supply") into.resistor(`${pin} pull-up`, ".supply", `.${pin} bias`, p.pullOhms);
    else into.source(`${pin} pull-up`, `.${pin} bias`, ".ground", p.pullVolts, p.pullOhms);
    into.contact(`${pin} bias`, `.${pin} bias`, pin, awake, GATE_OHMS);
  },
  modes: (p, pin): readonly FailureMode[] =>
    p.pull === "none"
      ? []
      : [
          {
            id: `${pin} pull lost`,
            words: `pull-${p.pull} of ${pin} lost inside`,
            weight: 0.4,
            harm: { kind: "open", part: p.pull === "up" ? `${pin} bias` : `${pin} pull-down` },
            severities: NO_DEGREE,
          },
        ],
};
