import { expect } from "chai";
import { printable } from "./printable.ts";

describe("printable", () => {
  it("leaves out what no text holds, at any depth, and nothing else", () => {
    const pasted = { text: "before\u0000 after\u001b\ud83d", list: ["\udc00x", 4, null, true], kept: { text: "Ω 😀\tone\r\ntwo" } };
    expect(printable(pasted)).to.deep.equal({ text: "before after", list: ["x", 4, null, true], kept: { text: "Ω 😀\tone\r\ntwo" } });
  });
});
