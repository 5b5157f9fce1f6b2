import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect } from "chai";
import { lostAfter, runToBeCut, type CutRun } from "../test/cut-run.ts";

/** The same numbers at every run (a linear congruential generator with the constants of Numerical Recipes). */
function chanceOf(seed: number): () => number {
  let state = seed >>> 0;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

describe("a power cut", () => {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-cut-"));
  let run: CutRun;
  before(async () => {
    run = await runToBeCut(join(folder, "data"), 25);
  });
  after(() => rmSync(folder, { recursive: true, force: true }));

  it("takes nothing that was acknowledged, whatever of the rest has reached the disk", async () => {
    const { ops } = run.recording;
    const first = run.acknowledged[0]!.at;
    expect(run.acknowledged.length).to.equal(4 + 4 * 25);
    // The moment of an acknowledgement, the middle of a checkpoint, and the end.
    const synced = ops.flatMap((op, i) => (op.kind === "sync" && i > first ? [i] : []));
    for (const [n, cut] of [run.acknowledged[40]!.at, synced[Math.floor(synced.length / 2)]! + 1, ops.length].entries())
      expect(await lostAfter(run, cut, chanceOf(n + 1), join(folder, "cut")), `cut at ${cut} of ${ops.length}`).to.deep.equal([]);
  });

  it("would take some if syncs did not reach the disk: the test can fail", async () => {
    const unsynced: CutRun = {
      ...run,
      recording: { ...run.recording, ops: run.recording.ops.filter((op) => op.kind !== "sync" && op.kind !== "sync folder") },
    };
    // The moments count operations, of which there are fewer now: a cut at the end.
    const wrong = await lostAfter(unsynced, unsynced.recording.ops.length, chanceOf(7), join(folder, "cut")).catch(() => ["does not open"]);
    expect(wrong).to.not.deep.equal([]);
  });
});
