import { readFileSync } from "node:fs";
import { parseArgs, type ParseArgsConfig } from "node:util";

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
    throw new UsageError(`${file} is no JSON: ${error instanceof Error ? error.message : String(error)}`);
  }
}
