// npm run bench:kill-store [ROUNDS]: as bench:kill, with the part of the server that owns the data alone, which starts several times quicker.
import { spawn } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createInterface } from "node:readline";
import { fileURLToPath } from "node:url";
import { build } from "esbuild";

const ROUNDS = Number(process.argv[2] ?? 1000);
const ROOT = fileURLToPath(new URL("../..", import.meta.url));
const folder = mkdtempSync(join(process.env.BENCH_TMP ?? tmpdir(), "rheonom-kill-"));
const program = join(ROOT, ".cache", `store-child-${process.pid}.mjs`);
mkdirSync(join(ROOT, ".cache"), { recursive: true });
await build({
  entryPoints: [join(ROOT, "bench/load/store-child.ts")],
  outfile: program,
  bundle: true,
  platform: "node",
  format: "esm",
  target: "node20",
  external: ["@electric-sql/pglite", "fs-native-extensions", "pg", "pg-native"],
  banner: { js: 'import { createRequire as cr } from "node:module"; const require = cr(import.meta.url);' },
  logLevel: "error",
});

interface Round {
  readonly jobs: string[];
  readonly stored: string[];
  readonly found: Set<string>;
  readonly twice: number;
}

/** One life: looks for what earlier ones stored, appends, and is killed in the middle (or ends by itself after looking). */
function live(mode: "prepare" | "go" | "look", jobs: readonly string[]): Promise<Round> {
  const child = spawn(process.execPath, [program, folder, ROOT, mode], { stdio: ["pipe", "pipe", "inherit"] });
  child.stdin.end(jobs.join("\n"));
  const round = { jobs: [] as string[], stored: [] as string[], found: new Set<string>(), twice: 0 };
  createInterface({ input: child.stdout }).on("line", (line) => {
    const [word, id = ""] = line.split(" ");
    if (word === "job") round.jobs.push(id);
    if (word === "found") {
      if (round.found.has(id)) round.twice++;
      round.found.add(id);
    }
    if (word !== "stored") return;
    round.stored.push(id);
    if (round.stored.length === 4) setTimeout(() => child.kill("SIGKILL"), Math.random() * 120);
  });
  return new Promise((done, failed) => {
    child.on("close", (code, signal) =>
      code === 0 || signal === "SIGKILL" ? done(round) : failed(new Error(`the store ended with ${code}`)),
    );
  });
}

const jobs: string[] = [];
const stored: string[] = [];
let twice = 0;
let before: Round | undefined;
let lost = 0;
for (let round = 0; round < ROUNDS; round++) {
  const now = await live(round === 0 ? "prepare" : "go", before?.jobs ?? []);
  for (const id of before?.stored ?? []) if (!now.found.has(id)) lost++;
  twice += now.twice;
  jobs.push(...now.jobs);
  stored.push(...now.stored);
  before = now;
  if (round % 50 === 49) process.stderr.write(`${round + 1} kills, ${stored.length} acknowledged, ${lost} lost, ${twice} twice\n`);
}
const last = await live("look", jobs);
lost = stored.filter((id) => !last.found.has(id)).length;
rmSync(folder, { recursive: true, force: true });
rmSync(program, { force: true });
console.log(
  `| ${ROUNDS} × kill -9 of the part that owns the data, acknowledged events lost | ${lost} of ${stored.length} (${twice + last.twice} twice) | 0 |`,
);
process.exit(lost + twice + last.twice === 0 ? 0 : 1);
