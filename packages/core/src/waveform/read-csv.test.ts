import { expect } from "chai";
import fc from "fast-check";
import { createCsvReader, type TraceRead } from "./read-csv.ts";
import type { CsvForm } from "./csv-head.ts";

const bytesOf = (text: string): Uint8Array => Uint8Array.from(Buffer.from(text, "utf8"));
function read(text: string, said: Partial<CsvForm> = {}): TraceRead {
  const reader = createCsvReader(said);
  reader.push(bytesOf(text));
  return reader.end();
}
const traceOf = (r: TraceRead) => {
  if (r.kind === "bad") throw new Error(JSON.stringify(r.problem));
  return r;
};
const shown = (r: TraceRead): unknown => {
  const { trace } = traceOf(r);
  return [
    trace.startS,
    Number(trace.rateHz.toPrecision(6)),
    trace.channels.map((c) => [c.name, c.unit, [...c.samples].map((v) => Number(v.toPrecision(6)))]),
  ];
};

describe("a table of samples", () => {
  it("is understood as loggers and scopes write it: heads, units, separators, decimal commas, rate in the head", () => {
    expect(shown(read("Time (ms),Channel A (V),Channel B (A)\n0,12.1,1\n0.5,12.2,2\n1.0,12.3,3\n"))).to.deep.equal([
      0,
      2000,
      [
        ["Channel A", "V", [12.1, 12.2, 12.3]],
        ["Channel B", "A", [1, 2, 3]],
      ],
    ]);
    expect(shown(read("Zeit;Lampe\ns;V\n-0,001;0,25\n0;12,5\n0,001;-3\n"))).to.deep.equal([
      -0.001,
      1000,
      [["Lampe", "V", [0.25, 12.5, -3]]],
    ]);
    expect(shown(read("# some scope\nSample rate: 2 MHz\nCH1\n1\n2\n3\n"))).to.deep.equal([0, 2e6, [["CH1", "", [1, 2, 3]]]]);
    expect(shown(read("Increment,5e-4 s\nCH1 [mV]\n1e3\n-2.5E-1\n.5\n"))).to.deep.equal([0, 2000, [["CH1", "mV", [1000, -0.25, 0.5]]]]);
    // Tabs, no head at all, CRLF and a quote around every field.
    expect(shown(read('"0"\t"5"\r\n"0.01"\t"6"\r\n"0.02"\t"7"\r\n"0.03"\t"8"'))).to.deep.equal([0, 100, [["Column 2", "", [5, 6, 7, 8]]]]);
    expect(shown(read("0 1\n0.1  2\n0.2 3\n"))).to.deep.equal([0, 10, [["Column 2", "", [1, 2, 3]]]]);
    expect(shown(read("Time (µs),U (V)\n0,1\n10,2\n20,3\n"))).to.deep.equal([0, 1e5, [["U", "V", [1, 2, 3]]]]);
  });

  it("what somebody says counts more than the head: another rate, no time in the first column", () => {
    expect(read("5\n6\n7\n")).to.deep.include({ kind: "bad", problem: { code: "rate wanted" } });
    expect(shown(read("5\n6\n7\n", { rateHz: 50 }))).to.deep.equal([0, 50, [["Column 1", "", [5, 6, 7]]]]);
    expect(shown(read("0,5\n1,6\n2,7\n", { timeColumn: undefined, rateHz: 10 }))).to.deep.equal([
      0,
      10,
      [
        ["Column 1", "", [0, 1, 2]],
        ["Column 2", "", [5, 6, 7]],
      ],
    ]);
  });

  it("gaps stay gaps, a field without a number is one, and lines that are none are passed over and told", () => {
    const r = traceOf(read("t (s),U (V)\n0,1\n1,2\n4,5\n5,overload\nbroken off\n6,7\n7,8\n"));
    expect([...r.trace.channels[0]!.samples]).to.deep.equal([1, 2, NaN, NaN, 5, NaN, 7, 8]);
    expect(r.notes).to.deep.equal([
      { code: "lines passed over", count: 1, first: 6 },
      { code: "gaps", samples: 2 },
    ]);
  });

  it("names what cannot be read, with the line", () => {
    const problemOf = (text: string): unknown => {
      const r = read(text);
      return r.kind === "bad" ? r.problem : r.kind;
    };
    expect(problemOf("")).to.deep.equal({ code: "empty" });
    expect(problemOf("words\nand more words\n")).to.deep.equal({ code: "no numbers" });
    expect(problemOf("t,U\n0,1\n")).to.deep.equal({ code: "one sample" });
    expect(problemOf("PK\u0003\u0004\u0000\u0000 a zip")).to.deep.equal({ code: "binary" });
    expect(problemOf("t (s),U\n0,1\n1,2\n0.5,3\n")).to.deep.equal({ code: "time backwards", line: 4 });
    expect(problemOf("t (s),U\n0,1\n1,2\n1,3\n")).to.deep.equal({ code: "time stands still", line: 4 });
  });

  it("keeps eight channels of more, and says so", () => {
    const wide = (i: number): string => Array.from({ length: 11 }, (_, c) => (c === 0 ? i * 0.1 : c + i).toFixed(1)).join(",");
    const r = traceOf(read(`time,${Array.from({ length: 10 }, (_, c) => `ch${c}`).join(",")}\n${[0, 1, 2, 3].map(wide).join("\n")}\n`));
    expect(r.trace.channels).to.have.length(8);
    expect(r.notes).to.deep.equal([{ code: "channels left out", count: 2 }]);
  });

  it("reads the same whatever pieces it comes in", () => {
    const text = "Time (ms),Channel A (V)\r\n0,-12.125e0\r\n0.5,+.5\r\n1.0,1E-3\r\n";
    const whole = shown(read(text));
    const all = bytesOf(text);
    for (let cut = 0; cut <= all.length; cut++) {
      const reader = createCsvReader();
      reader.push(all.subarray(0, cut));
      reader.push(all.subarray(cut));
      expect(shown(reader.end()), String(cut)).to.deep.equal(whole);
    }
    // Also where the beginning is longer than what the form is read from.
    const long = `t (s),U (V)\n${Array.from({ length: 4000 }, (_, i) => `${i},${i % 7}.25`).join("\n")}\n`;
    const pieces = createCsvReader();
    for (let i = 0; i < long.length; i += 1009) pieces.push(bytesOf(long.slice(i, i + 1009)));
    expect(shown(pieces.end())).to.deep.equal(shown(read(long)));
  });

  it("gives back every number that was written, in any form", () => {
    const value = fc.double({ min: -1e6, max: 1e6, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(value, value), { minLength: 3, maxLength: 30 }),
        fc.constantFrom([",", "."], [";", ","], ["\t", "."], ["\t", ","]),
        (rows, [separator, decimal]) => {
          const written = (n: number): string => String(n).replace(".", decimal!);
          const text = rows.map((r, i) => [i, ...r].map(written).join(separator)).join("\n");
          const said = { separator, decimal, timeColumn: 0, timeUnitS: 1, headLines: 0 } as Partial<CsvForm>;
          const { trace } = traceOf(read(text, said));
          rows.forEach((r, i) => r.forEach((v, c) => expect(trace.channels[c]!.samples[i]).to.be.closeTo(v, 1e-6 * Math.abs(v) + 1e-12)));
        },
      ),
      { numRuns: 60 },
    );
  });
});
