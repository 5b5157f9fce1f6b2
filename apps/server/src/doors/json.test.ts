import { expect } from "chai";
import fc from "fast-check";
import { AppError } from "../errors.ts";
import { depthOf, inShape, MESSAGE_SHAPE, readJson } from "./json.ts";

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const bounds = { depth: 5, values: 50, text: 20 };
/** The words of the refusal; "taken" when there is none. */
function refusal(text: string | Uint8Array): string {
  try {
    readJson(typeof text === "string" ? bytes(text) : text, bounds);
    return "taken";
  } catch (error) {
    if (!(error instanceof AppError)) throw error;
    return `${error.code}: ${error.facts.what ?? error.facts.why ?? ""}`;
  }
}

describe("the door for JSON", () => {
  it("takes any value that is within its bounds as it is, but −0, which the database keeps as 0", () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const text = JSON.stringify(value);
        fc.pre(!/[\u0000-\u001f\u007f]|\\u00|__proto__/.test(text));
        expect(readJson(bytes(text), MESSAGE_SHAPE)).to.deep.equal(JSON.parse(text));
      }),
      { numRuns: 300, seed: 7 },
    );
    expect(Object.is(readJson(bytes('{"a":-0}'), bounds) as { a: number }, -0)).to.equal(false);
    expect(Object.is((readJson(bytes("[-0.0]"), bounds) as number[])[0], 0)).to.equal(true);
  });
  const REFUSED: readonly (readonly [string, string | Uint8Array, RegExp])[] = [
    ["a NUL", '{"a":"x\\u0000y"}', /body-shape: a holds the character U\+0000/],
    ["another control character", '{"a":{"b":["\\u0007"]}}', /body-shape: a\.b\.0 holds the character U\+0007/],
    ["half a character", '["\\ud83d"]', /lone surrogate/],
    ["half a character the other way", '["\\udc00x"]', /lone surrogate/],
    ["a NUL in a name", '{"\\u0000":1}', /U\+0000/],
    ["more depth than is counted", `${"[".repeat(6)}${"]".repeat(6)}`, /nested 6 deep/],
    ["more values", JSON.stringify(Array.from({ length: 60 }, () => 1)), /more than 50 values/],
    ["a longer text", JSON.stringify({ a: "x".repeat(21) }), /a is longer than 20/],
    ["a number beyond all bounds", "[1e999]", /too large a number/],
    ["a field __proto__", '{"__proto__":{}}', /__proto__/],
    ["bytes that are no UTF-8", Uint8Array.of(0x22, 0xff, 0x22), /body-not-json/],
    ["half an object", '{"a":', /body-not-json/],
    ["nothing", "", /body-not-json/],
  ];
  for (const [what, text, words] of REFUSED) it(`refuses ${what}`, () => void expect(refusal(text)).to.match(words));
  it("lets whole characters, tabs and lines through", () => {
    const text = JSON.stringify(["Ω µ → 😀", "a\tb\r\nc"]);
    expect(readJson(bytes(text), bounds)).to.deep.equal(JSON.parse(text));
  });
  it("counts depth outside of texts only, ahead of building anything", () => {
    expect(depthOf(bytes('{"a":"[[[\\"[[","b":[{}]}'))).to.equal(3);
    // Building these takes seconds, and ends in another error.
    expect(refusal("[".repeat(12_000_000))).to.match(/body-shape: it is nested 12000000 deep/);
  });
  it("checks a parsed query in the same way", () => {
    expect(() => inShape({ search: "a\u0000" }, bounds)).to.throw(AppError);
    expect(inShape({ search: "pump" }, bounds)).to.deep.equal({ search: "pump" });
  });
});
