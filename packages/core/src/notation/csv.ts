/** A table of text as read: cells by row, and the line of the file on which each row begins, from 1. */
export interface CsvRows {
  readonly rows: readonly (readonly string[])[];
  readonly lines: readonly number[];
  readonly separator: "," | ";" | "\t";
  /** Line of a quote that is never closed; what follows it was read as one cell. */
  readonly openQuote: number | undefined;
}

/** The separator that splits the first line into most cells; quoted cells are left out of the count. */
function separatorOf(text: string): CsvRows["separator"] {
  const end = text.indexOf("\n");
  const first = (end < 0 ? text : text.slice(0, end)).replace(/"[^"]*"/g, "");
  const count = (c: string): number => first.split(c).length;
  const best = ([";", "\t", ","] as const).reduce((p, q) => (count(q) > count(p) ? q : p));
  return count(best) > 1 ? best : ",";
}

/** Reads comma-, semicolon- or tab-separated text (RFC 4180, lenient in line ends). Empty lines are left out. */
export function readCsv(text: string): CsvRows {
  const separator = separatorOf(text);
  const rows: string[][] = [];
  const lines: number[] = [];
  let row: string[] = [];
  let line = 1;
  let rowLine = 1;
  let openQuote: number | undefined;
  const endRow = (): void => {
    if (row.some((c) => c !== "")) {
      rows.push(row);
      lines.push(rowLine);
    }
    row = [];
  };
  for (let i = 0; i <= text.length;) {
    if (row.length === 0) rowLine = line;
    let cell: string;
    if (text[i] === '"') {
      const began = line;
      let end = i + 1;
      let value = "";
      for (;;) {
        const quote = text.indexOf('"', end);
        if (quote < 0) {
          value += text.slice(end);
          end = text.length;
          openQuote ??= began;
          break;
        }
        value += text.slice(end, quote);
        end = quote + 1;
        if (text[end] !== '"') break;
        value += '"';
        end++;
      }
      for (const c of value) if (c === "\n") line++;
      cell = value;
      i = end;
      // Anything between the closing quote and the separator is kept, as spreadsheets do.
      const rest = endOfCell(text, i, separator);
      cell += text.slice(i, rest);
      i = rest;
    } else {
      const end = endOfCell(text, i, separator);
      cell = text.slice(i, end);
      i = end;
    }
    row.push(cell.trim());
    if (text[i] === separator) {
      i++;
      continue;
    }
    endRow();
    if (i >= text.length) break;
    if (text[i] === "\r" && text[i + 1] === "\n") i++;
    i++;
    line++;
  }
  return { rows, lines, separator, openQuote };
}

function endOfCell(text: string, from: number, separator: string): number {
  let i = from;
  while (i < text.length && text[i] !== separator && text[i] !== "\n" && text[i] !== "\r") i++;
  return i;
}

/** Writes rows with commas and points. A cell that a spreadsheet would take for a formula gets a leading apostrophe, which reading takes off again. */
export function writeCsv(rows: readonly (readonly (string | number | undefined)[])[]): string {
  return rows.map((row) => row.map(cellText).join(",") + "\r\n").join("");
}

function cellText(value: string | number | undefined): string {
  if (value === undefined) return "";
  const text = typeof value === "string" && /^[=+@'\t]|^-(?!$)/.test(value) ? `'${value}` : String(value);
  return /[",;\n\r\t]/.test(text) || text !== text.trim() ? `"${text.replaceAll('"', '""')}"` : text;
}

/** Takes the apostrophe off that keeps a spreadsheet from computing a cell. */
export const plainCell = (cell: string): string => (/^'[=+@'\t-]/.test(cell) ? cell.slice(1) : cell);

/** Bytes of a file as text, with the encoding that was found; `doubtful` when bytes stand in it that no usual encoding explains. */
export function decodeText(bytes: Uint8Array): { readonly text: string; readonly encoding: string; readonly doubtful: boolean } {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return { text: utf16(bytes, 2, false), encoding: "UTF-16", doubtful: false };
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return { text: utf16(bytes, 2, true), encoding: "UTF-16", doubtful: false };
  const start = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
  const text = utf8(bytes, start);
  if (text !== undefined) return { text, encoding: "UTF-8", doubtful: text.includes("\0") };
  return { text: windows1252(bytes), encoding: "Windows-1252", doubtful: bytes.includes(0) };
}

const CHUNK = 8192;

function join(codes: Uint16Array, length: number): string {
  let text = "";
  for (let i = 0; i < length; i += CHUNK) text += String.fromCharCode(...codes.subarray(i, Math.min(length, i + CHUNK)));
  return text;
}

function utf16(bytes: Uint8Array, from: number, big: boolean): string {
  const codes = new Uint16Array((bytes.length - from) >> 1);
  for (let i = 0; i < codes.length; i++) {
    const [p, q] = [bytes[from + 2 * i]!, bytes[from + 2 * i + 1]!];
    codes[i] = big ? (p << 8) | q : (q << 8) | p;
  }
  return join(codes, codes.length);
}

/** Strict; undefined when the bytes are no UTF-8. */
function utf8(bytes: Uint8Array, from: number): string | undefined {
  const codes = new Uint16Array(bytes.length - from);
  let n = 0;
  for (let i = from; i < bytes.length;) {
    const b = bytes[i]!;
    const more = b < 0x80 ? 0 : b >= 0xc2 && b < 0xe0 ? 1 : b >= 0xe0 && b < 0xf0 ? 2 : b >= 0xf0 && b < 0xf5 ? 3 : -1;
    if (more < 0 || i + more >= bytes.length) return undefined;
    let code = more === 0 ? b : b & (0x3f >> more);
    for (let k = 1; k <= more; k++) {
      const next = bytes[i + k]!;
      if ((next & 0xc0) !== 0x80) return undefined;
      code = (code << 6) | (next & 0x3f);
    }
    if ((more === 2 && (code < 0x800 || (code >= 0xd800 && code < 0xe000))) || (more === 3 && (code < 0x10000 || code > 0x10ffff)))
      return undefined;
    if (code >= 0x10000) {
      codes[n++] = 0xd800 + ((code - 0x10000) >> 10);
      codes[n++] = 0xdc00 + ((code - 0x10000) & 0x3ff);
    } else codes[n++] = code;
    i += more + 1;
  }
  return join(codes, n);
}

/** 0x80…0x9f of Windows-1252; a dot where nothing is defined. */
const HIGH = "€·‚ƒ„…†‡ˆ‰Š‹Œ·Ž··‘’“”•–—˜™š›œ·žŸ";

function windows1252(bytes: Uint8Array): string {
  const codes = new Uint16Array(bytes.length);
  for (let i = 0; i < bytes.length; i++) {
    const b = bytes[i]!;
    codes[i] = b >= 0x80 && b < 0xa0 ? HIGH.charCodeAt(b - 0x80) : b;
  }
  return join(codes, codes.length);
}
