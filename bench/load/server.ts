import { spawn, type ChildProcess } from "node:child_process";
import { Agent, request } from "node:http";
import { performance } from "node:perf_hooks";
import { fileURLToPath } from "node:url";
import { FRUGAL } from "../../apps/server/src/frugal.ts";

const ROOT = fileURLToPath(new URL("../..", import.meta.url));

/** How long the server's event loop was held up, ms, and its memory, MB, since the last time it was asked. */
export interface Probe {
  readonly p99Ms: number;
  readonly p999Ms: number;
  readonly maxMs: number;
  readonly rssMb: number;
}

export interface LoadedServer {
  readonly process: ChildProcess;
  readonly port: number;
  readonly startMs: number;
  readonly probe: () => Promise<Probe>;
  readonly end: (signal?: NodeJS.Signals) => Promise<void>;
}

/** Starts the built server, as its supervisor does, on a free loopback port, with a probe of its event loop. Rejects with what it printed. */
export function startBuilt(dataFolder: string, env: Record<string, string> = {}): Promise<LoadedServer> {
  const began = performance.now();
  const child = spawn(process.execPath, [...FRUGAL.execArgv, "--import", "./bench/load/probe.mjs", "apps/server/dist/main.mjs"], {
    cwd: ROOT,
    env: { ...process.env, ...FRUGAL.env, PORT: "0", HOST: "127.0.0.1", RHEONOM_DATA: dataFolder, RHEONOM_DEMO: "0", ...env },
    stdio: ["ignore", "pipe", "pipe"],
  });
  const gone = new Promise<void>((done) => child.once("exit", () => done()));
  let said = "";
  let told: ((probe: Probe) => void) | undefined;
  return new Promise((done, failed) => {
    child.stdout.on("data", (chunk: Buffer) => {
      said += chunk.toString("utf8");
      const port = /127\.0\.0\.1:(\d+)\/\s/.exec(said)?.[1];
      if (port !== undefined)
        done({
          process: child,
          port: Number(port),
          startMs: performance.now() - began,
          probe: () =>
            new Promise((answer) => {
              told = answer;
              child.kill("SIGUSR2");
            }),
          end: async (signal = "SIGTERM") => {
            child.kill(signal);
            await gone;
          },
        });
      const probe = /^probe (.*)\n/m.exec(said);
      if (probe === null) return;
      said = said.replace(probe[0], "");
      told?.(JSON.parse(probe[1]!) as Probe);
    });
    child.stderr.on("data", (chunk: Buffer) => (said += chunk.toString("utf8")));
    child.once("exit", (code) => failed(new Error(`the server ended with ${code}: ${said}`)));
  });
}

const agent = new Agent({ keepAlive: true, maxSockets: 200 });

/** One request; resolves with status, body and how long it took, ms. Rejects when the connection is lost. */
export function ask(
  port: number,
  method: "GET" | "POST",
  path: string,
  body?: unknown,
): Promise<{ readonly status: number; readonly bytes: Buffer; readonly ms: number }> {
  const began = performance.now();
  const text = body === undefined ? undefined : JSON.stringify(body);
  return new Promise((done, failed) => {
    const asked = request(
      {
        host: "127.0.0.1",
        port,
        method,
        path,
        agent,
        timeout: 60_000,
        headers: text === undefined ? {} : { "content-type": "application/json", "content-length": Buffer.byteLength(text) },
      },
      (response) => {
        const chunks: Buffer[] = [];
        response.on("data", (chunk: Buffer) => chunks.push(chunk));
        response.on("end", () => done({ status: response.statusCode ?? 0, bytes: Buffer.concat(chunks), ms: performance.now() - began }));
        response.on("error", failed);
      },
    );
    asked.on("error", failed);
    asked.on("timeout", () => asked.destroy(new Error("no answer within 60 s")));
    asked.end(text);
  });
}

/** A share of sorted numbers, such as 0.99. */
export const percentile = (values: readonly number[], share: number): number =>
  [...values].sort((p, q) => p - q)[Math.min(values.length - 1, Math.floor(values.length * share))] ?? Number.NaN;
