import { z } from "zod";
import { copperFactor } from "./copper.ts";
import { type DeviceKind, NO_DEGREE, SERIES_OHMS, SHUNT_OHMS } from "./device.ts";
import { positive, share } from "./settings.ts";
import { not, SILICON } from "./stamp.ts";

const settings = z.strictObject({
  /** At 20 °C. Typical: 85 Ω for 12 V, 320 Ω for 24 V. */
  coilOhms: positive.default(85),
  coilHenries: positive.default(0.4),
  /** What damps the coil when it is switched off. With the diode, 86 must be the positive side. */
  suppression: z.enum(["none", "resistor", "diode"]).default("none"),
  suppressorOhms: positive.default(680),
  /** Pull-in and drop-out as shares of nominal voltage at 20 °C; a warm coil needs more. */
  pullInShare: share.default(0.6),
  dropOutShare: share.default(0.22),
  contactOhms: positive.default(0.003),
  changeover: z.boolean().default(false),
});

/**
 * Relay with terminals 85, 86 (coil), 30, 87 and 87a (contacts). The coil is a resistance that follows copper; the contact moves at fixed coil currents, so
 * that its voltages rise with the coil's temperature.
 *
 * Valid for −40…125 °C. No bounce, no travel time. Source: limits of ISO 7588-1 (pull-in ≤ 60–65 %, drop-out 10–35 % of nominal).
 */
export const relay: DeviceKind<z.infer<typeof settings>> = {
  kind: "relay",
  family: "switching",
  words: "relay",
  settings,
  terminals: (s) => [
    { name: "86", role: "control" },
    { name: "85", role: "control" },
    { name: "30", role: "feed" },
    { name: "87", role: "load" },
    ...(s.changeover ? [{ name: "87a", role: "load" } as const] : []),
  ],
  ways: (s) => [
    { part: "coil", a: "86", b: "85", consumes: true },
    { part: "contact", a: "30", b: "87", consumes: false },
    ...(s.changeover ? [{ part: "rest contact", a: "30", b: "87a", consumes: false }] : []),
  ],
  stamp: (s, at, into) => {
    const warm = copperFactor(at.temperatureC);
    into.winding("coil", "86", "85", s.coilOhms * warm, s.coilHenries);
    if (s.suppression === "resistor") into.resistor("suppressor", "86", "85", s.suppressorOhms);
    if (s.suppression === "diode") into.diode("suppressor", "85", "86", SILICON);
    // With inductance in the course, the voltage over the coil's resistance is its current.
    const end = at.transient ? ".coil" : "85";
    const pulled = into.watcher("86", end, s.pullInShare * at.nominalVolts * warm, s.dropOutShare * at.nominalVolts * warm, {
      eitherWay: true,
      pace: "contact",
    });
    into.contact("contact", "30", "87", pulled, s.contactOhms);
    if (s.changeover) into.contact("rest contact", "30", "87a", not(pulled), s.contactOhms);
  },
  modes: (s) => [
    { id: "coil open", words: "coil open circuit", weight: 1.5, harm: { kind: "open", part: "coil" }, severities: NO_DEGREE },
    { id: "coil shorted", words: "coil shorted inside", weight: 0.5, harm: { kind: "shunt", a: "86", b: "85" }, severities: [0.5, 10] },
    { id: "contact worn", words: "contact burnt", weight: 3, harm: { kind: "series", part: "contact" }, severities: SERIES_OHMS },
    {
      id: "contact dead",
      words: "contact does not close",
      weight: 2,
      harm: { kind: "stuck", part: "contact", closed: false },
      severities: NO_DEGREE,
    },
    {
      id: "contact welded",
      words: "contact welded",
      weight: 1,
      harm: { kind: "stuck", part: "contact", closed: true },
      severities: NO_DEGREE,
    },
    ...(s.suppression === "diode"
      ? [
          {
            id: "diode shorted",
            words: "suppression diode shorted",
            weight: 0.3,
            harm: { kind: "shunt", a: "86", b: "85" },
            severities: [SHUNT_OHMS[0]],
          } as const,
        ]
      : []),
    ...(s.changeover
      ? [
          {
            id: "rest contact worn",
            words: "rest contact burnt",
            weight: 1,
            harm: { kind: "series", part: "rest contact" },
            severities: SERIES_OHMS,
          } as const,
        ]
      : []),
  ],
  sights: (_, __, inside) => [{ kind: "pulled in", yes: inside.closed("contact") }],
};
