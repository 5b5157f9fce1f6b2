import { execFileSync, spawn } from "node:child_process";
import { chmodSync, existsSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";

const HOME = "/usr/lib/postgresql";
const program = (name: string): string | undefined =>
  (existsSync(HOME) ? readdirSync(HOME) : []).map((version) => join(HOME, version, "bin", name)).find((path) => existsSync(path));

/** Whether Debian's PostgreSQL can be started here: it is installed, and this is root, who may become the user that it runs as. */
export const hasPostgres = program("initdb") !== undefined && process.getuid?.() === 0;

export interface RunningPostgres {
  readonly url: string;
  readonly stop: () => Promise<void>;
}

/** A PostgreSQL server of the test's own, on a free loopback port. */
export async function startPostgres(): Promise<RunningPostgres> {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-pg-"));
  chmodSync(folder, 0o777);
  const data = join(folder, "data");
  const as = (name: string, ...args: string[]): [string, string[]] => ["runuser", ["-u", "postgres", "--", program(name)!, ...args]];
  execFileSync(...as("initdb", "-D", data, "-U", "shop", "--auth=trust", "-E", "UTF8", "--no-sync"), { stdio: "ignore", cwd: folder });
  const port = await new Promise<number>((done) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const address = probe.address();
      probe.close(() => done(typeof address === "object" && address !== null ? address.port : 0));
    });
  });
  const child = spawn(...as("postgres", "-D", data, "-p", String(port), "-k", folder, "-c", "listen_addresses=127.0.0.1"), {
    cwd: folder,
    stdio: ["ignore", "ignore", "pipe"],
  });
  const gone = new Promise<void>((done) => child.once("exit", () => done()));
  await new Promise<void>((ready, failed) => {
    let said = "";
    child.stderr.on("data", (chunk: Buffer) => {
      said += chunk.toString("utf8");
      if (said.includes("ready to accept connections")) ready();
    });
    child.once("exit", () => failed(new Error(said)));
  });
  return {
    url: `postgres://shop@127.0.0.1:${port}/postgres`,
    stop: async () => {
      execFileSync(...as("pg_ctl", "-D", data, "-m", "immediate", "stop"), { stdio: "ignore", cwd: folder });
      await gone;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
