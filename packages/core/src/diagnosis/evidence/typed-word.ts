import { inWords } from "./describe.ts";
import { RESULT_WORDS, type Observable, type ResultWord } from "./kinds/index.ts";

/** What people type for a word that a test is answered with, by kind of evidence; the words themselves and how they stand on the buttons are known anyway. */
const TYPED: Partial<Record<Observable["kind"], Readonly<Record<string, ResultWord>>>> = {
  part: {
    works: "full",
    work: "full",
    ok: "full",
    on: "full",
    lit: "full",
    lights: "full",
    bright: "full",
    runs: "full",
    spins: "full",
    click: "full",
    clicks: "full",
    "pulls in": "full",
    dim: "weak",
    slow: "weak",
    out: "none",
    off: "none",
    dark: "none",
    nothing: "none",
    no: "none",
    "no click": "none",
    flicker: "flickers",
    "comes and goes": "flickers",
    fast: "too much",
    "too bright": "too much",
    "too fast": "too much",
    "too high": "too much",
  },
  lamp: { lit: "bright", full: "bright", on: "bright", glows: "glowing", out: "dark", off: "dark", no: "dark" },
  continuity: { beep: "beeps", tone: "beeps", yes: "beeps", "no beep": "silent", "no tone": "silent", no: "silent" },
  answers: { answers: "yes", ok: "yes", silent: "no", mute: "no" },
  fuse: { ok: "holds", blew: "blew at once", blown: "blew at once", blows: "blew at once" },
  look: { ok: "nothing", clean: "nothing", good: "nothing", green: "corroded", chafed: "rubbed", wet: "water", melted: "burnt" },
  wiggle: { changes: "moves", ok: "steady" },
  check: { ok: "as it should be", good: "as it should be" },
};

export type TypedWord =
  | { readonly kind: "word"; readonly word: ResultWord }
  /** None of the words that answer it; `words` as they stand on the buttons. */
  | { readonly kind: "other"; readonly words: readonly string[] }
  /** It is measured, and answered with a number. */
  | { readonly kind: "measured" };

/** The word that somebody typed as the answer to a test: the word itself, how it is said, what people type for it, or the only one that begins so. */
export function readWord(o: Observable, typed: string): TypedWord {
  if (!(o.kind in RESULT_WORDS)) return { kind: "measured" };
  const known = RESULT_WORDS[o.kind as keyof typeof RESULT_WORDS] as readonly ResultWord[];
  const wanted = typed.trim().toLowerCase().replace(/\s+/g, " ");
  const said = [...known.flatMap((w) => [[w, w] as const, [inWords(w), w] as const]), ...Object.entries(TYPED[o.kind] ?? {})];
  const exact = said.find(([text]) => text === wanted)?.[1];
  const begun = new Set(wanted === "" ? [] : said.flatMap(([text, word]) => (text.startsWith(wanted) ? [word] : [])));
  const word = exact ?? (begun.size === 1 ? [...begun][0] : undefined);
  return word === undefined ? { kind: "other", words: known.map(inWords) } : { kind: "word", word };
}
