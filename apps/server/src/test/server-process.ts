import { spawn, type ChildProcess } from "node:child_process";
import { fileURLToPath } from "node:url";

const ROOT = fileURLToPath(new URL("../../../..", import.meta.url));

export interface RunningServer {
  readonly process: ChildProcess;
  readonly url: string;
  /** Ends it as `kill -9` would and waits until it is gone. */
  readonly kill: (signal?: NodeJS.Signals) => Promise<void>;
}

/** Starts the server from its sources on a free loopback port. Rejects with what it printed when it does not come up. */
export function startServer(dataFolder: string, env: Record<string, string> = {}): Promise<RunningServer> {
  const child = spawn(process.execPath, ["--import", "./scripts/ts-hook.mjs", "apps/server/src/main.ts"], {
    cwd: ROOT,
    env: { ...process.env, PORT: "0", HOST: "127.0.0.1", RHEONOM_DATA: dataFolder, ...env },
    stdio: ["ignore", "pipe", "pipe"],
  });
  const gone = new Promise<void>((resolve) => child.once("exit", () => resolve()));
  const kill = async (signal: NodeJS.Signals = "SIGKILL"): Promise<void> => {
    child.kill(signal);
    await gone;
  };
  return new Promise((resolve, reject) => {
    let said = "";
    const listen = (chunk: Buffer): void => {
      said += chunk.toString("utf8");
      const url = /http:\/\/\S+?(?=\/\s)/.exec(said)?.[0];
      if (url !== undefined) resolve({ process: child, url, kill });
    };
    child.stdout.on("data", listen);
    child.stderr.on("data", listen);
    child.once("exit", (code) => reject(new Error(`exit ${code}: ${said}`)));
  });
}
