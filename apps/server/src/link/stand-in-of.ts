import type { Instrument } from "@rheonom/core/diagnosis";
import { uuid7 } from "@rheonom/core/job";
import { AppError } from "../errors.ts";
import type { Heavy } from "../heavy/pool.ts";
import type { LineFacts } from "../heavy/tasks.ts";
import type { Store } from "../store/store.ts";
import { startStandIn, type StandIn, type StandInKind, type StandIns } from "./stand-in-process.ts";

export interface StandInParts {
  readonly store: Store;
  readonly heavy: Heavy;
  readonly root: string;
  readonly standIns: StandIns;
}

/** What a line needs of a job's log, while somebody moves a spot of the vehicle or nothing. Rejects with AppError job-not-found. */
export async function factsOf(jobId: string, { store, heavy }: Pick<StandInParts, "store" | "heavy">, moving?: string): Promise<LineFacts> {
  const { log, ...hidden } = await store.readJobWithTruth(jobId);
  return heavy.run("lineFacts", log, hidden, moving);
}

const TOOL_OF = { vehicle: "scan tool", meter: "meter", scope: "scope" } as const satisfies Record<StandInKind, Instrument>;

/** The simulated vehicle of a job, or an instrument at it, started when it is first asked for. Rejects with AppError: no-stand-in, no-circuit, practice-tool, stand-in-late. */
export async function standInOf(jobId: string, kind: StandInKind, parts: StandInParts): Promise<StandIn> {
  const { truth } = await parts.store.readJobWithTruth(jobId);
  if (truth === undefined) throw new AppError("no-stand-in");
  const { harness, faults, without } = await factsOf(jobId, parts);
  const tool = TOOL_OF[kind];
  if (without.includes(tool)) throw new AppError("practice-tool", { tool });
  if (harness === undefined) throw new AppError("no-circuit");
  return parts.standIns.of(`${jobId} ${kind}`, () => startStandIn(parts.root, harness, faults, kind));
}

/** What has been mended is sound on the simulated vehicle from then on, also on a line that stays open meanwhile; what comes and goes is there or not as for every other instrument. */
export async function tellFaults(jobId: string, standIn: StandIn | undefined, parts: StandInParts, moving?: string): Promise<void> {
  const { now } = await factsOf(jobId, parts, moving);
  await standIn?.work({ do: "faults", faults: now });
}

/** Refuses what is no job of this shop. Rejects with AppError job-not-found. */
export async function checkJob(jobId: string, store: Store): Promise<void> {
  if (!uuid7.safeParse(jobId).success || !(await store.jobExists(jobId))) throw new AppError("job-not-found", { id: jobId });
}
