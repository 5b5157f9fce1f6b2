import { z } from "zod";
import { REST_STATE, vehicleState, type VehicleState } from "@rheonom/core/circuit";
import { draftKey, type BenchDraft } from "./bench.ts";

const draft = z.object({
  /** Without what the tray adds. */
  state: vehicleState,
  red: z.string().max(60),
  black: z.string().max(60),
  around: z.string().max(60),
  text: z.string().max(60),
  mode: z.enum(["volts", "ohms", "amps"]),
  /** The field that a tap on the drawing fills. */
  armed: z.enum(["red", "black"]),
  scale: z.enum(["ends", "even"]),
  setAt: z.number().default(0),
});
const EMPTY: BenchDraft = {
  state: REST_STATE,
  red: "",
  black: "",
  around: "",
  text: "",
  mode: "volts",
  armed: "red",
  scale: "ends",
  setAt: 0,
};

/** The draft kept in the browser's storage, or an empty one in the state of the job's latest reading. */
export function readDraft(jobId: string, lastState: VehicleState = REST_STATE): BenchDraft {
  const fresh = { ...EMPTY, state: { ...lastState, opened: [], bridged: [] } };
  try {
    const kept = draft.safeParse(JSON.parse(localStorage.getItem(draftKey(jobId)) ?? "null"));
    return kept.success ? kept.data : fresh;
  } catch {
    return fresh;
  }
}
