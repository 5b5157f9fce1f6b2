import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Run } from "../waveform/decode/runs.ts";

/** A line's levels as a value change dump, the usual format of logic analysers. */
function dump(runs: readonly Run[]): string {
  const at = (seconds: number): string => `#${Math.round(seconds * 1e9)}`;
  return [
    "$timescale 1 ns $end",
    "$scope module top $end",
    "$var wire 1 ! RX $end",
    "$upscope $end",
    "$enddefinitions $end",
    ...runs.flatMap((r) => [at(r.startS), `${r.isHigh ? 1 : 0}!`]),
    at(runs.at(-1)!.endS),
  ].join("\n");
}

/** What Debian's logic decoder, the independent tool that ours are compared with, says of a line: one annotation a line. */
export function decodedElsewhere(runs: readonly Run[], decoder: string, annotations: string): readonly string[] {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-logic-"));
  try {
    const file = join(folder, "line.vcd");
    writeFileSync(file, dump(runs));
    // Ten samples of a hundred nanoseconds are enough for a bit of any bus here, and quick.
    const args = ["-I", "vcd:downsample=100", "-i", file, "-P", decoder, "-A", annotations];
    return execFileSync("sigrok-cli", args, { encoding: "utf8", stdio: ["ignore", "pipe", "pipe"] })
      .split("\n")
      .filter((l) => l !== "")
      .map((l) => l.replace(/^\w+-\d+: /, ""));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT")
      throw new Error("sigrok-cli is not installed: apt-get install sigrok-cli", { cause: error });
    throw error;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
