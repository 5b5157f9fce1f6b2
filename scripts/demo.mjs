// npm run demo [-- --fresh]: everything from a fresh clone to a running application with the demo data.
import { spawn } from "node:child_process";
import { join } from "node:path";
import { root } from "./run.mjs";
import { ensureBuild, ensureDependencies, fail } from "./setup.mjs";

const unknown = process.argv.slice(2).filter((a) => a !== "--fresh");
if (unknown.length > 0)
  fail(`Unknown option ${unknown.join(" ")}. The only one is --fresh, which empties the data folder and starts over.`);
await ensureDependencies();
await ensureBuild();
const server = spawn(process.execPath, ["--enable-source-maps", join(root, "apps/server/dist/main.mjs")], {
  cwd: root,
  env: { ...process.env, RHEONOM_DEMO: "1", ...(process.argv.includes("--fresh") ? { RHEONOM_FRESH: "1" } : {}) },
  stdio: "inherit",
});
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.kill(signal));
server.on("exit", (code) => process.exit(code ?? 1));
