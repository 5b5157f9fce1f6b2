import { applyEdit, harnessSchema, validateHarness, type Harness, type HarnessEdit, type HarnessProblem } from "@rheonom/core/harness";
import { decodeText, MAX_NOTATION_LENGTH, type ParseResult, type TableFile, type TablesRead } from "@rheonom/core/notation";

/** Something wrong in a file, with its place as far as it has one. */
export interface FileProblem {
  readonly severity: "error" | "warning";
  readonly file: string;
  readonly row: number | undefined;
  readonly column: string;
  readonly message: string;
  readonly fix?: HarnessProblem["fix"];
}

export interface FilesRead {
  readonly harness: Harness | undefined;
  /** What was read with its errors, where fixes can be made. */
  readonly draft?: Harness;
  readonly problems: readonly FileProblem[];
  readonly found: readonly string[];
}

/** Larger files are turned down unread, bytes. */
const LARGEST = 20_000_000;

const fail = (file: string, message: string): FilesRead => ({
  harness: undefined,
  problems: [{ severity: "error", file, row: undefined, column: "", message }],
  found: [],
});

/** Who reads tables and circuit texts: the worker, so that the page stays alive. */
export interface Reader {
  readonly tables: (files: readonly TableFile[], onProgress: (share: number) => void) => Promise<TablesRead>;
  readonly parse: (text: string) => Promise<ParseResult>;
}

/** Reads what was chosen: one JSON document, one circuit text, or any number of tables. Nothing is stored. */
export async function readFiles(files: readonly File[], reader: Reader, onProgress: (share: number) => void): Promise<FilesRead> {
  const large = files.find((f) => f.size > LARGEST);
  if (large !== undefined)
    return fail(
      large.name,
      `This file has ${(large.size / 1e6).toFixed(0)} MB; at most ${LARGEST / 1e6} MB are read. Export only the wiring, or split it.`,
    );
  const texts: (TableFile & { readonly encoding: string })[] = [];
  for (const f of files) {
    const { text, encoding, doubtful } = decodeText(new Uint8Array(await f.arrayBuffer()));
    if (doubtful) return fail(f.name, "This is not text. Choose JSON, a circuit text or CSV tables.");
    texts.push({ name: f.name, text, encoding });
  }
  const single = texts.length === 1 ? texts[0]! : undefined;
  if (single !== undefined && /^\s*\{/.test(single.text)) return readJson(single.name, single.text);
  if (single !== undefined && !/\.(csv|tsv)$/i.test(single.name) && /--|^\s*circuit\b/m.test(single.text))
    return readText(single.name, single.text, reader);
  const strange = texts.find((t) => /\.(json|circuit)$/i.test(t.name));
  if (strange !== undefined) return fail(strange.name, "Choose this file alone: JSON and circuit texts hold a whole vehicle.");
  const read = await reader.tables(
    texts.map(({ name, text }) => ({ name, text })),
    onProgress,
  );
  const old: FileProblem[] = texts
    .filter((t) => t.encoding === "Windows-1252")
    .map((t) => ({
      severity: "warning",
      file: t.name,
      row: undefined,
      column: "",
      message: "Read as Windows-1252, since it is not UTF-8. Check letters such as ä and Ω.",
    }));
  return {
    harness: read.harness,
    problems: [...old, ...read.problems],
    found: read.found.map((f) => `${f.file}: ${f.rows} rows of ${f.table}`),
  };
}

function readJson(file: string, text: string): FilesRead {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return fail(file, `This is not valid JSON: ${error instanceof Error ? error.message : String(error)}`);
  }
  const parsed = harnessSchema.safeParse(data);
  if (!parsed.success) {
    const problems = parsed.error.issues.slice(0, 200).map((i): FileProblem => ({
      severity: "error",
      file,
      row: undefined,
      column: i.path.join("."),
      message: i.message,
    }));
    return { harness: undefined, problems, found: [] };
  }
  return checked(file, parsed.data);
}

function checked(file: string, draft: Harness): FilesRead {
  const problems = validateHarness(draft).map((p): FileProblem => ({
    severity: p.severity,
    file,
    row: undefined,
    column: p.at,
    message: p.message,
    ...(p.fix === undefined ? {} : { fix: p.fix }),
  }));
  const usable = !problems.some((p) => p.severity === "error");
  return { harness: usable ? draft : undefined, draft, problems, found: [`${file}: ${draft.wires.length} wires`] };
}

/** What was read with a change made to it, looked at anew. */
export const mend = (read: FilesRead, edit: HarnessEdit): FilesRead =>
  read.draft === undefined ? read : checked(read.problems[0]?.file ?? "", applyEdit(read.draft, edit));

async function readText(file: string, text: string, reader: Reader): Promise<FilesRead> {
  if (text.length > MAX_NOTATION_LENGTH)
    return fail(file, `A circuit text has at most ${MAX_NOTATION_LENGTH.toLocaleString("en")} characters. Use tables for larger ones.`);
  const { harness, problems } = await reader.parse(text);
  return {
    harness,
    problems: problems.map((p) => ({ severity: p.severity, file, row: p.line, column: String(p.column), message: p.message })),
    found: [`${file}: ${text.split("\n").length} lines`],
  };
}
