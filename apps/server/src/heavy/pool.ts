import { fileURLToPath } from "node:url";
import workerpool from "workerpool";
import { AppError } from "../errors.ts";
import { type Failed, unpackError } from "../store/rpc.ts";
import { threadFile } from "../store/thread-file.ts";
import type { Tasks } from "./tasks.ts";

/** Runs tasks in threads, with limits of time, memory and number. Rejects with what the task throws, or AppError work-busy or work-too-long. */
export interface Heavy {
  readonly run: <N extends keyof Tasks>(name: N, ...args: Parameters<Tasks[N]>) => Promise<Awaited<ReturnType<Tasks[N]>>>;
  /** The same for somebody who may leave; undefined then. */
  readonly runWhile: <N extends keyof Tasks>(
    waiting: Waiting,
    name: N,
    ...args: Parameters<Tasks[N]>
  ) => Promise<Awaited<ReturnType<Tasks[N]>> | undefined>;
  readonly stop: () => Promise<void>;
}

/** Who waits for a task. */
export interface Waiting {
  /** Says that nobody waits any more. */
  readonly signal: AbortSignal;
  /** Told what the task tells meanwhile. */
  readonly onTold?: (told: unknown) => void;
}

interface Lane {
  readonly seconds: number;
  readonly advice: string;
  readonly queue: number;
}
/** What somebody waits for with the leads in their hands has a thread of its own, so that no print holds it up. */
const LANES = {
  quick: { seconds: 10, advice: "The circuit of this job may be too large for it.", queue: 32 },
  captures: { seconds: 60, advice: "Record a shorter time, or with the engine stopped.", queue: 4 },
  // A class ends at the same time. Its two halves are worked out beside each other.
  plans: { seconds: 120, advice: "The circuit of this job may be too large for it.", queue: 32 },
  debriefs: { seconds: 120, advice: "The circuit of this job may be too large for it.", queue: 32 },
  /** A whole class begins in the same minute. */
  making: { seconds: 60, advice: "Choose a smaller vehicle or another family.", queue: 40 },
  slow: { seconds: 30, advice: "Print a part of it, or ask for the open data instead.", queue: 8 },
} as const satisfies Record<string, Lane>;
const LANE_OF: Record<keyof Tasks, keyof typeof LANES> = {
  simulate: "quick",
  look: "quick",
  capture: "captures",
  lineFacts: "quick",
  reportJson: "slow",
  paper: "slow",
  readingsCsv: "slow",
  writeBundle: "slow",
  writeShelf: "slow",
  readShelf: "slow",
  readBundle: "slow",
  groundsPdf: "slow",
  facePdf: "slow",
  importHarness: "slow",
  practice: "making",
  practiceOfRepair: "making",
  drill: "making",
  // Behind no other walk: the first of a class does not wait for the last.
  debrief: "quick",
  debriefWalk: "debriefs",
  debriefPlan: "plans",
};
/** Memory of one thread, MB; a task that needs more is ended with its thread. */
const MOST_MB = 256;

/** How long a thread is kept without work, ms. */
const REST_MS = 20_000;
type LaneName = keyof typeof LANES;

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
  const pools = new Map<LaneName, workerpool.Pool>();
  const poolOf = (name: LaneName): workerpool.Pool => {
    const known = pools.get(name);
    if (known !== undefined) return known;
    const made = make(LANES[name]);
    pools.set(name, made);
    return made;
  };
  /** A thread that nobody has used for a while gives its memory back. */
  const rest = setInterval(() => {
    for (const [name, pool] of pools) {
      const { busyWorkers, pendingTasks } = pool.stats();
      if (busyWorkers > 0 || pendingTasks > 0 || Date.now() - (usedAt.get(name) ?? 0) < REST_MS) continue;
      pools.delete(name);
      void pool.terminate(true).catch(() => undefined);
    }
  }, REST_MS / 2).unref();
  const usedAt = new Map<LaneName, number>();
  async function run(name: keyof Tasks, args: readonly unknown[], { signal, onTold }: Partial<Waiting> = {}): Promise<unknown> {
    const laneName = LANE_OF[name];
    const lane = LANES[laneName];
    const isGone = (): boolean => signal?.aborted === true;
    if (isGone()) return undefined;
    let outcome: Outcome;
    try {
      usedAt.set(laneName, Date.now());
      const asked = poolOf(laneName)
        .exec(name, [...args], onTold === undefined ? {} : { on: onTold })
        .timeout(lane.seconds * 1000);
      // A thread that computes hears nothing: it is ended with what it does.
      signal?.addEventListener("abort", () => void asked.cancel(), { once: true });
      outcome = (await asked) as Outcome;
    } catch (error) {
      if (isGone()) return undefined;
      throw refusalOf(error, lane);
    } finally {
      usedAt.set(laneName, Date.now());
    }
    if ("failed" in outcome) throw unpackError(outcome.failed);
    return outcome.value;
  }
  return {
    run: (name, ...args) => run(name, args) as Promise<never>,
    runWhile: (waiting, name, ...args) => run(name, args, waiting) as Promise<never>,
    stop: async () => {
      clearInterval(rest);
      await Promise.all([...pools.values()].map((pool) => pool.terminate(true)));
    },
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
