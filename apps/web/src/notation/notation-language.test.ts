import { expect } from "chai";
import { CompletionContext } from "@codemirror/autocomplete";
import { EditorState } from "@codemirror/state";
import { highlightTree, tagHighlighter, tags } from "@lezer/highlight";
import { ensureSyntaxTree } from "@codemirror/language";
import { completeNotation, notationLanguage } from "./notation-language.ts";

/** Labels offered at the end of a text. */
function offered(text: string, explicit = true): string[] {
  const state = EditorState.create({ doc: text, extensions: [notationLanguage] });
  return completeNotation(new CompletionContext(state, text.length, explicit))?.options.map((o) => o.label) ?? [];
}

/** The words of a text with what they are coloured as. */
function coloured(text: string): string[] {
  const state = EditorState.create({ doc: text, extensions: [notationLanguage] });
  const names = {
    comment: tags.comment,
    string: tags.string,
    operator: tags.operator,
    keyword: tags.keyword,
    part: tags.typeName,
    number: tags.number,
    colour: tags.atom,
    pin: tags.propertyName,
    wire: tags.variableName,
  };
  const found: string[] = [];
  const tree = ensureSyntaxTree(state, text.length, 5000);
  if (tree === null) throw new Error("not parsed");
  highlightTree(tree, tagHighlighter(Object.entries(names).map(([name, tag]) => ({ tag, class: name }))), (from, to, name) =>
    found.push(`${text.slice(from, to)}:${name}`),
  );
  return found;
}

describe("circuit language", () => {
  it("colours parts, pins, wires, numbers and comments", () => {
    expect(coloured("BAT -- W2 RD/YE 4mm2 2m -- C21.4 # feed")).to.deep.equal([
      "BAT:part",
      "--:operator",
      "W2:wire",
      "RD/YE:colour",
      "4mm2:number",
      "2m:number",
      "--:operator",
      "C21:part",
      ".4:pin",
      "# feed:comment",
    ]);
    expect(coloured('FAN(motor 22A "cab")').join(" ")).to.contain("motor:keyword").and.contain("22A:number").and.contain('"cab":string');
  });

  it("offers names of the text and colours on a chain, and words for parts in parentheses", () => {
    expect(offered("BAT -- RD 1mm2 1m -- F7(10A) -- BU 1mm2 1m -- C5.2\nF")).to.include.members(["F7", "C5", "BK", "WH"]);
    expect(offered("FAN(m")).to.include.members(["motor", "lamp", "crank"]).and.not.include("BK");
    expect(offered("", true)).to.include.members(["circuit", "nominal", "BAT"]);
  });

  it("does not push itself on someone who types a number", () => {
    expect(offered("BAT -- RD 2", false)).to.deep.equal([]);
  });
});
