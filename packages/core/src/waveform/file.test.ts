import { expect } from "chai";
import { readTraceFile, writeTraceFile } from "./file.ts";
import type { Trace } from "./trace.ts";

const TRACE: Trace = {
  startS: -0.5,
  rateHz: 2e6,
  count: 3,
  channels: [
    { name: "Kanal µ „A“", unit: "V", samples: Float32Array.from([0.1, NaN, -1e30]) },
    { name: "B", unit: "", samples: Float32Array.from([1, 2, 3]) },
  ],
};

describe("a kept trace", () => {
  it("comes back as it was, gaps and names and all, and has the layout that is published", () => {
    const bytes = writeTraceFile(TRACE);
    const back = readTraceFile(bytes);
    // A server holds it in a Buffer, of which a slice is a view.
    expect(readTraceFile(Buffer.concat([Buffer.from("x"), bytes]).subarray(1))).to.deep.equal(back);
    expect(back).to.deep.equal({ kind: "read", trace: TRACE });
    const head = bytes.indexOf(10);
    expect(JSON.parse(Buffer.from(bytes.subarray(0, head)).toString("latin1"))).to.deep.include({ format: "rheonom-trace", count: 3 });
    // 1.0 as IEEE 754, least significant byte first, behind the three samples of the first channel.
    expect([...bytes.subarray(head + 1 + 12, head + 1 + 16)]).to.deep.equal([0, 0, 0x80, 0x3f]);
  });

  it("is refused at every length that it can be cut to, and with a head that promises too much", () => {
    const bytes = writeTraceFile(TRACE);
    for (let cut = 0; cut < bytes.length; cut++) expect(readTraceFile(bytes.subarray(0, cut)).kind, String(cut)).to.equal("bad");
    const promise = (text: string): unknown => readTraceFile(Uint8Array.from(Buffer.from(`${text}\n`)));
    const head = {
      format: "rheonom-trace",
      version: 1,
      startS: 0,
      rateHz: 1,
      count: 12_000_000,
      channels: Array(8).fill({ name: "", unit: "" }),
    };
    expect(promise(JSON.stringify(head))).to.deep.equal({ kind: "bad", why: "it has more than 12 million samples" });
    expect(promise("[1]")).to.have.property("kind", "bad");
    expect(promise(JSON.stringify({ ...head, count: -1 }))).to.have.property("kind", "bad");
  });
});
