import { readFileSync } from "node:fs";
import { basename } from "node:path";
import { parseArgs } from "node:util";
import { decodeText, printNotation, readTables, writeTables } from "@rheonom/core/notation";
import { readWhole } from "./circuit-options.ts";
import { UsageError, type Output } from "./usage.ts";

/**
 * `rheonom import FILE... [--notation]`: CSV tables, a circuit text or JSON as a harness on standard output. Every problem goes to standard error by file, row
 * and column; with an error nothing else is written.
 */
export function importCommand(args: readonly string[], out: Output, err: Output): number {
  let parsed;
  try {
    parsed = parseArgs({
      args: [...args],
      options: { notation: { type: "boolean" }, tables: { type: "boolean" } },
      allowPositionals: true,
      strict: true,
    });
  } catch (error) {
    throw new UsageError(error instanceof Error ? error.message : String(error));
  }
  const { positionals: files, values } = parsed;
  if (files.length === 0) throw new UsageError("A file is missing.");
  const whole = files.length === 1 && /\.(json|circuit)$/i.test(files[0]!) ? readWhole(files[0]!) : undefined;
  const read = whole === undefined ? readTables(files.map(tableFile)) : { harness: whole, problems: [] };
  for (const p of read.problems)
    err.write(`${p.file}:${p.row}${p.column === "" ? "" : ` ${p.column}`}: ${p.severity === "warning" ? "doubt: " : ""}${p.message}\n`);
  if (read.harness === undefined) return 1;
  if (values.tables === true) for (const t of writeTables(read.harness)) out.write(`# ${t.name}\r\n${t.text}\r\n`);
  else out.write(values.notation === true ? printNotation(read.harness) : `${JSON.stringify(read.harness, null, 2)}\n`);
  return 0;
}

function tableFile(path: string): { name: string; text: string } {
  let bytes: Uint8Array;
  try {
    bytes = readFileSync(path);
  } catch (error) {
    throw new UsageError(`${path} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  }
  const { text, doubtful } = decodeText(bytes);
  if (doubtful) throw new UsageError(`${path} is not text. Save the sheet as CSV and give that file.`);
  return { name: basename(path), text };
}
