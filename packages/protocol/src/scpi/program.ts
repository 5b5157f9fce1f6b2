/** One command of a message as an instrument takes it apart. */
export interface ScpiCommand {
  /** Words of the header in capitals, from the root on: ["CONF", "VOLT", "DC"]; a common command has one: ["*IDN"]. */
  readonly header: readonly string[];
  readonly isQuery: boolean;
  /** Without the quotes of strings. */
  readonly parameters: readonly string[];
}
export type ScpiParsed =
  | { readonly kind: "command"; readonly command: ScpiCommand }
  /** `text`: what cannot be taken apart. */
  | { readonly kind: "bad"; readonly text: string };

const HEADER = /^(?:\*[A-Z]+|[A-Z][A-Z0-9_]*(?::[A-Z][A-Z0-9_]*)*)$/i;

/**
 * Takes a message apart into its commands (SCPI-1999, volume 1, 6.2.4): after a semicolon a header goes on where the last one ended, unless it begins with
 * a colon; common commands change nothing about that. Separators within quotes are text.
 */
export function parseProgram(message: string): readonly ScpiParsed[] {
  const found: ScpiParsed[] = [];
  let path: readonly string[] = [];
  for (const unit of splitOutside(message, ";")) {
    const text = unit.trim();
    if (text === "") continue;
    const space = text.search(/\s/);
    const [head, rest] = space < 0 ? [text, ""] : [text.slice(0, space), text.slice(space).trim()];
    const isQuery = head.endsWith("?");
    const bare = (isQuery ? head.slice(0, -1) : head).replace(/^:/, "");
    if (!HEADER.test(bare)) {
      found.push({ kind: "bad", text });
      continue;
    }
    const words = bare.toUpperCase().split(":");
    const isCommon = bare.startsWith("*");
    const header = isCommon || head.startsWith(":") ? words : [...path, ...words];
    if (!isCommon) path = header.slice(0, -1);
    const parameters = rest === "" ? [] : splitOutside(rest, ",").map((p) => unquoted(p.trim()));
    found.push({ kind: "command", command: { header, isQuery, parameters } });
  }
  return found;
}

/** Parts between separators that are not within quotes. */
function splitOutside(text: string, separator: string): readonly string[] {
  const parts: string[] = [];
  let from = 0;
  let quote = "";
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!;
    if (quote !== "") quote = c === quote ? "" : quote;
    else if (c === '"' || c === "'") quote = c;
    else if (c === separator) {
      parts.push(text.slice(from, i));
      from = i + 1;
    }
  }
  parts.push(text.slice(from));
  return parts;
}

/** A string's text; a quote that is doubled stands for itself. */
function unquoted(text: string): string {
  const q = text[0];
  if ((q !== '"' && q !== "'") || text.length < 2 || !text.endsWith(q)) return text;
  return text.slice(1, -1).replaceAll(q + q, q);
}

/** Parts of an answer that are separated by commas, those within quotes whole. */
export const answerParts = (text: string): readonly string[] => splitOutside(text, ",").map((p) => unquoted(p.trim()));

/**
 * Whether a header is what a pattern names: "MEASure[:VOLTage]:DC" takes "MEAS:DC", "measure:volt:dc" and no other cut of the words. Words in brackets
 * may be left out; the capitals of a word are its short form.
 */
export function isHeader(pattern: string, header: readonly string[]): boolean {
  const words = [...pattern.matchAll(/(\[)?:?(\*?[A-Za-z0-9_]+)\]?/g)].map(([, optional, word]) => ({
    word: word!,
    optional: optional !== undefined,
  }));
  const fits = (at: number, from: number): boolean => {
    if (at === words.length) return from === header.length;
    const { word, optional } = words[at]!;
    const said = header[from];
    if (said !== undefined && (said === word.toUpperCase() || said === word.replace(/[a-z]/g, "")) && fits(at + 1, from + 1)) return true;
    return optional && fits(at + 1, from);
  };
  return fits(0, 0);
}
