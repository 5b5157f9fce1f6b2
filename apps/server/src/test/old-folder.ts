import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { brotliDecompressSync, constants } from "node:zlib";

/**
 * A data folder as the version before job digests left it: one closed job of 17 entries; and a job of an opening and a note followed by a note of the year 10000, which that
 * version took and then could read nothing any more.
 */
export function unpackOldFolder(into: string): void {
  const packed = readFileSync(new URL("../store/fixtures/before-snapshots.tar.br", import.meta.url));
  const tar = brotliDecompressSync(packed, { params: { [constants.BROTLI_DECODER_PARAM_LARGE_WINDOW]: 1 } });
  execFileSync("tar", ["-xf", "-", "-C", into], { input: tar });
}
export const OLD_CLOSED_JOB = "019e362c-1840-791a-ab3c-4d5e6f8091a2";
export const OLD_BRICKED_JOB = "019e45b2-7000-7aaa-8aaa-0123456789ab";
