import { expect } from "chai";
import { readTypedCodes } from "@rheonom/core/codes";
import { clearOutcome, linesLeft, scanFrom, scanNotices } from "./codes-model.ts";

describe("the model of the Codes screen", () => {
  it("takes who has a code as answering, and keeps the lines that could not be read", () => {
    const text = "P0118 active ECM\nnonsense here\nBCM silent\nU0100-87 stored ABS";
    const typed = readTypedCodes(text);
    const scan = scanFrom(typed.codes, typed.silent, "typed", "2026-11-28T07:00:00.000Z");
    expect(scan.modules).to.deep.equal([
      { id: "ECM", answers: true },
      { id: "ABS", answers: true },
      { id: "BCM", answers: false },
    ]);
    expect(linesLeft(text, typed.misread)).to.equal("nonsense here");
  });
  it("says what broke a scan off, which modules were odd, and which were not cleared", () => {
    const scan = scanFrom([], [], "scan", "2026-11-28T07:00:00.000Z");
    const ended = { type: "scanned", scan, complete: false, odd: [{ module: "M1", why: "ends early" }] } as const;
    expect(scanNotices({ ...ended, odd: [...ended.odd], why: "cancelled" })).to.deep.equal([
      "Stopped. What was read until then is kept.",
      "M1: ends early.",
    ]);
    expect(scanNotices({ ...ended, odd: [], complete: true, why: "" })).to.deep.equal([]);
    const some = clearOutcome({
      type: "cleared",
      modules: [
        { id: "M1", cleared: true, why: "" },
        { id: "M2", cleared: false, why: "does not answer" },
      ],
    });
    expect(some).to.deep.equal({ any: true, notice: "Not cleared: M2 (does not answer)." });
    expect(clearOutcome({ type: "cleared", modules: [{ id: "M1", cleared: false, why: "x" }] }).any).to.equal(false);
  });
});
