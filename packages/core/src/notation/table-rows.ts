import { PIN_SORT_BY_WORD } from "../devices/index.ts";
import { type Component, type Harness, type PinRef, type Wire } from "../harness/index.ts";
import { componentFrom } from "./component.ts";
import { readSpots, SPOT_HELP, WHEN } from "./header.ts";
import { readCondition } from "./module-words.ts";
import { readPartItem, valueOfSetting, type PartWords } from "./part-item.ts";
import { type TableName } from "./table-columns.ts";
import { readValue } from "./values.ts";

/** What a row of each table says, read into what a harness is made of. */

export type Fault = (column: string, message: string, severity?: "error" | "warning") => void;
/** A row of a table. */
export interface Row {
  readonly cells: Readonly<Record<string, string>>;
  readonly fault: Fault;
  /** A comma in a number can only be a decimal one. */
  readonly commaIsPoint: boolean;
}

/** What the rows build up. */
export interface Draft {
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

/** A number from a cell, its unit taken off; undefined when empty or wrong, which is told. */
function number(row: Row, column: string, least: number, most: number): number | undefined {
  const cell = row.cells[column] ?? "";
  if (cell === "") return undefined;
  // With semicolons between cells, or in quotes, a comma is a decimal comma; two of them or a point beside it are not one number.
  const text = /^[+-]?\d*,\d+/.test(cell) ? cell.replace(",", ".") : cell;
  const read = readValue(text.replace(/\s+/g, ""));
  if (read.kind === "bad") row.fault(column, `"${cell.slice(0, 40)}" is not a number. Write it like 2.5 or 2,5.`);
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
  else row.fault("if", `"${cell.slice(0, 40)}" is not an option. Write fridge, !fridge or fridge&tow.`);
}

/** Takes a part in; one that is said twice is told. */
export function addPart(draft: Draft, row: Row, part: Component): void {
  const before = draft.parts.get(part.id.toLowerCase());
  if (before !== undefined) row.fault("id", `${part.id} stands in the tables already. Give one another name.`);
  else draft.parts.set(part.id.toLowerCase(), { part, row });
}

/** How a name is written. */
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
  if (said !== "" && read === undefined) row.fault("plan", `"${said}" is not a place on the plan. ${SPOT_HELP}`);
  return read;
}

/** How the rows of a table are read. */
export const ROW_READERS: Readonly<Record<TableName, (row: Row, draft: Draft) => void>> = {
  vehicle: (row, draft) => {
    const c = row.cells;
    if ((c.name ?? "") !== "") draft.name = c.name!.slice(0, 120);
    const volts = number(row, "nominal_volts", 6, 48);
    if (volts === 6 || volts === 12 || volts === 24 || volts === 48) draft.nominalVolts = volts;
    else if (volts !== undefined) row.fault("nominal_volts", `${volts} V is not a nominal voltage. Use 6, 12, 24 or 48.`);
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
      return row.fault("sort", `"${sort!.slice(0, 40)}" is not a sort of pin. Sorts: ${Object.keys(PIN_SORT_BY_WORD).join(", ")}.`);
    const own = draft.pins.get(component!.toLowerCase()) ?? { pins: {}, rules: [] };
    draft.pins.set(component!.toLowerCase(), own);
    if (own.pins[pin!] !== undefined) return row.fault("pin", `Pin ${pin} of ${component} stands in the table already.`);
    const made: Record<string, unknown> = { sort: known };
    for (const word of settings.split(/\s+/).filter(Boolean)) {
      const at = word.indexOf("=");
      const value = at < 1 ? undefined : valueOfSetting(word.slice(at + 1));
      if (value === undefined) row.fault("settings", `"${word.slice(0, 40)}" is not a setting. Write name=value, with blanks between.`);
      else made[word.slice(0, at)] = value;
    }
    own.pins[pin!] = made;
    if (condition === "") return;
    const read = readCondition(condition) ?? jsonOf(condition);
    if (read === undefined) row.fault("when", `"${condition.slice(0, 60)}" is not a condition. Write such as 8<4&key=run/crank`);
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
    if (from === undefined) row.fault("from", `"${c.from!.slice(0, 40)}" is not a pin. Write part and pin with a point, such as F3.2.`);
    if (to === undefined) row.fault("to", `"${c.to!.slice(0, 40)}" is not a pin. Write part and pin with a point, such as C12.4b.`);
    let id = c.id ?? "";
    if (id !== "" && !/^[Ww]\d\w{0,22}$/.test(id))
      return row.fault("id", `"${id.slice(0, 40)}" is not a number of a wire. Write W and digits, such as W12, or nothing.`);
    id = id.toUpperCase();
    if (id !== "" && draft.wireIds.has(id)) return row.fault("id", `There are two wires ${id}. Give one another number.`);
    draft.wireIds.add(id);
    const colour = c.colour?.toUpperCase().replace("-", "/") || undefined;
    if (colour !== undefined && !/^[A-Z]{2}(\/[A-Z]{2})?$/.test(colour))
      return row.fault("colour", `"${c.colour!.slice(0, 40)}" is not a wire colour. Write letters of IEC 60757, such as BK/WH.`);
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
        row.fault(column, `"${row.cells[column]!.slice(0, 40)}" is not a pin. Write part and pin with a point, such as F3.2.`);
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
