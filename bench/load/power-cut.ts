// npm run bench:power [CUTS]: the power goes at any moment of a recorded run; nothing acknowledged may be missing afterwards.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { lostAfter, runToBeCut } from "../../apps/server/src/test/cut-run.ts";

const CUTS = Number(process.argv[2] ?? 50);
const folder = mkdtempSync(join(process.env.BENCH_TMP ?? tmpdir(), "rheonom-power-"));
const run = await runToBeCut(join(folder, "data"), 60);
const { ops } = run.recording;
const first = run.acknowledged[0]!.at;
let wrong = 0;
for (let i = 0; i < CUTS; i++) {
  const cut = first + Math.floor(Math.random() * (ops.length - first + 1));
  const found = await lostAfter(run, cut, Math.random, join(folder, "cut"));
  wrong += found.length;
  if (found.length > 0) console.error(`cut at ${cut} of ${ops.length}:`, found);
}
rmSync(folder, { recursive: true, force: true });
console.log(`| ${CUTS} × power cut, acknowledged events lost | ${wrong} (of up to ${run.acknowledged.length} each) | 0 |`);
process.exit(wrong === 0 ? 0 : 1);
