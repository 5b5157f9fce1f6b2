import { snippetCompletion, type Completion, type CompletionContext, type CompletionResult } from "@codemirror/autocomplete";
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { EditorView } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { WIRE_COLOURS } from "@rheonom/core/harness";
import { PART_WORDS, PLACE_WORDS } from "@rheonom/core/notation";

const COLOUR = new RegExp(`^(${Object.keys(WIRE_COLOURS).join("|")})([/-](${Object.keys(WIRE_COLOURS).join("|")}))?\\b`, "i");

/** Colours the words of a circuit text. What is right or wrong the parser says. */
export const notationLanguage = StreamLanguage.define<{ inside: boolean }>({
  name: "circuit",
  startState: () => ({ inside: false }),
  token(stream, state) {
    if (stream.eatSpace()) return null;
    if (stream.match(/^#.*/)) return "comment";
    if (stream.match(/^"[^"]*"?/)) return "string";
    if (stream.match(/^(--|–|—)/)) return "operator";
    if (stream.match(/^[()]/)) {
      state.inside = stream.current() === "(";
      return "bracket";
    }
    if (stream.sol() && stream.match(/^(circuit|nominal|vehicle|option|zone|loom|code|sheet|via|if)\b/i)) return "keyword";
    if (stream.match(/^[+-]?\d[\d.,]*[A-Za-zΩ²]*/)) return "number";
    if (!state.inside && stream.match(/^W\d+\b/i)) return "variableName";
    if (!state.inside && stream.match(COLOUR)) return "atom";
    if (stream.match(/^[A-Za-z_]\w*/)) return state.inside ? "keyword" : "typeName";
    if (stream.match(/^\.[\w+-]+/)) return "propertyName";
    stream.next();
    return null;
  },
  languageData: { commentTokens: { line: "#" } },
});

export const notationHighlight = syntaxHighlighting(
  HighlightStyle.define([
    { tag: tags.comment, color: "var(--ink-2)", fontStyle: "italic" },
    { tag: tags.string, color: "var(--ok)" },
    { tag: tags.operator, color: "var(--ink-2)" },
    { tag: tags.keyword, color: "var(--accent)", fontWeight: "600" },
    { tag: tags.typeName, fontWeight: "700" },
    { tag: tags.number, color: "var(--sound)" },
    { tag: tags.atom, color: "var(--suspect)", fontWeight: "600" },
    { tag: tags.propertyName, color: "var(--accent)" },
  ]),
);

export const notationTheme = EditorView.theme({
  "&": { fontSize: "15px", backgroundColor: "var(--field)", color: "var(--ink)", height: "100%" },
  ".cm-scroller": { fontFamily: "var(--mono)", lineHeight: "1.6" },
  ".cm-content": { caretColor: "var(--ink)", padding: "10px 0" },
  ".cm-cursor": { borderLeftColor: "var(--ink)", borderLeftWidth: "2px" },
  ".cm-gutters": { backgroundColor: "var(--sunken)", color: "var(--ink-2)", border: "none" },
  ".cm-activeLine, .cm-activeLineGutter": { backgroundColor: "color-mix(in srgb, var(--accent-soft) 45%, transparent)" },
  "&.cm-focused": { outline: "3px solid var(--focus)", outlineOffset: "-2px" },
  "&.cm-focused > .cm-scroller > .cm-selectionLayer .cm-selectionBackground, .cm-selectionBackground": {
    backgroundColor: "var(--accent-soft)",
  },
  ".cm-tooltip": { backgroundColor: "var(--surface)", color: "var(--ink)", border: "1px solid var(--line-strong)" },
  ".cm-tooltip-autocomplete > ul > li": { padding: "6px 10px", fontFamily: "var(--mono)" },
  ".cm-tooltip-autocomplete > ul > li[aria-selected]": { backgroundColor: "var(--accent)", color: "var(--on-accent)" },
  ".cm-diagnostic-error": { borderLeftColor: "var(--danger)" },
  ".cm-diagnostic-warning": { borderLeftColor: "var(--caution-line)" },
});

const WORD_HELP: Readonly<Record<string, string>> = {
  run: "closes with the key in run",
  acc: "closes with the key in accessory",
  crank: "closes while cranking",
  on: "the metal a ground is bolted to",
  at: "where it is on the vehicle",
  pins: "the load's own pin names",
  charge: "voltage with the alternator charging",
};

const STARTS: readonly Completion[] = [
  snippetCompletion('circuit "${name}"', { label: "circuit", detail: "name of the circuit" }),
  snippetCompletion("nominal ${24}V", { label: "nominal", detail: "12 V unless said" }),
  snippetCompletion("BAT -- ${RD 6mm2 1m} -- F1(${10A}) -- ${RD 2.5mm2 2m} -- ", { label: "BAT", detail: "start of a feed" }),
  snippetCompletion("G1 -- ${BK 25mm2 0.5m} -- BAT", { label: "G1 to battery", detail: "the battery's ground cable" }),
];

/** Wire colours, words for parts, and the names that the text already holds. */
export function completeNotation(context: CompletionContext): CompletionResult | null {
  const word = context.matchBefore(/[A-Za-z][\w./]*/);
  if (word === null && !context.explicit) return null;
  const from = word?.from ?? context.pos;
  const line = context.state.doc.lineAt(context.pos);
  const before = line.text.slice(0, from - line.from);
  const inside = before.lastIndexOf("(") > before.lastIndexOf(")");
  if (inside)
    return { from, options: [...PART_WORDS, ...PLACE_WORDS].map((w) => ({ label: w, type: "keyword", detail: WORD_HELP[w] ?? "" })) };
  const names = new Set(context.state.doc.toString().match(/\b[A-Z]+\d+\w*\b/g) ?? []);
  names.delete(word?.text ?? "");
  const options: Completion[] = [
    ...[...names].slice(0, 200).map((n) => ({ label: n, type: "variable" })),
    ...Object.entries(WIRE_COLOURS).map(([letters, name]) => ({ label: letters, type: "constant", detail: name })),
    ...(before.trim() === "" ? STARTS : []),
  ];
  return { from, options, validFor: /^[\w./]*$/ };
}
