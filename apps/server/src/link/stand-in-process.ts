import { spawn, type ChildProcessWithoutNullStreams } from "node:child_process";
import { existsSync } from "node:fs";
import { join } from "node:path";
import { createInterface } from "node:readline";
import { z } from "zod";
import { vehicleState, type Fault } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { AppError } from "../errors.ts";

/** Cycles that the vehicle was driven with its fault before it came in: its modules remember them. */
const DRIVEN_BEFORE = "3";

/** What the stand-in says on its output, a line each. */
const said = z.union([
  z.object({ ready: z.object({ host: z.string(), port: z.number().int() }) }),
  z.object({ told: z.object({ state: vehicleState, moving: z.string().optional(), answers: z.array(z.string()) }) }),
  z.object({ error: z.string() }),
]);
export type Told = Extract<z.infer<typeof said>, { told: unknown }>["told"];

export interface StandIn {
  readonly host: string;
  readonly port: number;
  /** One command; commands are answered in the order in which they came. Rejects with AppError: stand-in-ended, stand-in-refused. */
  readonly work: (command: object) => Promise<Told>;
  readonly stop: () => void;
  readonly isRunning: () => boolean;
}

const START_MS = 20_000;

export type StandInKind = "vehicle" | "meter" | "scope";

/** Starts the simulated vehicle, or an instrument at it, as a process of its own on a free port of this machine. Rejects with AppError stand-in-late. */
export async function startStandIn(
  root: string,
  harness: Harness,
  faults: readonly Fault[],
  kind: StandInKind = "vehicle",
): Promise<StandIn> {
  const built = join(root, "apps/stand-ins/dist/main.mjs");
  const fromSource = ["--import", join(root, "scripts/ts-hook.mjs"), join(root, "apps/stand-ins/src/main.ts")];
  const child = spawn(
    process.execPath,
    [...(existsSync(built) ? [built] : fromSource), "--kind", kind, "--json", "--port", "0", "--driven", DRIVEN_BEFORE],
    {
      stdio: ["pipe", "pipe", "pipe"],
    },
  );
  let running = true;
  let complaint = "";
  const waiting: { readonly done: (told: Told) => void; readonly failed: (error: Error) => void }[] = [];
  child.stderr.on("data", (text: Buffer) => (complaint = `${complaint}${text.toString()}`.slice(-500)));
  child.stdin.on("error", () => undefined);
  const ended = (): void => {
    running = false;
    for (const w of waiting.splice(0)) w.failed(new AppError("stand-in-ended", {}, [], complaint));
  };
  child.on("error", ended);
  child.on("close", ended);
  const ready = readyOf(child, waiting, () => complaint);
  child.stdin.write(`${JSON.stringify({ harness, faults })}\n`);
  const { host, port } = await ready.catch((error: unknown) => {
    child.kill();
    throw error;
  });
  return {
    host,
    port,
    isRunning: () => running,
    work: (command) =>
      new Promise((done, failed) => {
        if (!running) return failed(new AppError("stand-in-ended"));
        waiting.push({ done, failed });
        child.stdin.write(`${JSON.stringify(command)}\n`);
      }),
    stop: () => {
      running = false;
      child.kill();
    },
  };
}

function readyOf(
  child: ChildProcessWithoutNullStreams,
  waiting: { readonly done: (told: Told) => void; readonly failed: (error: Error) => void }[],
  complaint: () => string,
): Promise<{ readonly host: string; readonly port: number }> {
  return new Promise((done, failed) => {
    const timer = setTimeout(() => failed(new AppError("stand-in-late")), START_MS);
    child.on("close", () => {
      clearTimeout(timer);
      failed(new AppError("stand-in-late", {}, [], complaint()));
    });
    createInterface({ input: child.stdout }).on("line", (line) => {
      const read = said.safeParse(parsed(line));
      if (!read.success) return;
      if ("ready" in read.data) {
        clearTimeout(timer);
        done(read.data.ready);
        return;
      }
      const first = waiting.shift();
      if ("told" in read.data) first?.done(read.data.told);
      else first?.failed(new AppError("stand-in-refused", {}, [], read.data.error));
    });
  });
}

function parsed(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return undefined;
  }
}

/** The simulated vehicles and instruments of all jobs: one of a kind each, started when it is first asked for, ended when nobody has used it for a while. */
export interface StandIns {
  /** `key`: the job's id, with the kind of instrument behind it. */
  readonly of: (key: string, start: () => Promise<StandIn>) => Promise<StandIn>;
  readonly stopAll: () => void;
}

const MOST_RUNNING = 6;

export function createStandIns(): StandIns {
  const running = new Map<string, Promise<StandIn>>();
  return {
    of: async (key, start) => {
      const known = running.get(key);
      if (known !== undefined) {
        const there = await known.catch(() => undefined);
        running.delete(key);
        if (there?.isRunning() === true) {
          // The last used is the last to go.
          running.set(key, known);
          return there;
        }
      }
      while (running.size >= MOST_RUNNING) {
        const [oldest, one] = running.entries().next().value!;
        running.delete(oldest);
        void one.then((s) => s.stop()).catch(() => undefined);
      }
      const made = start();
      running.set(key, made);
      made.catch(() => running.delete(key));
      return made;
    },
    stopAll: () => {
      for (const one of running.values()) void one.then((s) => s.stop()).catch(() => undefined);
      running.clear();
    },
  };
}
