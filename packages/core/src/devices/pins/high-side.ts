import { z } from "zod";
import { bentAt } from "../curves.ts";
import { positive } from "../settings.ts";
import { all, not, SILICON } from "../stamp.ts";
import { GATE_OHMS, type PinKind } from "./pin.ts";
import { driverModes, pulsedOutput, pulseRule, sharesOf } from "./pulse.ts";

export const highSidePin = z.strictObject({
  sort: z.literal("high"),
  onOhms: positive.default(0.02),
  /** It lets no more through than this, A, whatever the load. */
  limitAmps: positive.default(25),
  ...pulsedOutput,
  /** What it drives to, V behind `sourceOhms`; the module's feed when not given as a number. */
  volts: z.union([positive, z.literal("supply")]).default("supply"),
  sourceOhms: positive.default(100),
  biasVolts: positive.default(5),
  biasOhms: positive.default(100_000),
});

/** Slope behind the limit, S. */
const BEYOND = 0.02;

/**
 * High-side driver: a transistor from the module's feed, limited in current; into a short it holds its limit and the output falls. Off, a weak bias shows
 * an open load. Thermal switch-off and retries are not shown.
 */
export const highSide: PinKind<z.infer<typeof highSidePin>> = {
  sort: "high",
  role: "output",
  stamp: (p, context, into) => {
    const { pin, awake, wanted, at } = context;
    // The freewheeling way of an inductive load.
    if (at.transient && p.duty < 1) into.diode(`${pin} freewheel`, ".ground", pin, SILICON);
    const on = all(awake, wanted, pulseRule(p, context, into));
    if (p.volts === "supply") into.curve(`${pin} limit`, ".supply", `.${pin} limit`, bentAt(p.onOhms, p.limitAmps * p.onOhms, BEYOND));
    else into.source(`${pin} limit`, `.${pin} limit`, ".ground", p.volts, p.sourceOhms);
    into.contact(`${pin} driver`, `.${pin} limit`, pin, on, 1e-3);
    into.source(`${pin} bias`, `.${pin} bias`, ".ground", p.biasVolts, p.biasOhms);
    into.contact(`${pin} bias gate`, `.${pin} bias`, pin, all(awake, not(on)), GATE_OHMS);
  },
  modes: (_, pin) => driverModes(pin),
  pulses: sharesOf,
};
