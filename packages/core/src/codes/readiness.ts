import { z } from "zod";

/** Which monitors of the emissions services are there, and have run since codes were cleared. */
export const readiness = z.strictObject({
  module: z.string().max(40),
  /** The warning lamp is asked for. */
  lamp: z.boolean(),
  monitors: z.array(z.strictObject({ name: z.string().max(40), complete: z.boolean() })).max(24),
});
export type ReadinessEntry = z.infer<typeof readiness>;

/** Names of the bits of PID 0x01, lowest first; SAE J1979 (ISO 15031-5), annex B, table for byte B and for bytes C and D. "" is reserved. */
const CONTINUOUS = ["misfire", "fuel system", "components"] as const;
const SPARK = [
  "catalyst",
  "heated catalyst",
  "evaporative system",
  "secondary air",
  "particulate filter",
  "oxygen sensor",
  "oxygen sensor heater",
  "EGR or valve timing",
] as const;
const DIESEL = [
  "NMHC catalyst",
  "NOx aftertreatment",
  "",
  "boost pressure",
  "",
  "exhaust gas sensor",
  "particulate filter",
  "EGR or valve timing",
] as const;

interface Bits {
  readonly there: number;
  readonly incomplete: number;
}

/** The monitors that a module has, by name, from the bits that it answers with. */
export function readyMonitors({
  diesel,
  continuous,
  others,
}: {
  readonly diesel: boolean;
  readonly continuous: Bits;
  readonly others: Bits;
}): ReadinessEntry["monitors"] {
  const named = (names: readonly string[], { there, incomplete }: Bits): ReadinessEntry["monitors"] =>
    names.flatMap((name, i) => (name === "" || (there & (1 << i)) === 0 ? [] : [{ name, complete: (incomplete & (1 << i)) === 0 }]));
  return [...named(CONTINUOUS, continuous), ...named(diesel ? DIESEL : SPARK, others)];
}
