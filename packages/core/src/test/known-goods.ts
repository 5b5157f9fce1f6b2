import { REST_STATE } from "../circuit/index.ts";
import type { KnownGood } from "../job/index.ts";

/** A known-good of the van's cavity C5.3, key run, with what a test wants otherwise. */
export const knownGood = (id: string, part: Partial<KnownGood> = {}): KnownGood => ({
  id,
  at: "2026-11-30T10:00:00.000Z",
  by: "Inga",
  vehicle: "plover",
  options: [],
  leads: { quantity: "volts", red: "C5.3a", black: "BAT.-" },
  state: { ...REST_STATE, key: "run" },
  instrument: "typed",
  value: 12.1,
  note: "",
  from: "",
  jobId: null,
  withdrawn: null,
  ...part,
});
