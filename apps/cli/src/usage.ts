import { readFileSync } from "node:fs";
import { parseArgs, type ParseArgsConfig } from "node:util";
import { findNodeAtLocation, parseTree } from "jsonc-parser";

/** Where a command writes; a stream, or a collector in tests. */
export interface Output {
  readonly write: (text: string) => unknown;
}

/** The command line or a file cannot be used; the message says why and what to do. */
export class UsageError extends Error {}

export function readFile(path: string): string {
  try {
    return readFileSync(path, "utf8");
  } catch (error) {
    throw new UsageError(`${path} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  }
}

/** Reads options and exactly one file name. */
export function readOptions<T extends NonNullable<ParseArgsConfig["options"]>>(
  args: readonly string[],
  options: T,
): { readonly file: string; readonly values: ReturnType<typeof parseArgs<{ options: T }>>["values"] } {
  try {
    const { values, positionals } = parseArgs({ args: [...args], options, allowPositionals: true, strict: true });
    const [file, ...more] = positionals;
    if (file === undefined) throw new UsageError("A file is missing.");
    if (more.length > 0) throw new UsageError(`One file at a time; "${more[0]}" is one too many.`);
    return { file, values: values as ReturnType<typeof parseArgs<{ options: T }>>["values"] };
  } catch (error) {
    if (error instanceof TypeError) throw new UsageError(error.message);
    throw error;
  }
}

/** A file as JSON, not checked yet. */
export function readJson(file: string): unknown {
  const text = readFile(file);
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new UsageError(`${file} is not valid JSON: ${error instanceof Error ? error.message : String(error)}`);
  }
}

/** Where something stands in a JSON file: "case.json:12:7"; the nearest that is there of a path that leads to nothing. */
export function placeInJson(file: string, path: readonly PropertyKey[]): string {
  const text = readFile(file);
  const tree = parseTree(text);
  const steps = path.filter((p): p is string | number => typeof p !== "symbol");
  for (let depth = steps.length; tree !== undefined && depth >= 0; depth--) {
    const node = findNodeAtLocation(tree, steps.slice(0, depth));
    if (node === undefined) continue;
    const before = text.slice(0, node.offset).split("\n");
    return `${file}:${before.length}:${before.at(-1)!.length + 1}`;
  }
  return file;
}
