import { readForm, type CsvForm } from "./csv-head.ts";
import { MOST_CHANNELS, type Channel, type Trace } from "./trace.ts";

/** What cannot be read, with where and what; the words are made elsewhere. */
export type TraceProblem =
  | { readonly code: "empty" | "binary" | "no numbers" | "one sample" }
  /** `line` counts from 1. */
  | { readonly code: "time backwards" | "time stands still"; readonly line: number }
  /** No column of time, and nothing in the head: the rate has to be said. */
  | { readonly code: "rate wanted" }
  | { readonly code: "too many samples"; readonly most: number };

export type TraceRead =
  | { readonly kind: "read"; readonly trace: Trace; readonly form: CsvForm; readonly notes: readonly TraceNote[] }
  | { readonly kind: "bad"; readonly problem: TraceProblem; readonly form: CsvForm | undefined };

/** What was odd and could be put up with. */
export type TraceNote =
  | { readonly code: "lines passed over"; readonly count: number; readonly first: number }
  | { readonly code: "gaps"; readonly samples: number }
  | { readonly code: "uneven steps" }
  | { readonly code: "channels left out" | "signals left out"; readonly count: number };

/** Reads a table of samples piece by piece. `end` gives what was read; nothing may be pushed after it. */
export interface CsvReader {
  readonly push: (bytes: Uint8Array) => void;
  readonly end: () => TraceRead;
  /** Samples read so far, all channels together. */
  readonly samples: () => number;
}

/** Samples of all channels together at most: 40 MB of them. */
const MOST_SAMPLES = 12e6;
/** Bytes of the beginning from which the form is read. */
const HEAD_BYTES = 16_384;
/** Share by which a step may differ from the usual one and still be one step. */
const UNEVEN = 0.25;

/** `said`: what somebody knows better than the head of the file. */
export function createCsvReader(said: Partial<CsvForm> = {}): CsvReader {
  const held: Uint8Array[] = [];
  let heldBytes = 0;
  let rows: ReturnType<typeof createRows> | undefined;
  let form: CsvForm | undefined;
  let problem: TraceProblem | undefined;
  /** Reads the form and begins with what was held back for it. */
  const begin = (): void => {
    const head = joined(held, heldBytes);
    held.length = 0;
    if (head.length === 0) return void (problem = { code: "empty" });
    if (isBinary(head)) return void (problem = { code: "binary" });
    const read = readForm(textOf(head.subarray(0, HEAD_BYTES)));
    if (read === undefined) return void (problem = { code: "no numbers" });
    form = { ...read, ...said };
    rows = createRows(form);
    rows.push(head);
  };
  return {
    push(bytes) {
      if (problem !== undefined) return;
      if (rows !== undefined) return rows.push(bytes);
      held.push(bytes);
      heldBytes += bytes.length;
      if (heldBytes >= HEAD_BYTES) begin();
    },
    end() {
      if (rows === undefined && problem === undefined) begin();
      if (problem !== undefined || rows === undefined || form === undefined) return { kind: "bad", problem: problem!, form };
      const found = rows.end();
      return "code" in found ? { kind: "bad", problem: found, form } : { kind: "read", form, ...found };
    },
    samples: () => rows?.samples() ?? 0,
  };
}

function joined(parts: readonly Uint8Array[], length: number): Uint8Array {
  const all = new Uint8Array(length);
  let at = 0;
  for (const p of parts) {
    all.set(p, at);
    at += p.length;
  }
  return all;
}

/** A beginning as text, byte by byte: of what lies beyond ASCII only the signs of units matter, in either of the usual encodings. */
const textOf = (bytes: Uint8Array): string =>
  Array.from(bytes, (b) => String.fromCharCode(b))
    .join("")
    .replace(/^ï»¿/, "")
    .replace(/Â(?=[µ°])/g, "")
    .replaceAll("Î¼", "μ")
    .replaceAll("Î©", "Ω")
    .replaceAll("â¦", "Ω");

/** Bytes that no text has. */
const isBinary = (bytes: Uint8Array): boolean => bytes.subarray(0, HEAD_BYTES).some((b) => b === 0 || (b < 9 && b > 0));

/** A list of numbers that grows. */
function createColumn(): { readonly add: (v: number) => void; readonly taken: () => Float64Array } {
  let list = new Float64Array(4096);
  let count = 0;
  return {
    add(v) {
      if (count === list.length) {
        const larger = new Float64Array(2 * list.length);
        larger.set(list);
        list = larger;
      }
      list[count++] = v;
    },
    taken: () => list.subarray(0, count),
  };
}

const [LF, CR, QUOTE, MINUS, PLUS, POINT, COMMA, ZERO, NINE, E, SMALL_E] = [10, 13, 34, 45, 43, 46, 44, 48, 57, 69, 101];

/** Reads the lines of numbers byte by byte: a text of each would cost several times the file. */
function createRows(form: CsvForm) {
  const separator = form.separator.charCodeAt(0);
  const decimal = form.decimal === "," ? COMMA : POINT;
  const width = form.columns.length;
  const channels = Math.max(1, width - (form.timeColumn === undefined ? 0 : 1));
  const columns = form.columns.map(createColumn);
  const row = new Float64Array(width);
  let [line, field, count, badLines, firstBad] = [1, 0, 0, 0, 0];
  let isFull = false;
  // The number that is being read: its digits, how many behind the point, its exponent, and whether it is one at all.
  let [mantissa, scale, exponent, digits] = [0, 0, 0, 0];
  let [isNegative, isBehind, isExponent, isExponentNegative, isOdd, isEmptyRow] = [false, false, false, false, false, true];
  const clear = (): void => {
    [mantissa, scale, exponent, digits] = [0, 0, 0, 0];
    isNegative = isBehind = isExponent = isExponentNegative = isOdd = false;
  };
  const endField = (): void => {
    if (field < width) {
      const power = (isExponentNegative ? -exponent : exponent) - scale;
      const value = power === 0 ? mantissa : power < 0 ? mantissa / 10 ** -power : mantissa * 10 ** power;
      row[field] = isOdd || digits === 0 ? NaN : isNegative ? -value : value;
    }
    field++;
    clear();
  };
  const endLine = (): void => {
    if (line > form.headLines && !isEmptyRow) {
      endField();
      const isRow =
        field === width && (form.timeColumn === undefined ? row.some((v) => !Number.isNaN(v)) : !Number.isNaN(row[form.timeColumn]!));
      if (isRow && count * channels < MOST_SAMPLES) {
        for (let c = 0; c < width; c++) columns[c]!.add(row[c]!);
        count++;
      } else if (isRow) isFull = true;
      else {
        badLines++;
        if (firstBad === 0) firstBad = line;
      }
    }
    line++;
    field = 0;
    isEmptyRow = true;
    clear();
  };
  let before = 0;
  return {
    samples: () => count * channels,
    push(bytes: Uint8Array): void {
      for (let i = 0; i < bytes.length; i++) {
        const b = bytes[i]!;
        const was = before;
        before = b;
        if (b === LF) {
          if (was !== CR) endLine();
          continue;
        }
        if (b === CR) {
          endLine();
          continue;
        }
        if (line <= form.headLines) continue;
        if (b === separator) {
          // Runs of blanks separate once.
          if (separator !== 32 || (was !== 32 && !isEmptyRow)) endField();
          continue;
        }
        if (b === 32 || b === 9 || b === QUOTE) continue;
        isEmptyRow = false;
        if (b >= ZERO && b <= NINE) {
          if (isExponent) exponent = Math.min(400, exponent * 10 + b - ZERO);
          else {
            mantissa = mantissa * 10 + b - ZERO;
            digits++;
            if (isBehind) scale++;
          }
        } else if (b === decimal && !isBehind && !isExponent) isBehind = true;
        else if (b === MINUS && isExponent) isExponentNegative = true;
        else if (b === MINUS) isNegative = true;
        else if (b === E || b === SMALL_E) isExponent = true;
        else if (b !== PLUS) isOdd = true;
      }
    },
    end(): TraceProblem | { readonly trace: Trace; readonly notes: readonly TraceNote[] } {
      if (!isEmptyRow) endLine();
      if (count === 0) return { code: "no numbers" };
      if (count === 1) return { code: "one sample" };
      if (isFull) return { code: "too many samples", most: MOST_SAMPLES };
      const { timeColumn } = form;
      const named = form.columns.flatMap(({ name, unit }, i) => (i === timeColumn ? [] : [{ name, unit, values: columns[i]!.taken() }]));
      const kept = named.slice(0, MOST_CHANNELS);
      const notes: TraceNote[] = [
        ...(badLines === 0 ? [] : [{ code: "lines passed over" as const, count: badLines, first: firstBad }]),
        ...(named.length === kept.length ? [] : [{ code: "channels left out" as const, count: named.length - kept.length }]),
      ];
      if (timeColumn === undefined) {
        if (form.rateHz === undefined) return { code: "rate wanted" };
        const channels = kept.map(({ name, unit, values }): Channel => ({ name, unit, samples: Float32Array.from(values) }));
        return { trace: { startS: 0, rateHz: form.rateHz, count, channels }, notes };
      }
      const placed = placedByTime(columns[timeColumn]!.taken(), form.timeUnitS, kept, form.headLines);
      return "code" in placed ? placed : { trace: placed.trace, notes: [...notes, ...placed.notes] };
    },
  };
}

/** Puts samples on an even clock by their times: what is missing in between stays a gap. */
function placedByTime(
  times: Float64Array,
  unitS: number,
  columns: readonly { readonly name: string; readonly unit: string; readonly values: Float64Array }[],
  headLines: number,
): TraceProblem | { readonly trace: Trace; readonly notes: readonly TraceNote[] } {
  const count = times.length;
  for (let i = 1; i < count; i++)
    if (!(times[i]! > times[i - 1]!))
      return { code: times[i] === times[i - 1] ? "time stands still" : "time backwards", line: headLines + i + 1 };
  const step = usualStep(times);
  const even = times.every((t, i) => i === 0 || Math.abs(t - times[i - 1]! - step) <= UNEVEN * step);
  if (even) {
    const exact = (times[count - 1]! - times[0]!) / (count - 1);
    const channels = columns.map(({ name, unit, values }): Channel => ({ name, unit, samples: Float32Array.from(values) }));
    return { trace: { startS: times[0]! * unitS, rateHz: 1 / (exact * unitS), count, channels }, notes: [] };
  }
  const total = Math.round((times[count - 1]! - times[0]!) / step) + 1;
  if (total * columns.length > MOST_SAMPLES) return { code: "too many samples", most: MOST_SAMPLES };
  const place = Int32Array.from(times, (t) => Math.round((t - times[0]!) / step));
  const channels = columns.map(({ name, unit, values }): Channel => {
    const samples = new Float32Array(total).fill(NaN);
    for (let i = 0; i < count; i++) samples[place[i]!] = values[i]!;
    return { name, unit, samples };
  });
  const filled = new Set(place).size;
  const notes: TraceNote[] = [
    ...(total > filled ? [{ code: "gaps" as const, samples: total - filled }] : []),
    ...(filled < count ? [{ code: "uneven steps" as const }] : []),
  ];
  return { trace: { startS: times[0]! * unitS, rateHz: 1 / (step * unitS), count: total, channels }, notes };
}

/** The middle one of the first steps. */
function usualStep(times: Float64Array): number {
  const steps = Array.from(times.subarray(1, 2002), (t, i) => t - times[i]!).sort((p, q) => p - q);
  return steps[steps.length >> 1]!;
}
