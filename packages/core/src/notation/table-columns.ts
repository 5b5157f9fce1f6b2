/** The tables of a circuit as files for a spreadsheet. The first name of a column is the one that is written. */
export const TABLES = {
  vehicle: ["name", "nominal_volts", "make", "model", "years", "engine"],
  options: ["id", "text"],
  zones: ["id", "text", "minutes", "exposure", "out_of_bounds", "plan"],
  looms: ["id", "text", "zone", "exposure", "crosses"],
  components: ["id", "kind", "rating", "settings", "label", "at", "zone", "minutes", "box", "slot", "if", "sheet"],
  pins: ["component", "pin", "sort", "settings", "when"],
  connectors: ["id", "label", "ways", "rows", "sealed", "back_probe", "at", "zone", "minutes", "box", "slot", "if", "sheet"],
  grounds: ["id", "label", "on", "tool", "at", "zone", "minutes", "box", "slot", "if", "sheet"],
  fuses: ["id", "label", "amps", "box", "slot", "at", "zone", "minutes", "if", "sheet"],
  wires: ["id", "from", "to", "colour", "area_mm2", "length_m", "segments", "if", "sheet"],
  joints: ["from", "to", "if"],
  codes: ["code", "module", "pin", "below_volts", "above_volts", "seconds", "silent", "text"],
} as const satisfies Record<string, readonly string[]>;
export type TableName = keyof typeof TABLES;

/** Other names that spreadsheets use for a column, without blanks, points, units in brackets and case. */
const ALIASES: Readonly<Record<string, string>> = {
  color: "colour",
  area: "area_mm2",
  mm2: "area_mm2",
  csa: "area_mm2",
  length: "length_m",
  rating_a: "amps",
  current: "amps",
  name: "label",
  description: "label",
  place: "at",
  location: "at",
  option: "if",
  page: "sheet",
  via: "segments",
  loom: "segments",
  metal: "on",
  cavities: "ways",
  type: "kind",
  volts: "nominal_volts",
  access_min: "minutes",
  start: "from",
  end: "to",
};

const squeeze = (text: string): string =>
  text
    .toLowerCase()
    .replace(/\[.*?\]|\(.*?\)/g, "")
    .replace("²", "2")
    .trim()
    .replace(/[\s.-]+/g, "_");

/** The column that a heading means in a table; undefined when there is none such. */
export function columnOf(table: TableName, heading: string): string | undefined {
  const columns: readonly string[] = TABLES[table];
  const name = squeeze(heading);
  if (columns.includes(name)) return name;
  const other = ALIASES[name];
  return other !== undefined && columns.includes(other) ? other : undefined;
}

/** Columns without which a row of the table means nothing. */
export const NEEDED: Readonly<Record<TableName, readonly string[]>> = {
  vehicle: [],
  options: ["id"],
  zones: ["id"],
  looms: ["id"],
  components: ["id", "kind"],
  pins: ["component", "pin", "sort"],
  connectors: ["id"],
  grounds: ["id"],
  fuses: ["id", "amps"],
  wires: ["from", "to", "area_mm2"],
  joints: ["from", "to"],
  codes: ["code", "module"],
};

/** The table that a file holds: by its name, or else the one whose columns its headings name best. */
export function tableOf(fileName: string, headings: readonly string[]): TableName | undefined {
  const base = fileName.toLowerCase().replace(/^.*[\\/]/, "");
  const names = Object.keys(TABLES) as TableName[];
  const byName = names.find((t) => base.includes(t) || base.includes(t.replace(/s$/, "")));
  const score = (t: TableName): number =>
    NEEDED[t].every((c) => headings.some((h) => columnOf(t, h) === c)) ? headings.filter((h) => columnOf(t, h) !== undefined).length : 0;
  if (byName !== undefined && (score(byName) > 0 || headings.some((h) => columnOf(byName, h) !== undefined))) return byName;
  const best = names.reduce((p, q) => (score(q) > score(p) ? q : p));
  return score(best) > 1 ? best : undefined;
}
