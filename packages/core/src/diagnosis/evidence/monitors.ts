import type { Harness } from "../../harness/index.ts";

type Monitor = NonNullable<Harness["monitors"]>[number];

/** What sets a code on this vehicle. A tool may add a failure type, as in "U0140-87", that the vehicle's list does not tell apart. */
export const monitorsOf = (harness: Harness, code: string): readonly Monitor[] =>
  harness.monitors?.filter((m) => m.code === code || code.startsWith(`${m.code}-`)) ?? [];
