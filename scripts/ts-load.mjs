import { readFile } from "node:fs/promises";
import { fileURLToPath } from "node:url";
import { transform } from "esbuild";

/** Load hook: strips the types of .ts and .tsx files, with inline source maps so that stack traces name source lines. */
export async function load(url, context, nextLoad) {
  if (!/\.tsx?$/.test(new URL(url).pathname)) return nextLoad(url, context);
  const path = fileURLToPath(url);
  const source = await readFile(path, "utf8");
  const { code } = await transform(source, {
    loader: path.endsWith("x") ? "tsx" : "ts",
    format: "esm",
    target: "node20",
    jsx: "automatic",
    sourcemap: "inline",
    sourcefile: path,
  });
  return { format: "module", source: code, shortCircuit: true };
}
