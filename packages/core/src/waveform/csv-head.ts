/** How a table of samples is written, as far as its beginning tells. Every field can be said otherwise. */
export interface CsvForm {
  readonly separator: "," | ";" | "\t" | " ";
  readonly decimal: "." | ",";
  /** Lines ahead of the first line of numbers. */
  readonly headLines: number;
  /** Column of the time, from 0; undefined where there is none. */
  readonly timeColumn: number | undefined;
  /** What a number of the time column means, s. */
  readonly timeUnitS: number;
  /** Samples a second as the head says; undefined where it does not. */
  readonly rateHz: number | undefined;
  /** Name and unit of every column, the time's too. */
  readonly columns: readonly { readonly name: string; readonly unit: string }[];
}

const SEPARATORS = [";", "\t", ",", " "] as const;
/** Lines that are looked at. */
const LOOKED_AT = 60;
const TIME_UNITS: Readonly<Record<string, number>> = {
  s: 1,
  sec: 1,
  seconds: 1,
  ms: 1e-3,
  us: 1e-6,
  µs: 1e-6,
  μs: 1e-6,
  ns: 1e-9,
  min: 60,
};
const PREFIX: Readonly<Record<string, number>> = { "": 1, k: 1e3, K: 1e3, M: 1e6, G: 1e9 };

/** Fields of a line without the quotes around them. Runs of blanks separate once. */
const fieldsOf = (line: string, separator: string): string[] =>
  (separator === " " ? line.trim().split(/ +/) : line.split(separator)).map((f) =>
    f
      .trim()
      .replace(/^"(.*)"$/, "$1")
      .trim(),
  );

const isNumber = (field: string, decimal: string): boolean =>
  /^[-+−]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?$/.test(decimal === "," ? field.replace(",", ".") : field) ||
  /^(nan|inf|-inf|∞|-∞)$/i.test(field);
const numberOf = (field: string, decimal: string): number => Number((decimal === "," ? field.replace(",", ".") : field).replace("−", "-"));

/** Whether a line is one of samples: a number in every field that holds anything, and in one at least. */
const isRow = (fields: readonly string[], decimal: string): boolean =>
  fields.some((f) => isNumber(f, decimal)) && fields.every((f) => f === "" || isNumber(f, decimal));

/** Reads how a table is written from its first lines. Undefined when none of them is a line of numbers. */
export function readForm(text: string): CsvForm | undefined {
  const lines = text
    .replace(/^\uFEFF/, "")
    .split(/\r\n|\n|\r/)
    .slice(0, LOOKED_AT);
  let best: { separator: CsvForm["separator"]; decimal: CsvForm["decimal"]; first: number; width: number; score: number } | undefined;
  for (const separator of SEPARATORS)
    for (const decimal of separator === "," ? (["."] as const) : ([".", ","] as const)) {
      const rows = lines.map((l) => fieldsOf(l, separator));
      const first = rows.findIndex((r) => isRow(r, decimal));
      if (first < 0) continue;
      const width = rows[first]!.length;
      const fitting = rows.slice(first).filter((r) => r.length === width && isRow(r, decimal)).length;
      // Of forms that read as many lines the one with more columns is meant: "1,5;2,5" has two, whatever the comma.
      const score = fitting * 100 + Math.min(width, 20) - (decimal === "," ? 0.5 : 0);
      if (best === undefined || score > best.score) best = { separator, decimal, first, width, score };
    }
  if (best === undefined) return undefined;
  const { separator, decimal, first, width } = best;
  const head = lines.slice(0, first);
  const columns = columnsOf(head, separator, width);
  const rows = lines.slice(first).flatMap((l) => {
    const fields = fieldsOf(l, separator);
    return fields.length === width && isRow(fields, decimal) ? [fields] : [];
  });
  const timeColumn = timeColumnOf(
    columns,
    rows.map((r) => numberOf(r[0]!, decimal)),
    width,
  );
  const unit = timeColumn === undefined ? "" : columns[timeColumn]!.unit.toLowerCase();
  return {
    separator,
    decimal,
    headLines: first,
    timeColumn,
    timeUnitS: TIME_UNITS[unit] ?? 1,
    rateHz: rateIn(head, decimal),
    columns,
  };
}

const UNIT_ONLY = /^[([]?\s*(m?V|kV|m?A|µA|μA|uA|Ω|k?Ohm|s|sec|ms|us|µs|μs|ns|Hz|%|°C|bar|rpm)\s*[)\]]?$/;
const NAME_WITH_UNIT = /^(.*?)\s*[([]\s*([^()[\]]{1,8})\s*[)\]]\s*$/;

function columnsOf(head: readonly string[], separator: string, width: number): CsvForm["columns"] {
  const wide = head.map((l) => fieldsOf(l, separator)).filter((f) => f.length === width);
  const units = wide.findLast((f) => f.every((x) => x === "" || UNIT_ONLY.test(x)) && f.some((x) => x !== ""));
  const names = wide.findLast((f) => f !== units && f.some((x) => /[A-Za-zÄÖÜäöü]/.test(x)));
  return Array.from({ length: width }, (_, i) => {
    const raw = names?.[i] ?? "";
    const [, name, unit] = NAME_WITH_UNIT.exec(raw) ?? [];
    return { name: (name ?? raw) || `Column ${i + 1}`, unit: UNIT_ONLY.exec(units?.[i] ?? "")?.[1] ?? unit ?? "" };
  });
}

const TIME_NAME = /^(time|t|zeit|temps|tiempo|x-axis|second|seconds|x)$/i;
function timeColumnOf(columns: CsvForm["columns"], first: readonly number[], width: number): number | undefined {
  const named = columns.findIndex(
    ({ name, unit }) => TIME_NAME.test(name) || (unit.toLowerCase() in TIME_UNITS && /time|zeit|^column/i.test(name)),
  );
  if (named >= 0) return named;
  // Without a name: the first of several columns, where it rises by equal steps.
  if (width < 2 || first.length < 3) return undefined;
  const steps = first.slice(1).map((v, i) => v - first[i]!);
  const step = steps[0]!;
  return step > 0 && steps.every((s) => s > 0 && Math.abs(s - step) <= 0.02 * step) ? 0 : undefined;
}

/** "Sample rate: 2 MHz", "SampleInterval,5e-7 s", "Increment 0.001". */
function rateIn(head: readonly string[], decimal: string): number | undefined {
  for (const line of head) {
    const plain = decimal === "," ? line.replace(/(\d),(\d)/g, "$1.$2") : line;
    const rate = /(?:sampl\w*\s*(?:rate|freq\w*)|rate|frequency)\W+([\d.]+(?:e[-+]?\d+)?)\W*([kKMG]?)(?:Hz|S\/s|Sa\/s|samples)?/i.exec(
      plain,
    );
    if (rate !== null) return positive(Number(rate[1]) * PREFIX[rate[2]!]!);
    const step = /(?:sampl\w*\s*interval|interval|increment|delta\s*t|dt)\W+([\d.]+(?:e[-+]?\d+)?)\W*(ns|us|µs|μs|ms|s)?/i.exec(plain);
    if (step !== null) return positive(1 / (Number(step[1]) * (TIME_UNITS[step[2] ?? "s"] ?? 1)));
  }
  return undefined;
}
const positive = (n: number): number | undefined => (Number.isFinite(n) && n > 0 ? n : undefined);
