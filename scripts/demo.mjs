// npm run demo [-- --fresh]: everything from a fresh clone to a running application with the demo data.
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { root } from "./run.mjs";
import { ensureBuild, ensureDependencies, fail } from "./setup.mjs";

const unknown = process.argv.slice(2).filter((a) => a !== "--fresh");
if (unknown.length > 0)
  fail(`Unknown option ${unknown.join(" ")}. The only one is --fresh, which empties the data folder and starts over.`);
await ensureDependencies();
await ensureBuild();
process.env.RHEONOM_DEMO = "1";
if (process.argv.includes("--fresh")) process.env.RHEONOM_FRESH = "1";
process.setSourceMapsEnabled(true);
// Watched over from this process, so that a signal to the command reaches the server, and one that dies is started anew.
await import(pathToFileURL(join(root, "apps/server/dist/supervised.mjs")).href);
