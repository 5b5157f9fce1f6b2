import { z } from "zod";
import { positive } from "../settings.ts";
import { all, not, SILICON } from "../stamp.ts";
import { GATE_OHMS, type PinKind } from "./pin.ts";
import { driverModes, pulsedOutput, pulseRule, sharesOf } from "./pulse.ts";

export const lowSidePin = z.strictObject({
  sort: z.literal("low"),
  onOhms: positive.default(0.25),
  ...pulsedOutput,
  /** Weak bias while off, by which an open load, a short to ground and a short to feed are told apart. */
  biasVolts: positive.default(2.5),
  biasOhms: positive.default(20_000),
  /** Voltage to which the driver lets a winding swing when it is switched off, V. */
  clampVolts: positive.default(45),
});

/**
 * Low-side driver: a transistor to the module's ground of 0.1–0.5 Ω. While it is off and the module awake, a weak bias of 2.5 V shows on an open load; a
 * sound load pulls it to the feed, a short to ground to 0 V.
 */
export const lowSide: PinKind<z.infer<typeof lowSidePin>> = {
  sort: "low",
  role: "output",
  stamp: (p, context, into) => {
    const { pin, awake, wanted, at } = context;
    const on = all(awake, wanted, pulseRule(p, context, into));
    into.contact(`${pin} driver`, pin, ".ground", on, p.onOhms);
    into.source(`${pin} bias`, `.${pin} bias`, ".ground", p.biasVolts, p.biasOhms);
    into.contact(`${pin} bias gate`, `.${pin} bias`, pin, all(awake, not(on)), GATE_OHMS);
    if (at.transient) {
      into.diode(`${pin} clamp`, pin, `.${pin} clamp`, SILICON);
      into.source(`${pin} clamp voltage`, `.${pin} clamp`, ".ground", p.clampVolts, 0.1);
    }
  },
  modes: (_, pin) => driverModes(pin),
  pulses: sharesOf,
};
