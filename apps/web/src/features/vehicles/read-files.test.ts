import { expect } from "chai";
import { readFileSync } from "node:fs";
import { applyEdit } from "@rheonom/core/harness";
import { parseNotation, printNotation, readTables, writeTables } from "@rheonom/core/notation";
import { mend, readFiles, type FilesRead, type Reader } from "./read-files.ts";

const reader: Reader = {
  tables: (files, onProgress) => Promise.resolve(readTables(files, onProgress)),
  parse: (text) => Promise.resolve(parseNotation(text)),
};
const text = readFileSync(new URL("../../../../../demo/vehicles/rig-lamps.circuit", import.meta.url), "utf8");
const rig = parseNotation(text).harness!;
const file = (name: string, ...contents: BlobPart[]): File => new File(contents, name);
const read = (...files: File[]): Promise<FilesRead> => readFiles(files, reader, () => undefined);
const errors = (r: FilesRead): string[] =>
  r.problems.filter((p) => p.severity === "error").map((p) => `${p.file} ${p.row ?? ""} ${p.message}`);

describe("files that are brought in", () => {
  it("are known by what is in them: JSON, circuit text, tables", async () => {
    expect((await read(file("rig.json", JSON.stringify(rig)))).harness).to.deep.equal(rig);
    expect((await read(file("rig.txt", JSON.stringify(rig, null, 2)))).harness).to.deep.equal(rig);
    expect((await read(file("rig.circuit", text))).harness).to.deep.equal(rig);
    expect((await read(file("notes.txt", printNotation(rig)))).harness).to.deep.equal(rig);
    const tables = writeTables(rig).map((t) => file(t.name, t.text));
    const back = await read(...tables);
    expect(errors(back)).to.deep.equal([]);
    expect(back.harness?.wires).to.deep.equal(rig.wires);
    expect(back.found).to.include("wires.csv: 13 rows of wires");
  });

  it("tell how far the reading is", async () => {
    const shares: number[] = [];
    await readFiles(
      writeTables(rig).map((t) => file(t.name, t.text)),
      reader,
      (s) => shares.push(s),
    );
    expect(shares.at(-1)).to.equal(1);
  });

  const BAD: readonly (readonly [string, () => Promise<FilesRead>, RegExp])[] = [
    ["broken JSON", () => read(file("a.json", "{ not json")), /a\.json {2}This is not valid JSON/],
    ["JSON of something else", () => read(file("a.json", '{"format":"recipe"}')), /a\.json/],
    ["a text with a slip", () => read(file("a.circuit", "BAT -- XX 1mm2 1m -- F1(10A)")), /a\.circuit 1 .*colour/],
    ["a picture", () => read(file("a.csv", Uint8Array.from([0x89, 0x50, 0, 0, 0xff]))), /This is not text/],
    ["JSON among tables", () => read(file("a.json", "{}"), file("wires.csv", "from,to,area\n")), /Choose this file alone/],
    ["a text that is too long", () => read(file("a.circuit", `circuit "x"\n${"# long\n".repeat(40_000)}`)), /at most 200,000 characters/],
    ["an empty file", () => read(file("wires.csv", "")), /There is nothing in these files|empty/],
  ];
  for (const [what, ask, words] of BAD)
    it(`give no wiring from ${what}, and say why`, async () => {
      const r = await ask();
      expect(r.harness).to.equal(undefined);
      expect(errors(r).join("\n") || r.problems.map((p) => p.message).join()).to.match(words);
    });

  it("turn down what is far too large without reading it", async () => {
    let asked = false;
    const huge = {
      name: "huge.csv",
      size: 50_000_000,
      arrayBuffer: () => ((asked = true), Promise.resolve(new ArrayBuffer(0))),
    } as unknown as File;
    expect(errors(await read(huge))[0]).to.include("This file has 50 MB");
    expect(asked).to.equal(false);
  });

  it("warn of an encoding that had to be guessed", async () => {
    const tables = writeTables(rig).map((t) =>
      t.name === "grounds.csv" ? file(t.name, Buffer.from(t.text.replace("supply", "gr\u00fcn"), "latin1")) : file(t.name, t.text),
    );
    const r = await read(...tables);
    expect(r.problems.map((p) => p.message).join()).to.include("Read as Windows-1252");
    expect(r.harness?.components.find((c) => c.id === "G1")?.label).to.include("grün");
  });

  it("can be mended one offer at a time until they are usable", async () => {
    const bad = applyEdit(applyEdit(rig, { kind: "set", id: "W3", values: { colour: "ZZ" } }), {
      kind: "set",
      id: "C1",
      values: { ways: 2 },
    });
    let r = await read(file("rig.json", JSON.stringify(bad)));
    expect(r.harness).to.equal(undefined);
    for (let i = 0; i < 4 && r.harness === undefined; i++) {
      const offer = r.problems.find((p) => p.fix !== undefined);
      r = mend(r, offer!.fix!.edit);
    }
    expect(r.harness?.wires.find((w) => w.id === "W3")).to.not.have.property("colour");
    expect(r.harness?.components.find((c) => c.id === "C1")).to.include({ ways: 3 });
  });
});
