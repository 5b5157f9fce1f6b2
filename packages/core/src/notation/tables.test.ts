import { expect } from "chai";
import { readdirSync, readFileSync } from "node:fs";
import type { Harness } from "../harness/index.ts";
import { decodeText, readCsv } from "./csv.ts";
import { parseNotation } from "./parse.ts";
import { readTables, type TableFile } from "./tables.ts";
import { writeTables } from "./write-tables.ts";

const folder = new URL("../../../../demo/vehicles/", import.meta.url);

/** Tables keep the order of parts within a table only. */
const sorted = (h: Harness | undefined): unknown => {
  const by = <T extends { id: string }>(list: readonly T[]): T[] => [...list].sort((p, q) => (p.id < q.id ? -1 : 1));
  return h === undefined ? undefined : { ...h, components: by(h.components), wires: by(h.wires) };
};
const bytes = (...parts: (string | readonly number[])[]): Uint8Array =>
  Uint8Array.from(parts.flatMap((p) => (typeof p === "string" ? [...Buffer.from(p, "utf8")] : p)));

const WIRES = "id,from,to,colour,area_mm2,length_m\n";
const SMALL: TableFile[] = [
  { name: "components.csv", text: "id,kind,rating\nBAT,battery,12.6V\nLP,lamp,21W\n" },
  { name: "wires.csv", text: `${WIRES}W1,BAT.+,F1.1,RD,2.5,1\nW2,F1.2,LP.1,RD/BK,1.5,2\nW3,LP.2,G2,BK,1.5,0.5\nW4,G1,BAT.-,BK,25,0.4\n` },
  { name: "fuses.csv", text: "id,amps\nF1,10\n" },
];
const withWires = (text: string): TableFile[] => SMALL.map((f) => (f.name === "wires.csv" ? { ...f, text } : f));
const complaints = (files: readonly TableFile[]): string[] =>
  readTables(files)
    .problems.filter((p) => p.severity === "error")
    .map((p) => `${p.file}:${p.row}:${p.column} ${p.message}`);

describe("tables", () => {
  for (const file of readdirSync(folder))
    it(`give ${file} back as it was written`, () => {
      const { harness } = parseNotation(readFileSync(new URL(file, folder), "utf8"));
      const read = readTables(writeTables(harness!));
      expect(read.problems.filter((p) => p.severity === "error")).to.deep.equal([]);
      expect(sorted(read.harness)).to.deep.equal(sorted(harness));
    });

  it("take what a spreadsheet of another country writes: semicolons, decimal commas, headings of its own, a mark of order", () => {
    const text =
      "\ufeffId;From;To;Color;Area [mm²];Length (m)\nW1;BAT.+;F1.1;rd;2,5;1\nW2;F1.2;LP.1;RD-BK;1,5;2,0\nW3;LP.2;G2;BK;1,5;0,5\nW4;G1;BAT.-;BK;25;0,4\n";
    const decoded = decodeText(Buffer.from(text, "utf8"));
    const { harness } = readTables(withWires(decoded.text));
    expect(harness?.wires.map((w) => [w.colour, w.areaMm2, w.lengthM])).to.deep.equal([
      ["RD", 2.5, 1],
      ["RD/BK", 1.5, 2],
      ["BK", 1.5, 0.5],
      ["BK", 25, 0.4],
    ]);
  });

  it("read each usual encoding", () => {
    expect(decodeText(bytes("größe, Ω"))).to.include({ text: "größe, Ω", encoding: "UTF-8" });
    expect(decodeText(bytes([0x67, 0x72, 0xf6, 0xdf, 0x65, 0x20, 0x80]))).to.include({ text: "größe €", encoding: "Windows-1252" });
    expect(decodeText(bytes([0xff, 0xfe, 0x57, 0, 0x31, 0, 0xa9, 0x03]))).to.include({ text: "W1Ω", encoding: "UTF-16" });
    expect(decodeText(bytes([0x89, 0x50, 0x4e, 0x47, 0, 0, 0xff])).doubtful).to.equal(true);
  });

  it("keep quoted separators, quotes and ends of line inside their cell, and lines counted by the file", () => {
    const { rows, lines } = readCsv('a,b\r\n"x, ""y""\nz",2\r\n\r\n3,4');
    expect(rows).to.deep.equal([
      ["a", "b"],
      ['x, "y"\nz', "2"],
      ["3", "4"],
    ]);
    expect(lines).to.deep.equal([1, 2, 5]);
  });

  const BAD: [string, TableFile[], RegExp][] = [
    ["an end that leads nowhere", withWires(`${WIRES}W1,BAT.+,F9.1,RD,2.5,1\n`), /wires\.csv:2:to F9 stands in no table/],
    [
      "a half-filled row",
      withWires(`${WIRES}W1,BAT.+,,RD,,1\n`),
      /wires\.csv:2:to to is empty.*\n.*wires\.csv:2:area_mm2 area_mm2 is empty/,
    ],
    ["a number that is none", withWires(`${WIRES}W1,BAT.+,F1.1,RD,two,1\n`), /wires\.csv:2:area_mm2 "two" is not a number/],
    [
      "thousands and a comma",
      withWires("id;from;to;colour;area;length\nW1;BAT.+;F1.1;RD;1.234,5;1\n"),
      /wires\.csv:2:area "1\.234,5" is not a number/,
    ],
    [
      "a comma that splits a cell",
      withWires(`${WIRES}W1,BAT.+,F1.1,RD,2,5,1\n`),
      /wires\.csv:2:id This row has 7 cells and the headings 6/,
    ],
    ["a wire twice", withWires(`${WIRES}W1,BAT.+,F1.1,RD,2.5,1\nW1,F1.2,LP.1,RD,2.5,1\n`), /wires\.csv:3:id There are two wires W1/],
    ["a colour of no standard", withWires(`${WIRES}W1,BAT.+,F1.1,XX,2.5,1\n`), /wires\.csv:2:id XX of wire W1 is not a colour/],
    ["a wire that bites its tail", withWires(`${WIRES}W1,F1.1,F1.1,RD,2.5,1\n`), /wires\.csv:2:id Wire W1 begins and ends at F1\.1/],
    ["a part twice", [...SMALL, { name: "fuses-2.csv", text: "id,amps\nf1,15\n" }], /fuses-2\.csv:2:id f1 stands in the tables already/],
    ["headings of no table", [{ name: "list.csv", text: "what,why\n1,2\n" }], /list\.csv:1: No table has these headings/],
    [
      "a column that is missing",
      [{ name: "wires.csv", text: "from,colour\nBAT.+,RD\n" }],
      /wires\.csv:1:to The table wires needs a column to/,
    ],
    ["a quote that stays open", withWires(`${WIRES}"W1,BAT.+,F1.1,RD,2.5,1\n`), /wires\.csv:2: A quote opened here is never closed/],
    ["a picture", [{ name: "wires.csv", text: "\x89PNG\0\0" }], /wires\.csv:1: This is not text/],
    ["an unknown device", [{ name: "components.csv", text: "id,kind,rating\nQ1,flux,3A\n" }], /components\.csv:2:kind "flux" is not known/],
    ["no rating", [{ name: "components.csv", text: "id,kind,rating\nLP,lamp,\n" }], /components\.csv:2:rating LP has no rating/],
    ["50 MB", [{ name: "wires.csv", text: "x".repeat(50_000_000) }], /wires\.csv:1: The files have 50 million characters together/],
  ];
  for (const [what, files, words] of BAD)
    it(`say where ${what} stands, and give no circuit`, () => {
      expect(complaints(files).join("\n")).to.match(words);
      expect(readTables(files).harness).to.equal(undefined);
    });

  it("warn of a ring of splices and offer nothing else for it", () => {
    const ring = `${WIRES}W1,BAT.+,F1.1,RD,2.5,1\nW2,F1.2,S1,RD,1,1\nW3,S1,S2,RD,1,1\nW4,S2,S3,RD,1,1\nW5,S3,S1,RD,1,1\nW6,S3,LP.1,RD,1,1\nW7,LP.2,G2,BK,1,1\nW8,G1,BAT.-,BK,25,1\n`;
    const read = readTables(withWires(ring));
    expect(read.problems.map((p) => `${p.row} ${p.message}`)).to.deep.equal([
      "6 Wire W5 closes a ring of splices: S3 and S1 are joined already. Take one wire out.",
    ]);
  });

  it("neither run nor lose names that look like formulas or mark-up", () => {
    const label = '=HYPERLINK("http://x";"y") <img src=x onerror=alert(1)>';
    const { harness } = readTables(SMALL);
    const named = { ...harness!, components: harness!.components.map((c) => (c.id === "LP" ? { ...c, label } : c)) };
    const written = writeTables(named);
    expect(written.find((f) => f.name === "components.csv")!.text).to.include(`"'=HYPERLINK(""http`);
    expect(readTables(written).harness?.components.find((c) => c.id === "LP")?.label).to.equal(label);
  });
});
