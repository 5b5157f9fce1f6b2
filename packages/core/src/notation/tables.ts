import { PIN_SORT_BY_WORD } from "../devices/index.ts";
import { type Component, harnessSchema, type Harness, type PinRef, validateHarness, type Wire } from "../harness/index.ts";
import { componentFrom } from "./component.ts";
import { plainCell, readCsv, writeCsv } from "./csv.ts";
import { printSpots, readSpots, SPOT_HELP, WHEN } from "./header.ts";
import { printCondition, readCondition } from "./module-words.ts";
import { kindOfName, readPartItem, valueOfSetting, type PartWords } from "./part-item.ts";
import { columnOf, NEEDED, TABLES, tableOf, type TableName } from "./table-columns.ts";
import { readValue } from "./values.ts";

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

type Fault = (column: string, message: string, severity?: TableProblem["severity"]) => void;
interface Row {
  readonly cells: Readonly<Record<string, string>>;
  readonly fault: Fault;
  /** A comma in a number can only be a decimal one. */
  readonly commaIsPoint: boolean;
}

/** What the rows build up. */
interface Draft {
  name: string;
  nominalVolts: Harness["nominalVolts"];
  vehicle: Harness["vehicle"];
  readonly options: NonNullable<Harness["options"]>;
  readonly zones: NonNullable<Harness["zones"]>;
  readonly looms: NonNullable<Harness["looms"]>;
  readonly monitors: NonNullable<Harness["monitors"]>;
  readonly parts: Map<string, { part: Component; row: Row }>;
  readonly wires: { wire: Wire; row: Row }[];
  readonly wireIds: Set<string>;
  readonly joints: { joint: Harness["joints"][number]; row: Row }[];
  readonly pins: Map<string, { pins: Record<string, Record<string, unknown>>; rules: { pin: string; when: unknown }[] }>;
}

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
      if (missing.length === 0) READERS[sheet.table](row, draft);
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
    complain(file.name, 1, "", "This is no text. Save the sheet as CSV and choose that file.");
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

/** A number from a cell, its unit taken off; undefined when empty or wrong, which is told. */
function number(row: Row, column: string, least: number, most: number): number | undefined {
  const cell = row.cells[column] ?? "";
  if (cell === "") return undefined;
  // With semicolons between cells, or in quotes, a comma is a decimal comma; two of them or a point beside it are not one number.
  const text = /^[+-]?\d*,\d+/.test(cell) ? cell.replace(",", ".") : cell;
  const read = readValue(text.replace(/\s+/g, ""));
  if (read.kind === "bad") row.fault(column, `"${cell.slice(0, 40)}" is no number. Write it like 2.5 or 2,5.`);
  else if (read.value < least || read.value > most) row.fault(column, `${cell} cannot be: from ${least} to ${most}.`);
  else return read.value;
  return undefined;
}

const yes = (row: Row, column: string): boolean | undefined => {
  const cell = (row.cells[column] ?? "").toLowerCase();
  if (cell === "") return undefined;
  if (["yes", "y", "true", "1", "x"].includes(cell)) return true;
  if (["no", "n", "false", "0"].includes(cell)) return false;
  row.fault(column, `"${cell.slice(0, 40)}" is neither yes nor no.`);
  return undefined;
};

/** Words that every part may have. */
function placed(row: Row): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  const text = (column: string, key: string, most: number): void => {
    const cell = row.cells[column] ?? "";
    if (cell.length > most) row.fault(column, `${column} has ${cell.length} characters; ${most} are taken.`);
    else if (cell !== "") out[key] = cell;
  };
  text("label", "label", 80);
  text("at", "at", 80);
  text("zone", "zone", 24);
  text("sheet", "sheet", 40);
  text("box", "box", 40);
  text("slot", "slot", 12);
  when(row, out);
  const minutes = number(row, "minutes", 0, 600);
  if (minutes !== undefined) out.accessMinutes = minutes;
  return out;
}

function when(row: Row, out: Record<string, unknown>): void {
  const cell = row.cells.if ?? "";
  if (cell === "") return;
  if (WHEN.test(cell)) out.when = cell;
  else row.fault("if", `"${cell.slice(0, 40)}" is no option. Write fridge, !fridge or fridge&tow.`);
}

function addPart(draft: Draft, row: Row, part: Component): void {
  const before = draft.parts.get(part.id.toLowerCase());
  if (before !== undefined) row.fault("id", `${part.id} stands in the tables already. Give one another name.`);
  else draft.parts.set(part.id.toLowerCase(), { part, row });
}

const ID = /^[A-Za-z][A-Za-z0-9_]{0,23}$/;

function idOf(row: Row, column = "id"): string | undefined {
  const id = row.cells[column]!;
  if (ID.test(id)) return id;
  row.fault(column, `"${id.slice(0, 40)}" cannot be a name. A name is a letter, then letters and digits, such as F3 or C12.`);
  return undefined;
}

const kept = (value: Record<string, unknown>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined));

const exposures = (row: Row): never[] => (row.cells.exposure ?? "").split(/[\s,;/]+/).filter(Boolean) as never[];

function spots(row: Row): ReturnType<typeof readSpots> {
  const said = row.cells.plan ?? "";
  const read = said === "" ? undefined : readSpots(said);
  if (said !== "" && read === undefined) row.fault("plan", `"${said}" is no place on the plan. ${SPOT_HELP}`);
  return read;
}

const READERS: Readonly<Record<TableName, (row: Row, draft: Draft) => void>> = {
  vehicle: (row, draft) => {
    const c = row.cells;
    if ((c.name ?? "") !== "") draft.name = c.name!.slice(0, 120);
    const volts = number(row, "nominal_volts", 6, 48);
    if (volts === 6 || volts === 12 || volts === 24 || volts === 48) draft.nominalVolts = volts;
    else if (volts !== undefined) row.fault("nominal_volts", `${volts} V is no nominal voltage. Use 6, 12, 24 or 48.`);
    if ((c.make ?? "") !== "")
      draft.vehicle = kept({ make: c.make, model: c.model ?? "", years: c.years || undefined, engine: c.engine || undefined }) as never;
  },
  options: (row, draft) => void draft.options.push({ id: row.cells.id!, text: row.cells.text || row.cells.id! }),
  zones: (row, draft) =>
    void draft.zones.push(
      kept({
        id: row.cells.id,
        text: row.cells.text || row.cells.id,
        minutes: number(row, "minutes", 0, 600) ?? 5,
        exposure: exposures(row),
        outOfBounds: row.cells.out_of_bounds || undefined,
        plan: spots(row),
      }) as never,
    ),
  looms: (row, draft) =>
    void draft.looms.push(
      kept({
        id: row.cells.id,
        text: row.cells.text || row.cells.id,
        zone: row.cells.zone || undefined,
        exposure: exposures(row),
        crosses: row.cells.crosses || undefined,
      }) as never,
    ),
  pins: (row, draft) => {
    const { component, pin, sort, settings = "", when: condition = "" } = row.cells as Record<string, string>;
    const known = PIN_SORT_BY_WORD[sort!] ?? (Object.values(PIN_SORT_BY_WORD).includes(sort!) ? sort : undefined);
    if (known === undefined)
      return row.fault("sort", `"${sort!.slice(0, 40)}" is no sort of pin. Sorts: ${Object.keys(PIN_SORT_BY_WORD).join(", ")}.`);
    const own = draft.pins.get(component!.toLowerCase()) ?? { pins: {}, rules: [] };
    draft.pins.set(component!.toLowerCase(), own);
    if (own.pins[pin!] !== undefined) return row.fault("pin", `Pin ${pin} of ${component} stands in the table already.`);
    const made: Record<string, unknown> = { sort: known };
    for (const word of settings.split(/\s+/).filter(Boolean)) {
      const at = word.indexOf("=");
      const value = at < 1 ? undefined : valueOfSetting(word.slice(at + 1));
      if (value === undefined) row.fault("settings", `"${word.slice(0, 40)}" is no setting. Write name=value, with blanks between.`);
      else made[word.slice(0, at)] = value;
    }
    own.pins[pin!] = made;
    if (condition === "") return;
    const read = readCondition(condition) ?? jsonOf(condition);
    if (read === undefined) row.fault("when", `"${condition.slice(0, 60)}" is no condition. Write such as 8<4&key=run/crank`);
    else for (const w of Array.isArray(read) ? (read as unknown[]) : [read]) own.rules.push({ pin: pin!, when: w });
  },
  components: (row, draft) => {
    const id = idOf(row);
    if (id === undefined) return;
    const { kind, rating = "", settings = "" } = row.cells as Record<string, string>;
    const item = { text: `${id}(${kind} ${rating} ${settings})`, start: 0, end: 1, broken: false };
    // The words of the notation are read here too; what is wrong with them is told at the cell that they come from.
    const words = readPartItem(item, (_, code, message) =>
      row.fault(code === "setting" ? "settings" : code.includes("rating") ? "rating" : "kind", message),
    )?.words;
    if (words === undefined) return row.fault("kind", `"${kind!.slice(0, 40)}" cannot be read.`);
    const own = draft.pins.get(id.toLowerCase());
    const withPins: PartWords =
      own === undefined
        ? words
        : { ...words, settings: { ...words.settings, pins: own.pins, ...(own.rules.length > 0 ? { rules: own.rules } : {}) } };
    const part = componentFrom(id, withPins, draft.nominalVolts, (code, message) =>
      row.fault(code === "setting" ? "settings" : code === "unknown-part" ? "kind" : "rating", message),
    );
    if (part !== undefined) addPart(draft, row, { ...part, ...placed(row) } as Component);
  },
  connectors: (row, draft) => {
    const id = idOf(row);
    if (id === undefined) return;
    const made = kept({
      id,
      kind: "connector",
      ways: number(row, "ways", 1, 200),
      rows: number(row, "rows", 1, 12),
      sealed: yes(row, "sealed"),
      backProbe: yes(row, "back_probe"),
      ...placed(row),
    });
    addPart(draft, row, made as Component);
  },
  grounds: (row, draft) => {
    const id = idOf(row);
    if (id === undefined) return;
    const on = row.cells.on?.toLowerCase() || "body";
    if (!/^[a-z][a-z0-9]*$/.test(on))
      return row.fault("on", `"${on.slice(0, 40)}" cannot name a piece of metal. Use one word, such as body.`);
    addPart(draft, row, kept({ id, kind: "ground", on, tool: row.cells.tool || undefined, ...placed(row) }) as Component);
  },
  fuses: (row, draft) => {
    const id = idOf(row);
    const ratingAmps = number(row, "amps", 0.1, 1000);
    if (id !== undefined && ratingAmps !== undefined) addPart(draft, row, { id, kind: "fuse", ratingAmps, ...placed(row) } as Component);
  },
  wires: (row, draft) => {
    const c = row.cells;
    const areaMm2 = number(row, "area_mm2", 0.01, 500);
    const lengthM = number(row, "length_m", 0.001, 200);
    if ((c.length_m ?? "") === "") row.fault("length_m", "No length: 1 m is taken.", "warning");
    const from = pinRef(c.from!);
    const to = pinRef(c.to!);
    if (from === undefined) row.fault("from", `"${c.from!.slice(0, 40)}" is no pin. Write part and pin with a point, such as F3.2.`);
    if (to === undefined) row.fault("to", `"${c.to!.slice(0, 40)}" is no pin. Write part and pin with a point, such as C12.4b.`);
    let id = c.id ?? "";
    if (id !== "" && !/^[Ww]\d\w{0,22}$/.test(id))
      return row.fault("id", `"${id.slice(0, 40)}" is no number of a wire. Write W and digits, such as W12, or nothing.`);
    id = id.toUpperCase();
    if (id !== "" && draft.wireIds.has(id)) return row.fault("id", `There are two wires ${id}. Give one another number.`);
    draft.wireIds.add(id);
    const colour = c.colour?.toUpperCase().replace("-", "/") || undefined;
    if (colour !== undefined && !/^[A-Z]{2}(\/[A-Z]{2})?$/.test(colour))
      return row.fault("colour", `"${c.colour!.slice(0, 40)}" is no wire colour. Write letters of IEC 60757, such as BK/WH.`);
    if (areaMm2 === undefined || from === undefined || to === undefined) return;
    const segments = (c.segments ?? "").split(/[\s,;]+/).filter(Boolean);
    const rest: Record<string, unknown> = {};
    when(row, rest);
    if ((c.sheet ?? "") !== "") rest.sheet = c.sheet!.slice(0, 40);
    const made = kept({
      id,
      from,
      to,
      colour,
      areaMm2,
      lengthM: lengthM ?? 1,
      lengthAssumed: lengthM === undefined ? true : undefined,
      segments: segments.length > 0 ? segments : undefined,
      ...rest,
    });
    draft.wires.push({ wire: made as Wire, row });
  },
  joints: (row, draft) => {
    const ends = (["from", "to"] as const).map((column) => {
      const pin = pinRef(row.cells[column]!);
      if (pin === undefined)
        row.fault(column, `"${row.cells[column]!.slice(0, 40)}" is no pin. Write part and pin with a point, such as F3.2.`);
      return pin;
    });
    const rest: Record<string, unknown> = {};
    when(row, rest);
    if (ends[0] !== undefined && ends[1] !== undefined) draft.joints.push({ joint: { from: ends[0], to: ends[1], ...rest }, row });
  },
  codes: (row, draft) =>
    void draft.monitors.push(
      kept({
        code: row.cells.code,
        module: row.cells.module,
        pin: row.cells.pin || undefined,
        belowVolts: number(row, "below_volts", -100, 100),
        aboveVolts: number(row, "above_volts", -100, 100),
        seconds: number(row, "seconds", 0, 3600),
        silent: row.cells.silent || undefined,
        text: row.cells.text ?? "",
      }) as never,
    ),
};

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}

function pinRef(text: string): PinRef | undefined {
  const shape = /^([A-Za-z][A-Za-z0-9_]{0,23})(?:\.([A-Za-z0-9_+-]{1,12}))?$/.exec(text.replaceAll(" ", ""));
  return shape === null ? undefined : { component: shape[1]!, pin: shape[2] ?? "1" };
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

/** The tables of a circuit, each a file; reading them gives the same circuit with its parts in the order of the tables. */
export function writeTables(h: Harness): TableFile[] {
  const rows = new Map<TableName, (string | number | undefined)[][]>(
    (Object.keys(TABLES) as TableName[]).map((t) => [t, [[...TABLES[t]]]]),
  );
  const put = (table: TableName, values: Readonly<Record<string, string | number | undefined>>): void =>
    void rows.get(table)!.push(TABLES[table].map((c) => values[c]));
  put("vehicle", { name: h.name, nominal_volts: h.nominalVolts, ...h.vehicle });
  for (const o of h.options ?? []) put("options", o);
  for (const z of h.zones ?? [])
    put("zones", { ...z, exposure: z.exposure.join(" "), out_of_bounds: z.outOfBounds, plan: printSpots(z.plan ?? []) });
  for (const l of h.looms ?? []) put("looms", { ...l, exposure: l.exposure.join(" ") });
  for (const part of h.components) {
    const where = {
      id: part.id,
      label: part.label,
      at: part.at,
      zone: part.zone,
      minutes: part.accessMinutes,
      box: part.box,
      slot: part.slot,
      if: part.when,
      sheet: part.sheet,
    };
    const word = (b: boolean | undefined): string | undefined => (b === undefined ? undefined : b ? "yes" : "no");
    switch (part.kind) {
      case "connector":
        put("connectors", { ...where, ways: part.ways, rows: part.rows, sealed: word(part.sealed), back_probe: word(part.backProbe) });
        break;
      case "ground":
        put("grounds", { ...where, on: part.on, tool: part.tool });
        break;
      case "fuse":
        put("fuses", { ...where, amps: part.ratingAmps });
        break;
      default:
        put("components", { ...where, ...wordsOf(part) });
        if (part.kind === "device" && part.device === "module") putPins(part.id, part.settings, (row) => put("pins", row));
    }
  }
  for (const w of h.wires)
    put("wires", {
      id: w.id,
      from: `${w.from.component}.${w.from.pin}`,
      to: `${w.to.component}.${w.to.pin}`,
      colour: w.colour,
      area_mm2: w.areaMm2,
      length_m: w.lengthAssumed === true ? undefined : w.lengthM,
      segments: w.segments?.join(" "),
      if: w.when,
      sheet: w.sheet,
    });
  for (const j of h.joints) put("joints", { from: `${j.from.component}.${j.from.pin}`, to: `${j.to.component}.${j.to.pin}`, if: j.when });
  for (const m of h.monitors ?? []) put("codes", { ...m, below_volts: m.belowVolts, above_volts: m.aboveVolts });
  return [...rows].filter(([, r]) => r.length > 1).map(([table, r]) => ({ name: `${table}.csv`, text: writeCsv(r) }));
}

function putPins(id: string, settings: Readonly<Record<string, unknown>>, put: (row: Record<string, string>) => void): void {
  const pins = (settings.pins ?? {}) as Record<string, Record<string, unknown>>;
  const rules = (settings.rules ?? []) as { pin: string; when: unknown }[];
  for (const [pin, { sort, ...more }] of Object.entries(pins)) {
    const own = rules.filter((r) => r.pin === pin).map((r) => r.when);
    const only = own.length === 1 ? printCondition(own[0]) : undefined;
    put({
      component: id,
      pin,
      sort: String(sort),
      settings: Object.entries(more)
        .map(([name, v]) => `${name}=${typeof v === "string" ? v : JSON.stringify(v)}`)
        .join(" "),
      when: own.length === 0 ? "" : (only ?? JSON.stringify(own)),
    });
  }
}

function wordsOf(part: Component): { kind: string; rating?: string; settings?: string } {
  switch (part.kind) {
    case "battery": {
      const shares = [part.charge === undefined ? "" : `charge=${part.charge}`, part.wear === undefined ? "" : `wear=${part.wear}`];
      return {
        kind: "battery",
        rating: `${part.restVolts}V ${part.internalOhms}ohm charge ${part.chargeVolts}V crank ${part.crankAmps}A`,
        settings: shares.filter(Boolean).join(" "),
      };
    }
    case "switch":
      return { kind: "switch", rating: part.closedBy === "accessory" ? "acc" : part.closedBy };
    case "load": {
      const rating =
        "amps" in part.rating ? `${part.rating.amps}A` : "watts" in part.rating ? `${part.rating.watts}W` : `${part.rating.ohms}ohm`;
      return { kind: part.sort, rating: part.pins[0] === "1" && part.pins[1] === "2" ? rating : `${rating} pins ${part.pins.join(" ")}` };
    }
    case "device": {
      const inPins = part.device === "module" ? ["pins", "rules"] : [];
      return {
        kind: part.device,
        settings: Object.entries(part.settings)
          .filter(([name]) => !inPins.includes(name))
          .map(([name, v]) => `${name}=${typeof v === "string" && /^[A-Za-z][\w-]*$/.test(v) ? v : JSON.stringify(v)}`)
          .join(" "),
      };
    }
    case "splice":
    case "connector":
    case "ground":
    case "fuse":
      return { kind: part.kind };
  }
}
