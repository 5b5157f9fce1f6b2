import { expect } from "chai";
import fc from "fast-check";
import { diffHarness, harnessSchema, WIRE_COLOURS, type Harness } from "../harness/index.ts";
import { decodeText, plainCell, readCsv, writeCsv } from "./csv.ts";
import { printCondition, readCondition } from "./module-words.ts";
import { parseNotation } from "./parse.ts";
import { printNotation } from "./print.ts";
import { readTables } from "./tables.ts";
import { writeTables } from "./write-tables.ts";
import { answerProblems, fillTemplate, formOf, TEMPLATES } from "./templates/index.ts";

const RUNS = { numRuns: 150 };
const letters = Object.keys(WIRE_COLOURS);
/** Names as people write them, with what separators, quotes and formulas are made of. No quotes: the notation has no way to say them. */
const label = fc.stringMatching(/^[A-Za-z0-9 ,;:=+@'#()<>&µΩäé/.-]{1,30}$/).filter((s) => s.trim() === s);
const maybe = <T>(key: string, arb: fc.Arbitrary<T>): fc.Arbitrary<Record<string, T>> =>
  fc.option(arb, { nil: undefined }).map((v) => (v === undefined ? {} : { [key]: v }));
const all = (...parts: fc.Arbitrary<object>[]): fc.Arbitrary<object> => fc.tuple(...parts).map((xs) => Object.assign({}, ...xs) as object);
const decimal = (most: number): fc.Arbitrary<number> => fc.integer({ min: 1, max: most * 100 }).map((n) => n / 100);

/** Where a part is, with the names that the vehicle below explains. */
const where = all(
  maybe("label", label),
  maybe("at", label),
  maybe("zone", fc.constantFrom("sill", "bay")),
  maybe("when", fc.constantFrom("tow", "!tow", "tow&!rack")),
  maybe("sheet", fc.constantFrom("1", "2 lights, rear")),
  maybe("accessMinutes", fc.integer({ min: 0, max: 60 })),
  maybe("box", fc.constantFrom("dash box", "bay")),
  maybe("slot", fc.constantFrom("7", "R3", "12b")),
);
const condition = fc.letrec<{ term: unknown }>((tie) => ({
  term: fc.oneof(
    fc.record({ pin: fc.constantFrom("3", "4", "A1"), below: decimal(20) }),
    fc.record({ pin: fc.constantFrom("3", "4", "A1"), above: decimal(20) }),
    fc.record({ key: fc.uniqueArray(fc.constantFrom("off", "accessory", "run", "crank"), { minLength: 1 }) }),
    fc.record({ engine: fc.uniqueArray(fc.constantFrom("stopped", "cranking", "idling", "at speed"), { minLength: 1 }) }),
    fc.record({ inputAbove: decimal(9) }),
    fc.record({ not: tie("term") }),
    fc.record({ all: fc.array(tie("term"), { minLength: 1, maxLength: 3 }) }),
    fc.record({ any: fc.array(tie("term"), { minLength: 1, maxLength: 3 }) }),
  ),
})).term;

/** A vehicle of one path through everything that a document can say; its wiring is sound, its words are wild. */
const vehicle: fc.Arbitrary<Harness> = fc
  .record({
    name: label,
    battery: where,
    fuse: where,
    connector: all(
      where,
      maybe("ways", fc.integer({ min: 4, max: 40 })),
      maybe("rows", fc.integer({ min: 1, max: 3 })),
      maybe("sealed", fc.constant(true)),
      maybe("backProbe", fc.constant(false)),
    ),
    lamp: where,
    ground: all(where, maybe("tool", label)),
    module: where,
    when: condition,
    wires: fc.array(
      all(
        maybe(
          "colour",
          fc
            .tuple(fc.constantFrom(...letters), fc.option(fc.constantFrom(...letters), { nil: undefined }))
            .map(([b, t]) => (t === undefined ? b : `${b}/${t}`)),
        ),
        fc.record({ areaMm2: decimal(50), lengthM: decimal(9) }),
        maybe("segments", fc.uniqueArray(fc.constantFrom("dash", "door"), { minLength: 1 })),
        maybe("when", fc.constantFrom("tow", "!tow")),
        maybe("sheet", fc.constantFrom("1", "2 lights, rear")),
      ),
      { minLength: 7, maxLength: 7 },
    ),
    codes: fc.array(
      all(
        fc.record({ code: fc.constantFrom("P0118", "U0100-87", "B1A2F"), module: fc.constant("ECM"), text: label }),
        maybe("pin", fc.constant("4")),
        maybe("aboveVolts", decimal(12)),
        maybe("belowVolts", decimal(12)),
        maybe("seconds", decimal(9)),
        maybe("silent", fc.constant("ECM")),
      ),
      { maxLength: 2 },
    ),
    text: label,
  })
  .map((v) => {
    const ends = [
      ["BAT", "+", "F1", "1"],
      ["F1", "2", "C1", "2a"],
      ["C1", "2b", "LP", "1"],
      ["LP", "2", "G2", "1"],
      ["G1", "1", "BAT", "-"],
      ["F1", "2", "ECM", "1"],
      ["ECM", "2", "G2", "1"],
    ] as const;
    return {
      format: "rheonom-harness",
      version: 1,
      name: v.name,
      nominalVolts: 12,
      components: [
        { id: "BAT", kind: "battery", restVolts: 12.6, internalOhms: 0.008, chargeVolts: 14.2, crankAmps: 200, ...v.battery },
        { id: "F1", kind: "fuse", ratingAmps: 15, ...v.fuse },
        { id: "C1", kind: "connector", ...v.connector },
        { id: "LP", kind: "load", sort: "lamp", rating: { watts: 21 }, pins: ["1", "2"], ...v.lamp },
        { id: "G1", kind: "ground", on: "body" },
        { id: "G2", kind: "ground", on: "body", ...v.ground },
        {
          id: "ECM",
          kind: "device",
          device: "module",
          settings: {
            awakeAmps: 0.4,
            pins: {
              "1": { sort: "supply" },
              "2": { sort: "ground" },
              "3": { sort: "low", duty: 0.25 },
              "4": { sort: "input" },
              A1: { sort: "can high" },
            },
            rules: [{ pin: "3", when: v.when }],
          },
          ...v.module,
        },
      ],
      wires: v.wires.map((w, i) => ({
        id: `W${i + 1}`,
        from: { component: ends[i]![0], pin: ends[i]![1] },
        to: { component: ends[i]![2], pin: ends[i]![3] },
        ...w,
      })),
      joints: [],
      vehicle: { make: "Selwick", model: "Plover" },
      options: [
        { id: "tow", text: v.text },
        { id: "rack", text: "rack" },
      ],
      zones: [
        { id: "sill", text: v.text, minutes: 4, exposure: ["water", "rub"] },
        {
          id: "bay",
          text: "bay",
          minutes: 2.5,
          exposure: [],
          outOfBounds: v.text,
          plan: [
            { along: 12, across: -45, height: 40 },
            { along: 12, across: 45, height: 40 },
          ],
        },
      ],
      looms: [
        { id: "dash", text: v.text, zone: "bay", exposure: ["flex"], crosses: v.text },
        { id: "door", text: "door", exposure: [] },
      ],
      ...(v.codes.length === 0 ? {} : { monitors: v.codes }),
    } as unknown as Harness;
  });

const sorted = (h: Harness | undefined): unknown => h && { ...h, components: [...h.components].sort((p, q) => (p.id < q.id ? -1 : 1)) };

describe("whatever a vehicle says", () => {
  it("notation prints, and reads again as the same", () => {
    fc.assert(
      fc.property(vehicle, (h) => {
        expect(harnessSchema.safeParse(h).success).to.equal(true);
        const read = parseNotation(printNotation(h));
        expect(read.draft, printNotation(h)).to.deep.equal(h);
      }),
      RUNS,
    );
  });

  it("tables carry, and give back", () => {
    fc.assert(
      fc.property(vehicle, (h) => {
        const read = readTables(writeTables(h));
        expect(read.problems.filter((p) => p.severity === "error" && !/has no way back|feed/.test(p.message))).to.deep.equal([]);
        if (read.harness !== undefined) expect(diffHarness(h, read.harness).map((d) => d.words)).to.deep.equal([]);
        if (read.harness !== undefined) expect(sorted(read.harness)).to.deep.equal(sorted(h));
      }),
      RUNS,
    );
  });

  it("conditions keep their meaning in words, or say that words do not reach", () => {
    fc.assert(
      fc.property(condition, (when) => {
        const words = printCondition(when);
        if (words !== undefined) expect(readCondition(words)).to.deep.equal(when);
      }),
      RUNS,
    );
  });
});

describe("whatever a file holds", () => {
  it("cells come back from CSV as they went in", () => {
    const cell = fc.string({ maxLength: 20 }).filter((s) => s.trim() === s && !s.includes("\0") && !s.includes("\r"));
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell, cell), { minLength: 1, maxLength: 8 }), (rows) => {
        const table = [["a", "b", "c"], ...rows];
        const kept = table.filter((r) => r.some((c) => c !== ""));
        const read = readCsv(writeCsv(table));
        expect(read.rows.map((r) => r.map(plainCell))).to.deep.equal(kept);
        expect(read.lines).to.have.length(kept.length);
      }),
      RUNS,
    );
  });

  it("UTF-8 is told from other bytes, and neither loses a letter", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme", maxLength: 40 }), (text) => {
        const utf8 = decodeText(Buffer.from(text, "utf8"));
        expect(utf8).to.include({ text: text.replace(/^\ufeff/, ""), encoding: "UTF-8" });
        const utf16 = decodeText(Uint8Array.from([0xff, 0xfe, ...Buffer.from(text, "utf16le")]));
        expect(utf16.text).to.equal(text);
      }),
      RUNS,
    );
    // Every single byte has a letter in Windows-1252, or a dot.
    const bytes = Uint8Array.from({ length: 255 }, (_, i) => i + 1);
    expect(decodeText(bytes)).to.include({ encoding: "Windows-1252" });
    expect(decodeText(bytes).text).to.have.length(255);
  });

  it("tables never throw, and every problem points into its file", () => {
    const heading = fc.constantFrom(
      "id,from,to,colour,area_mm2,length_m",
      "id;kind;rating",
      "id,amps,box",
      "component\tpin\tsort",
      "id,on",
      "code,module",
      "what,ever",
    );
    const line = fc.oneof(
      fc.string({ maxLength: 40 }),
      fc.constantFrom("W1,BAT.+,F1.1,RD,2.5,1", '"open', "F1;10", "BAT,battery,12V", ",,,,,", "W1,W1,W1,W1,W1,W1"),
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(heading, fc.array(line, { maxLength: 6 })), { maxLength: 3 }), (tables) => {
        const files = tables.map(([head, lines], i) => ({ name: `t${i}.csv`, text: [head, ...lines].join("\n") }));
        const { problems, harness } = readTables(files);
        for (const p of problems) {
          const file = files.find((f) => f.name === p.file);
          expect(p.row).to.be.within(1, Math.max(1, file?.text.split("\n").length ?? 1));
        }
        expect(harness === undefined || !problems.some((p) => p.severity === "error")).to.equal(true);
      }),
      RUNS,
    );
  });
});

describe("whatever a form is told", () => {
  it("it names the wrong answer, or makes a circuit without errors that opens as the same form", () => {
    const answer = fc.oneof(
      fc.constantFrom("0", "-1", "3", "12,5", "", "tail, stop", "x".repeat(90), 'a "b"'),
      fc.string({ maxLength: 12 }),
    );
    fc.assert(
      fc.property(fc.constantFrom(...TEMPLATES), fc.array(answer, { minLength: 12, maxLength: 12 }), fc.nat(), (t, said, which) => {
        // One answer at random, the others as they stand.
        const field = t.fields[which % t.fields.length]!;
        const answers = { [field.id]: said[0]! };
        if (answerProblems(t, answers).length > 0) return;
        const text = fillTemplate(t, answers);
        expect(
          parseNotation(text).problems.filter((p) => p.severity === "error"),
          text,
        ).to.deep.equal([]);
        expect(formOf(TEMPLATES, text)?.edited).to.equal(false);
      }),
      { numRuns: 300 },
    );
  });
});
