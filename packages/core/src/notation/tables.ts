import { harnessSchema, type Harness, validateHarness } from "../harness/index.ts";
import { plainCell, readCsv } from "./csv.ts";
import { kindOfName } from "./part-item.ts";
import { columnOf, NEEDED, tableOf, type TableName } from "./table-columns.ts";
import { addPart, ROW_READERS, type Draft, type Fault, type Row } from "./table-rows.ts";

export interface TableFile {
  readonly name: string;
  readonly text: string;
}

/** Something wrong in a table. Row counts lines of the file from 1, headings included; column by its heading. */
export interface TableProblem {
  readonly severity: "error" | "warning";
  readonly file: string;
  readonly row: number;
  readonly column: string;
  readonly message: string;
}

export interface TablesRead {
  /** Undefined when there is an error. */
  readonly harness: Harness | undefined;
  readonly problems: readonly TableProblem[];
  readonly found: readonly { readonly file: string; readonly table: TableName; readonly rows: number }[];
}

/** Largest text taken altogether, characters. */
export const MAX_TABLES_LENGTH = 20_000_000;
/** More problems than a person reads; the rest are counted. */
const MAX_PROBLEMS = 500;

/**
 * Reads the tables of a circuit. Nothing is thrown: all that is wrong is told by file, row and column, and a harness comes out only when nothing is.
 * `onProgress`: share of the rows read, 0…1, now and then.
 */
export function readTables(files: readonly TableFile[], onProgress: (share: number) => void = () => undefined): TablesRead {
  const problems: TableProblem[] = [];
  const found: { file: string; table: TableName; rows: number }[] = [];
  const complain = (file: string, row: number, column: string, message: string, severity: TableProblem["severity"] = "error"): void => {
    if (problems.length < MAX_PROBLEMS) problems.push({ severity, file, row, column, message });
    else if (problems.length === MAX_PROBLEMS)
      problems.push({ severity: "error", file, row, column: "", message: `More than ${MAX_PROBLEMS} problems. Mend these first.` });
  };
  const total = files.reduce((sum, f) => sum + f.text.length, 0);
  if (total > MAX_TABLES_LENGTH) {
    const message = `The files have ${(total / 1e6).toFixed(0)} million characters together, and at most ${MAX_TABLES_LENGTH / 1e6} million are read. Split them.`;
    complain(files[0]?.name ?? "", 1, "", message);
    return { harness: undefined, problems, found };
  }
  const draft: Draft = {
    name: "Circuit",
    nominalVolts: 12,
    vehicle: undefined,
    options: [],
    zones: [],
    looms: [],
    monitors: [],
    parts: new Map(),
    wires: [],
    wireIds: new Set(),
    joints: [],
    pins: new Map(),
  };
  const sheets = files.flatMap((f) => {
    const sheet = openTable(f, complain);
    return sheet === undefined ? [] : [sheet];
  });
  // Pins of modules come before the modules, whatever the order of the files.
  const order = (t: TableName): number => (t === "vehicle" ? 0 : t === "pins" ? 1 : 2);
  sheets.sort((p, q) => order(p.table) - order(q.table));
  const all = sheets.reduce((sum, s) => sum + s.rows.length, 0);
  let done = 0;
  for (const sheet of sheets) {
    found.push({ file: sheet.file, table: sheet.table, rows: sheet.rows.length });
    for (const row of sheet.rows) {
      const missing = NEEDED[sheet.table].filter((c) => (row.cells[c] ?? "") === "");
      for (const c of missing) row.fault(c, `${c} is empty. ${EXAMPLES[c] ?? ""}`.trim());
      if (missing.length === 0) ROW_READERS[sheet.table](row, draft);
      if (++done % 500 === 0) onProgress(done / all);
    }
  }
  if (found.length === 0) {
    if (!problems.some((p) => p.severity === "error")) complain(files[0]?.name ?? "", 1, "", "There is nothing in these files.");
    return { harness: undefined, problems, found };
  }
  const harness = finish(draft, complain, files[0]?.name ?? "");
  onProgress(1);
  const usable = !problems.some((p) => p.severity === "error");
  return { harness: usable ? harness : undefined, problems, found };
}

const EXAMPLES: Readonly<Record<string, string>> = {
  from: "Write the pin where it begins, such as F3.2 or C12.4a.",
  to: "Write the pin where it ends, such as C12.4b or G5.",
  area_mm2: "Write the area in mm², such as 2.5.",
  amps: "Write the rating, such as 15.",
  kind: "Write what it is, such as motor, relay or switch.",
};

type Complain = (file: string, row: number, column: string, message: string, severity?: TableProblem["severity"]) => void;

function openTable(file: TableFile, complain: Complain): { file: string; table: TableName; rows: Row[] } | undefined {
  if (file.text.includes("\0")) {
    complain(file.name, 1, "", "This is not text. Save the sheet as CSV and choose that file.");
    return undefined;
  }
  const csv = readCsv(file.text);
  if (csv.openQuote !== undefined)
    complain(file.name, csv.openQuote, "", 'A quote opened here is never closed, so that the rest of the file is one cell. Add a ".');
  const headings = csv.rows[0];
  if (headings === undefined) {
    complain(file.name, 1, "", "This file is empty.", "warning");
    return undefined;
  }
  const table = tableOf(file.name, headings);
  if (table === undefined) {
    const known = Object.entries(NEEDED).map(([t, c]) => `${t} (${c.join(", ")})`);
    complain(file.name, csv.lines[0]!, "", `No table has these headings: ${headings.slice(0, 8).join(", ")}. Tables: ${known.join("; ")}.`);
    return undefined;
  }
  const columns = headings.map((h) => columnOf(table, h));
  headings.forEach((h, i) => {
    if (columns[i] === undefined && h !== "")
      complain(file.name, csv.lines[0]!, h, `Column "${h.slice(0, 40)}" is not known in ${table} and was left out.`, "warning");
    else if (columns[i] !== undefined && columns.indexOf(columns[i]) !== i)
      complain(file.name, csv.lines[0]!, h, `Column ${columns[i]} stands twice. Keep one.`);
  });
  for (const c of NEEDED[table]) if (!columns.includes(c)) complain(file.name, csv.lines[0]!, c, `The table ${table} needs a column ${c}.`);
  if (NEEDED[table].some((c) => !columns.includes(c))) return undefined;
  const rows = csv.rows.slice(1).map((cells, i): Row => {
    const line = csv.lines[i + 1]!;
    const named: Record<string, string> = {};
    columns.forEach((c, k) => {
      if (c !== undefined) named[c] = plainCell(cells[k] ?? "");
    });
    const heading = (column: string): string => headings[columns.indexOf(column)] ?? column;
    const fault: Fault = (column, message, severity) => complain(file.name, line, heading(column), message, severity);
    if (cells.length > headings.length && cells.slice(headings.length).some((c) => c !== ""))
      fault(
        columns.find((c) => c !== undefined) ?? "",
        `This row has ${cells.length} cells and the headings ${headings.length}. Is a separator inside a value? Put that value in quotes.`,
      );
    return { cells: named, fault, commaIsPoint: csv.separator !== "," };
  });
  return { file: file.name, table, rows };
}

/** Names what nobody explained, numbers the wires, checks the whole. */
function finish(draft: Draft, complain: Complain, file: string): Harness | undefined {
  const lines = [...draft.wires.map((w) => ({ ...w.wire, row: w.row })), ...draft.joints.map((j) => ({ ...j.joint, row: j.row }))];
  for (const { from, to, row } of lines)
    for (const [end, column] of [
      [from, "from"],
      [to, "to"],
    ] as const) {
      const known = draft.parts.get(end.component.toLowerCase());
      if (known !== undefined) {
        end.component = known.part.id;
        continue;
      }
      // Connectors, splices and grounds need no row of their own: their names say what they are.
      const kind = kindOfName(end.component);
      if (kind === "connector" || kind === "splice") addPart(draft, row, { id: end.component, kind });
      else if (kind === "ground") addPart(draft, row, { id: end.component, kind, on: "body" });
      else row.fault(column, `${end.component} stands in no table of parts. Add a row for it to components, or correct the name.`);
    }
  let n = 0;
  for (const { wire } of draft.wires) {
    if (wire.id !== "") continue;
    do n++;
    while (draft.wireIds.has(`W${n}`));
    wire.id = `W${n}`;
  }
  const list = <T>(items: readonly T[], key: string): object => (items.length === 0 ? {} : { [key]: items });
  const made = {
    format: "rheonom-harness",
    version: 1,
    name: draft.name,
    nominalVolts: draft.nominalVolts,
    components: [...draft.parts.values()].map((p) => p.part),
    wires: draft.wires.map((w) => w.wire),
    joints: draft.joints.map((j) => j.joint),
    ...(draft.vehicle === undefined ? {} : { vehicle: draft.vehicle }),
    ...list(draft.options, "options"),
    ...list(draft.zones, "zones"),
    ...list(draft.looms, "looms"),
    ...list(draft.monitors, "monitors"),
  };
  const parsed = harnessSchema.safeParse(made);
  const rowOf = new Map<string, Row>([
    ...[...draft.parts.values()].map((p) => [p.part.id, p.row] as const),
    ...draft.wires.map((w) => [w.wire.id, w.row] as const),
  ]);
  if (!parsed.success) {
    for (const issue of parsed.error.issues) {
      const [what, index] = issue.path;
      const row =
        what === "components"
          ? [...draft.parts.values()][Number(index)]?.row
          : what === "wires"
            ? draft.wires[Number(index)]?.row
            : undefined;
      if (row === undefined) complain(file, 1, String(what), `${issue.path.join(".")}: ${issue.message}`);
      else row.fault(String(issue.path[2] ?? "id"), issue.message);
    }
    return undefined;
  }
  for (const p of validateHarness(parsed.data)) {
    const row = rowOf.get(p.at);
    if (row === undefined) complain(file, 1, "", p.message, p.severity);
    else row.fault("id", p.message, p.severity);
  }
  return parsed.data;
}
