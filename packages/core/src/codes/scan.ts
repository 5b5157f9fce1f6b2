import { z } from "zod";
import { readCode } from "./structure.ts";
import { readiness } from "./readiness.ts";
import { failureWords } from "./failure-type.ts";
import { STATUS_WORDS, statusWord, type StatusWord } from "./status.ts";

/** Values that may be stored with one code. */
const MOST_STORED = 120;

/** One code of one module. */
export const codeEntry = z.strictObject({
  module: z.string().max(40),
  code: z.string().regex(/^[PCBU][0-3][0-9A-F]{3}$/),
  failureType: z
    .string()
    .regex(/^[0-9A-F]{2}$/)
    .optional(),
  status: z.enum(STATUS_WORDS),
  /** The whole status byte, where the tool gave it. */
  statusByte: z.number().int().min(0).max(255).optional(),
  /** What was stored with it, by name; units in the name. */
  snapshot: z
    .record(z.string().max(60), z.number().min(-1e12).max(1e12))
    .refine((values) => Object.keys(values).length <= MOST_STORED, { message: `at most ${MOST_STORED} values` })
    .optional(),
});
export type CodeEntry = z.infer<typeof codeEntry>;

/** All modules asked at one time: who answered, and what they had. */
export const scan = z.strictObject({
  format: z.literal("rheonom-scan"),
  version: z.literal(1),
  takenAt: z.iso.datetime().max(40),
  source: z.enum(["typed", "import", "scan"]),
  /** Modules that were asked, with whether they answered. */
  modules: z
    .array(
      z.strictObject({
        id: z.string().max(40),
        answers: z.boolean(),
        /** It is not expected to answer with the key and engine as they were. */
        asleep: z.boolean().optional(),
      }),
    )
    .max(200),
  codes: z.array(codeEntry).max(2000),
  /** Where a module answers the emissions services. */
  readiness: z.array(readiness).max(20).optional(),
});
export type Scan = z.infer<typeof scan>;

/** "P0301-13", or without its failure type. */
export const codeName = (e: Pick<CodeEntry, "code" | "failureType">): string =>
  e.failureType === undefined ? e.code : `${e.code}-${e.failureType}`;

/** Something in a text that could not be read: line and column from 1. */
export interface Misread {
  readonly line: number;
  readonly column: number;
  readonly found: string;
  readonly expected: string;
}

export interface TypedCodes {
  readonly codes: readonly CodeEntry[];
  /** Modules that were said to be silent. */
  readonly silent: readonly string[];
  readonly misread: readonly Misread[];
}

/**
 * Reads what is typed off a scan tool, one code a line: `U0100-87 active ECM`. Status and module may stand in either order or be left out (stored; no module); `ECM silent` says that
 * a module does not answer. What is good is kept; each line that is not is named with the character and what was expected.
 */
export function readTypedCodes(text: string): TypedCodes {
  const codes: CodeEntry[] = [];
  const silent: string[] = [];
  const misread: Misread[] = [];
  text.split(/\r?\n/).forEach((raw, i) => {
    const words = [...raw.matchAll(/[^\s,;]+/g)].map((m) => ({ text: m[0], column: m.index + 1 }));
    const [first, ...rest] = words;
    if (first === undefined || first.text.startsWith("#")) return;
    const bad = (column: number, found: string, expected: string): void => void misread.push({ line: i + 1, column, found, expected });
    if (rest.length === 1 && /^silent$/i.test(rest[0]!.text)) {
      silent.push(first.text.toUpperCase());
      return;
    }
    const read = readCode(first.text);
    if (read.kind === "bad") return bad(first.column + read.at, read.found, read.expected);
    let status: StatusWord | undefined;
    let module: string | undefined;
    for (const w of rest) {
      const known = STATUS_WORDS.find((s) => s === w.text.toLowerCase());
      if (known !== undefined && status === undefined) status = known;
      else if (known === undefined && module === undefined && /^[A-Za-z][\w-]{0,39}$/.test(w.text)) module = w.text.toUpperCase();
      else
        return bad(
          w.column,
          w.text,
          status === undefined ? `one of ${STATUS_WORDS.join(", ")}, or a module` : "a module, or the end of the line",
        );
    }
    const { id, failureType } = read.code;
    codes.push({ module: module ?? "", code: id, ...(failureType === undefined ? {} : { failureType }), status: status ?? "stored" });
  });
  return { codes, silent, misread };
}

const COLUMNS = ["module", "code", "failure type", "status", "status byte", "words"] as const;
const quoted = (s: string): string => (/[",\n]/.test(s) ? `"${s.replaceAll('"', '""')}"` : s);

/** A scan as a table, RFC 4180, CRLF. Modules that did not answer have a line of their own without code. */
export function writeScanCsv({ modules, codes }: Scan): string {
  const rows = [
    ...codes.map((c) => [
      c.module,
      c.code,
      c.failureType ?? "",
      c.status,
      c.statusByte === undefined ? "" : `0x${c.statusByte.toString(16).toUpperCase().padStart(2, "0")}`,
      c.failureType === undefined ? "" : failureWords(c.failureType),
    ]),
    ...modules.filter((m) => !m.answers).map((m) => [m.id, "", "", "silent", "", ""]),
  ];
  return [COLUMNS as readonly string[], ...rows].map((r) => `${r.map(quoted).join(",")}\r\n`).join("");
}

/** Reads such a table, also one with its columns in another order or with some left out; `code` must be there. */
export function readScanCsv(text: string): TypedCodes {
  const lines = text.split(/\r?\n/).filter((l) => l.trim() !== "");
  const head = (lines[0] ?? "").split(",").map((c) => c.trim().toLowerCase());
  const at = (name: (typeof COLUMNS)[number]): number => head.indexOf(name);
  if (at("code") < 0)
    return {
      codes: [],
      silent: [],
      misread: [{ line: 1, column: 1, found: head.join(","), expected: `a head with the column "code", such as ${COLUMNS.join(",")}` }],
    };
  const codes: CodeEntry[] = [];
  const silent: string[] = [];
  const misread: Misread[] = [];
  lines.slice(1).forEach((raw, i) => {
    const cells = raw.split(",").map((c) => c.trim().replace(/^"|"$/g, ""));
    const cell = (name: (typeof COLUMNS)[number]): string => cells[at(name)] ?? "";
    const column = (name: (typeof COLUMNS)[number]): number =>
      cells.slice(0, Math.max(0, at(name))).join(",").length + 1 + (at(name) > 0 ? 1 : 0);
    const module = cell("module").toUpperCase();
    if (cell("code") === "" && cell("status").toLowerCase() === "silent") {
      silent.push(module);
      return;
    }
    const type = cell("failure type");
    const read = readCode(type === "" ? cell("code") : `${cell("code").slice(0, 5)}-${type}`);
    if (read.kind === "bad")
      return void misread.push({ line: i + 2, column: column("code") + read.at, found: read.found, expected: read.expected });
    const byte = cell("status byte") === "" ? undefined : Number(cell("status byte"));
    if (byte !== undefined && !(Number.isInteger(byte) && byte >= 0 && byte <= 255))
      return void misread.push({
        line: i + 2,
        column: column("status byte"),
        found: cell("status byte"),
        expected: "a byte, such as 0x2F",
      });
    const said = STATUS_WORDS.find((s) => s === cell("status").toLowerCase());
    if (said === undefined && cell("status") !== "" && byte === undefined)
      return void misread.push({
        line: i + 2,
        column: column("status"),
        found: cell("status"),
        expected: `one of ${STATUS_WORDS.join(", ")}`,
      });
    const { id, failureType } = read.code;
    codes.push({
      module,
      code: id,
      ...(failureType === undefined ? {} : { failureType }),
      status: said ?? (byte === undefined ? undefined : statusWord(byte)) ?? "stored",
      ...(byte === undefined ? {} : { statusByte: byte }),
    });
  });
  return { codes, silent, misread };
}

/** What changed from one scan to the next, by module and code: what came back after clearing is a hard fault, what did not may be intermittent or history. */
export interface ScanChange {
  readonly gone: readonly CodeEntry[];
  readonly came: readonly CodeEntry[];
  readonly stayed: readonly { readonly before: CodeEntry; readonly now: CodeEntry }[];
}
/** What is gone, came and stayed between two scans. Entries are the same when module and code are. */
export function compareScans(before: readonly CodeEntry[], now: readonly CodeEntry[]): ScanChange {
  const key = (e: CodeEntry): string => `${e.module} ${codeName(e)}`;
  const [old, fresh] = [new Map(before.map((e) => [key(e), e])), new Map(now.map((e) => [key(e), e]))];
  return {
    gone: before.filter((e) => !fresh.has(key(e))),
    came: now.filter((e) => !old.has(key(e))),
    stayed: now.flatMap((e) => (old.has(key(e)) ? [{ before: old.get(key(e))!, now: e }] : [])),
  };
}
