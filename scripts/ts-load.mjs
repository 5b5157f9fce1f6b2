import { createHash } from "node:crypto";
import { mkdir, readFile, rename, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { fileURLToPath } from "node:url";

/** What was stripped once is kept by its contents, for the many processes and threads that tests start. */
const KEPT = fileURLToPath(new URL("../.cache/ts/", import.meta.url));
const FORM = "1";
/** Load hook: strips the types of .ts and .tsx files, with inline source maps so that stack traces name source lines. */
export async function load(url, context, nextLoad) {
  if (!/\.tsx?$/.test(new URL(url).pathname)) return nextLoad(url, context);
  const path = fileURLToPath(url);
  const text = await readFile(path, "utf8");
  const kept = join(KEPT, createHash("sha1").update(FORM).update(path).update("\0").update(text).digest("hex"));
  const source = await readFile(kept, "utf8").catch(() => strip(path, text, kept));
  return { format: "module", source, shortCircuit: true };
}

async function strip(path, text, kept) {
  const { transform } = await import("esbuild");
  const { code } = await transform(text, {
    loader: path.endsWith("x") ? "tsx" : "ts",
    format: "esm",
    target: "node20",
    jsx: "automatic",
    sourcemap: "inline",
    sourcefile: path,
  });
  // Another process may write the same at the same time: whole or not at all. Where nothing can be written, it is stripped again the next time.
  const begun = `${kept}.${process.pid}.${Math.round(performance.now() * 1000)}`;
  await mkdir(KEPT, { recursive: true })
    .then(() => writeFile(begun, code))
    .then(() => rename(begun, kept))
    .catch(() => undefined);
  return code;
}
