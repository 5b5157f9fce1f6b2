import { fileURLToPath } from "node:url";
import workerpool from "workerpool";
import { AppError } from "../errors.ts";
import { type Failed, unpackError } from "../store/rpc.ts";
import { threadFile } from "../store/thread-file.ts";
import type { Tasks } from "./tasks.ts";

/** Runs tasks in threads, with limits of time, memory and number. Rejects with what the task throws, or AppError work-busy or work-too-long. */
export interface Heavy {
  readonly run: <N extends keyof Tasks>(name: N, ...args: Parameters<Tasks[N]>) => Promise<Awaited<ReturnType<Tasks[N]>>>;
  readonly stop: () => Promise<void>;
}

interface Lane {
  readonly seconds: number;
  readonly advice: string;
  readonly queue: number;
}
/** What somebody waits for with the leads in their hands has a thread of its own, so that no print holds it up. */
const LANES = {
  quick: { seconds: 10, advice: "The circuit of this job may be too large for it.", queue: 32 },
  slow: { seconds: 30, advice: "Print a part of it, or ask for the open data instead.", queue: 8 },
} as const satisfies Record<string, Lane>;
const LANE_OF: Record<keyof Tasks, keyof typeof LANES> = {
  simulate: "quick",
  lineFacts: "quick",
  reportJson: "slow",
  reportPdf: "slow",
  groundsPdf: "slow",
  facePdf: "slow",
  importHarness: "slow",
};
/** Memory of one thread, MB; a task that needs more is ended with its thread. */
const MOST_MB = 384;

type Outcome = { readonly value: unknown } | { readonly failed: Failed };

export function createHeavy(): Heavy {
  const script = fileURLToPath(threadFile(import.meta.url, "heavy-worker.mjs", "./worker.ts"));
  const make = (lane: Lane): workerpool.Pool =>
    workerpool.pool(script, {
      workerType: "thread",
      maxWorkers: 1,
      maxQueueSize: lane.queue,
      workerThreadOpts: { resourceLimits: { maxOldGenerationSizeMb: MOST_MB } },
      workerTerminateTimeout: 100,
    });
  const pools = { quick: make(LANES.quick), slow: make(LANES.slow) };
  return {
    run: async (name, ...args) => {
      const lane = LANES[LANE_OF[name]];
      let outcome: Outcome;
      try {
        outcome = (await pools[LANE_OF[name]].exec(name, [...args]).timeout(lane.seconds * 1000)) as Outcome;
      } catch (error) {
        throw refusalOf(error, lane);
      }
      if ("failed" in outcome) throw unpackError(outcome.failed);
      return outcome.value as never;
    },
    stop: async () => void (await Promise.all([pools.quick.terminate(true), pools.slow.terminate(true)])),
  };
}

function refusalOf(error: unknown, lane: Lane): unknown {
  if (error instanceof workerpool.Promise.TimeoutError)
    return new AppError("work-too-long", { seconds: String(lane.seconds), advice: lane.advice });
  const message = error instanceof Error ? error.message : String(error);
  if (/queue size/i.test(message)) return new AppError("work-busy");
  if (/terminated|memory/i.test(message)) return new AppError("work-too-long", { seconds: String(lane.seconds), advice: lane.advice });
  return error;
}
