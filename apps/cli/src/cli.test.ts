import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { expect } from "chai";
import { caseAnswerSchema, evidenceSchema, observableSchema, RESULT_WORDS } from "../../../packages/core/src/diagnosis/index.ts";
import { ngspiceOp } from "../../../packages/core/src/test/ngspice.ts";
import { linkText } from "../../../packages/core/src/job/index.ts";
import { parseNotation } from "../../../packages/core/src/notation/index.ts";
import { main } from "./main.ts";

const root = resolve(import.meta.dirname, "../../..");
const circuit = (name: string): string => join(root, "demo/circuits", `${name}.circuit`);

const rigVehicle = (name: string): string => join(root, "demo/vehicles", `${name}.circuit`);
const rig = (name: string): string => join(root, "demo/rigs", `${name}.circuit`);

describe("rheonom", () => {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-cli-"));
  after(() => rmSync(folder, { recursive: true, force: true }));
  const file = (text: string): string => {
    const path = join(folder, `${Math.abs(hash(text))}.cir`);
    writeFileSync(path, text);
    return path;
  };
  const put = (name: string, text: string): string => {
    const path = join(folder, name);
    writeFileSync(path, text);
    return path;
  };
  const hash = (text: string): number => [...text].reduce((h, c) => (h * 31 + c.charCodeAt(0)) | 0, 7);

  async function run(...argv: string[]): Promise<{ code: number; out: string; err: string }> {
    const said = { out: "", err: "" };
    const code = await main(argv, { write: (t) => (said.out += t) }, { write: (t) => (said.err += t) });
    return { code, ...said };
  }

  it("brings in tables and gives a vehicle as tables, text or JSON", async () => {
    const ouse = join(root, "demo/vehicles/ouse.circuit");
    const tables = (await run("import", ouse, "--tables")).out.split(/^# /m).filter(Boolean);
    const paths = tables.map((t) => {
      const path = join(folder, t.slice(0, t.indexOf(".csv") + 4));
      writeFileSync(path, t.slice(t.indexOf("\n") + 1));
      return path;
    });
    const back = await run("import", ...paths, "--notation");
    expect(back.err).to.equal("");
    expect(parseNotation(back.out).harness?.wires).to.deep.equal(parseNotation(readFileSync(ouse, "utf8")).harness?.wires);
    const wires = join(folder, "wires.csv");
    writeFileSync(wires, "from,to,area_mm2\nBAT.+,F1.1,2.5\n");
    const bad = await run("import", wires);
    expect([bad.code, bad.out]).to.deep.equal([1, ""]);
    expect(bad.err).to.match(/wires\.csv:2 from: BAT stands in no table of parts/);
    expect((await run("import", join(folder, "none.csv"))).code).to.equal(2);
    expect((await run("import")).err).to.match(/A file is missing/);
  });

  it("follows the chain of a saved log, and names the first entry that is not as it was stored", async () => {
    const jobId = "01890a5d-ac96-774b-bcce-b302099a8057";
    let hash = "";
    const entries = ["one", "two", "three"].map((text, i) => {
      const entry = { id: jobId.replace(/.$/, String(i)), type: "note-added", at: "2026-05-20T10:00:00.000Z", by: "Inga", data: { text } };
      hash = createHash("sha256")
        .update(linkText(hash, jobId, entry), "utf8")
        .digest("hex");
      return { ...entry, hash };
    });
    const log = { format: "rheonom-log", version: 1, jobId, exportedAt: "2026-05-20T12:00:00.000Z", entries };
    const good = put("log.json", JSON.stringify(log));
    expect(await run("verify", good)).to.include({ code: 0 });
    expect((await run("verify", good)).out).to.include(`All 3 chained entries fit. Last: ${hash}`);
    const bad = put("bad.json", JSON.stringify(log).replace("two", "too"));
    const broken = await run("verify", bad);
    expect([broken.code, broken.out]).to.deep.equal([
      1,
      "Entry 2 of 3 does not fit: note-added, 2026-05-20T10:00:00.000Z, Inga. It, or one before it, is not as it was stored.\n",
    ]);
    expect((await run("verify", put("other.json", "{}"))).err).to.match(/other\.json:1:1: not the log of a job/);
    expect((await run("verify")).code).to.equal(2);
  });
  it("weighs the suspects of a case in a file, and says where a file is wrong", async () => {
    const notation = readFileSync(join(root, "demo/vehicles/rig-horn.circuit"), "utf8");
    const state = { key: "off", engine: "stopped", on: ["SW1"], temperatureC: 20, opened: [], bridged: [] };
    const volts = (red: string, value: number) => ({
      id: red,
      state,
      observe: { kind: "volts", red, black: "BAT.-" },
      result: { kind: "value", value },
    });
    const seen = { id: "horn", state, observe: { kind: "part", part: "HRN" }, result: { kind: "word", word: "weak" } };
    const data = { notation, complaint: { focus: ["HRN"], state }, evidence: [seen, volts("R1.87", 12.5), volts("C1.1a", 5.55)] };
    const put = (name: string, content: unknown): string => {
      const path = join(folder, name);
      writeFileSync(path, typeof content === "string" ? content : JSON.stringify(content));
      return path;
    };
    const { code, out } = await run("diagnose", put("case.json", data), "--json");
    expect(code).to.equal(0);
    const answer = caseAnswerSchema.parse(JSON.parse(out));
    expect(answer.suspects[0]).to.include({ element: "W9", mode: "resistance" });
    expect((await run("diagnose", put("case.json", data))).out).to.match(/W9 .*resistance|resistance in wire W9/);
    const slip = { ...data, evidence: [seen, volts("C9.1a", 5)] };
    const why = await run("diagnose", put("case.json", data), "--why", "W9", "--why", "BAT");
    expect(why.out)
      .to.match(/W9 is among the suspects/)
      .and.to.match(/BAT is ruled out/);
    expect((await run("diagnose", put("case.json", data), "--why", "W99")).err).to.match(/nothing called W99/);
    expect((await run("diagnose", put("slip.json", slip))).err).to.match(/evidence\.1\.observe: the circuit has nothing called C9\.1a/);
    expect(
      (await run("diagnose", put("word.json", { ...data, evidence: [{ ...seen, result: { kind: "value", value: 1 } }] }))).err,
    ).to.match(/needs one of the words full, weak/);
    expect((await run("diagnose", put("none.json", "{"))).err).to.match(/is not valid JSON/);
    expect((await run("diagnose", put("empty.json", { complaint: data.complaint }))).err).to.match(/needs "harness" or "notation"/);
  });

  it("lets the simulated technician work a fault step by step", async () => {
    const horn = ["practise", "--auto", "--harness", join(root, "demo/vehicles/rig-horn.circuit")];
    const { code, out } = await run(...horn, "--fault", "W9 resistance", "--severity", "3");
    expect(code).to.equal(0);
    expect(out).to.match(/^Complaint: .*HRN/);
    expect(out).to.match(/W9: enough to mend; right/);
    expect((await run(...horn, "--fault", "W9 broken")).err).to.match(/no fault "W9 broken".*W9 open/);
    expect((await run(...horn, "--fault", "W9 resistance", "--severity", "0.05")).code).to.equal(1);
    expect((await run(...horn)).err).to.match(/needs --fault ID/);
    const all = JSON.parse((await run(...horn, "--all", "--sample", "6", "--json")).out) as Record<string, unknown>;
    expect(Object.keys(all)).to.include.members([
      "cases",
      "rightFirst",
      "wrongPart",
      "meanTests",
      "p95Tests",
      "meanMinutes",
      "baselines",
      "perFamily",
    ]);
  });

  it("reads a vehicle with the options that it has", async () => {
    const plover = join(root, "demo/vehicles/plover.circuit");
    const read = (...more: string[]) =>
      run("read", plover, "--red", "CMP.1", "--black", "BAT.-", "--key", "run", "--engine", "idling", ...more);
    expect((await read("--options", "fridge", "--json")).code).to.equal(0);
    expect((await read("--options", "")).err).to.match(/CMP\.1/);
    expect((await read("--options", "sunroof")).err).to.match(/no option "sunroof". Options: fridge, cinema, tow/);
  });

  it("solves a SPICE file with the names as in the file", async () => {
    const { code, out } = await run(
      "solve",
      file("t\nVbat Feed 0 12\nR1 Feed n1 1k\nR2 n1 0 3k\nL1 n1 coil 1m\nRc coil 0 6k\n.end\n"),
      "--json",
    );
    expect(code).to.equal(0);
    // 3k ∥ 6k = 2k: 8 V; the coil takes 8/6k.
    const { nodes, branches } = JSON.parse(out) as { nodes: Record<string, number>; branches: Record<string, number> };
    expect(Object.keys(nodes)).to.deep.equal(["Feed", "n1", "coil"]);
    expect(nodes.n1).to.be.closeTo(8, 1e-9);
    expect(branches.Vbat).to.be.closeTo(-4e-3, 1e-12);
    expect(branches.L1).to.be.closeTo(8 / 6000, 1e-12);
  });

  it("writes a transient as CSV", async () => {
    const target = join(folder, "out.csv");
    const { code } = await run(
      "solve",
      file("t\nV1 1 0 PULSE(0 10 0 1u 1u 1 2)\nR1 1 2 1k\nC1 2 0 1u\n.tran 10u 5m\n.end\n"),
      "--tran",
      "--out",
      target,
    );
    expect(code).to.equal(0);
    const [heads, ...rows] = readFileSync(target, "utf8").trim().split("\n");
    expect(heads).to.equal("time_s,1_V,2_V,V1_A");
    const last = rows.at(-1)!.split(",").map(Number);
    expect(last[0]).to.be.closeTo(5e-3, 1e-9);
    expect(last[2]).to.be.closeTo(10 * (1 - Math.exp(-5)), 0.01);
  });

  it("exports a demo circuit so that ngspice finds what the meter reads", async () => {
    const state = ["--key", "run", "--on", "SW4", "--fault", "series C21.4 0.11"];
    const { out } = await run("export", circuit("plover-hold-blower"), "--spice", ...state);
    const read = await run("read", circuit("plover-hold-blower"), "--red", "HB1.1", ...state, "--json");
    const { value } = JSON.parse(read.out) as { value: number };
    expect(ngspiceOp(out).get("hb1_1")).to.be.closeTo(value, 1e-3);
  });

  it("reads volts, ohms and clamp as an instrument shows them", async () => {
    expect((await run("read", circuit("brigg-work-lamps"), "--red", "LA1.1", "--on", "SW9")).out).to.match(/^1[12]\.\d\d V\n$/);
    expect((await run("read", circuit("brigg-work-lamps"), "--around", "W10", "--on", "SW9")).out).to.match(/^\d\.\d A\n$/);
    expect(
      (await run("read", circuit("brigg-work-lamps"), "--quantity", "ohms", "--red", "SW9.1", "--black", "C40.1a", "--opened", "F31")).out,
    ).to.equal("OL\n");
    expect((await run("read", circuit("brigg-work-lamps"), "--quantity", "ohms", "--red", "+", "--black", "-")).out).to.equal(
      "void: circuit is live\n",
    );
  });

  it("sweeps every single fault of a circuit", async () => {
    const { code, out } = await run("sweep", circuit("brigg-work-lamps"), "--on", "SW9", "--json");
    expect(code).to.equal(0);
    const { states, cases } = JSON.parse(out) as {
      states: { sound: Record<string, number> }[];
      cases: { fault: string; severity: number | null; states: { answer: string; volts: Record<string, number> }[] }[];
    };
    expect(cases.every((c) => c.states.every((s) => s.answer === "solved"))).to.equal(true);
    const worn = cases.find((c) => c.fault === "G12 resistance" && c.severity === 0.15)!;
    expect(worn.states[0]!.volts["LA1.2"]! - states[0]!.sound["LA1.2"]!).to.be.above(0.8);
    const all = await run("sweep", rig("brigg-starting"), "--on", "SW7", "--states", "all");
    expect(all.out.match(/key .*; \d+ cases/g)).to.have.length(6);
    expect(all.out).to.match(/W2 resistance 0\.05\d*: opens and closes without end/);
    expect((await run("sweep", circuit("brigg-work-lamps"))).out).to.match(/G12 open: does not show in this state/);
  });

  it("places the other instruments, looks, and draws a trace", async () => {
    const crank = ["--key", "crank", "--engine", "cranking", "--on", "SW7"];
    const lamp = await run("read", rig("brigg-starting"), "--instrument", "lamp21", "--red", "STA.50", ...crank);
    expect(lamp.out).to.match(/^bright: \d+\.\d\d V/);
    const probe = await run("read", rig("brigg-starting"), "--instrument", "probe-feed", "--red", "G5", "--json");
    expect(JSON.parse(probe.out)).to.include({ kind: "probe", tripped: true });
    const clicks = await run("read", rig("brigg-starting"), "--red", "+", ...crank, "--fault", "set BAT charge=0.1 wear=1");
    expect(clicks.code).to.equal(1);
    expect(clicks.err).to.match(/swings from .* STA\.contact opens and closes/);
    const seen = await run("read", rig("ouse-lin-flaps"), "--look", "--key", "run", "--fault", "open W16");
    expect(seen.out).to.match(/FL2 +awake, yes false/);
    expect(seen.out).to.match(/silent on the bus: FL2/);
    const trace = await run(
      "read",
      rig("brigg-coil-and-fan"),
      "--key",
      "run",
      "--engine",
      "idling",
      "--around",
      "IC1.primary",
      "--scope",
      "0.02",
      "--json",
    );
    expect((JSON.parse(trace.out) as { high: number }).high).to.be.within(5, 9);
    const input = ["--key", "run", "--input", "ECT=80", "--red", "ECM.B6"];
    expect((await run("read", rig("plover-references"), ...input)).out).to.match(/^0\.\d+ V|^\d+\.\d mV/);
  });

  it("reads a harness as JSON and names what is wrong in it", async () => {
    const text = readFileSync(rig("brigg-starting"), "utf8");
    const good = join(folder, "h.json");
    writeFileSync(good, JSON.stringify(parseNotation(text).harness));
    expect((await run("read", good, "--red", "R1.30")).out).to.match(/^12\.\d\d V\n$/);
    const bad = join(folder, "bad.json");
    writeFileSync(bad, JSON.stringify(parseNotation(text).harness).replace('"relay"', '"relais"'));
    expect((await run("read", bad, "--red", "R1.30")).err).to.match(/no device is called "relais"/);
  });

  const WRONG: readonly (readonly [readonly string[], RegExp])[] = [
    [["frobnicate"], /no command "frobnicate"/],
    [["solve"], /file is missing/],
    [["solve", "/no/such/file.cir"], /cannot be read/],
    [["solve", "a.cir", "b.cir"], /one too many/],
    [["read", circuit("brigg-work-lamps"), "--red", "F31"], /F31\.1, F31\.2/],
    [["read", circuit("brigg-work-lamps"), "--red", "F31.1", "--on", "SW77"], /no switch SW77/],
    [["read", circuit("brigg-work-lamps"), "--red", "F31.1", "--key", "start"], /--key/],
    [["read", circuit("brigg-work-lamps"), "--red", "F31.1", "--fault", "series W5"], /resistance must be a number/],
    [["read", circuit("brigg-work-lamps"), "--red", "F31.1", "--fault", "melted W5"], /is not understood/],
    [["read", rig("brigg-starting"), "--red", "+", "--fault", "set R1 coilOhms=-3"], /R1: coilOhms/],
    [["read", rig("brigg-starting"), "--red", "+", "--fault", "stuck R1.lid open"], /nothing called R1\.lid/],
    [["read", rig("brigg-starting"), "--red", "+", "--lamp", "F5.1"], /--lamp/],
    [["read", rig("brigg-starting"), "--red", "+", "--input", "XX=3"], /--input/],
    [["read", rig("brigg-starting"), "--red", "+", "--instrument", "sniffer"], /lamp5, lamp21/],
    [["read", rig("brigg-starting"), "--red", "+", "--scope", "0"], /--scope/],
    [["sweep", rig("brigg-starting"), "--states", "some"], /--states/],
    [["export", circuit("brigg-work-lamps")], /--spice/],
    [["export", circuit("brigg-work-lamps"), "--colour"], /colour/],
  ];
  for (const [argv, message] of WRONG) {
    it(`says what is wrong with ${argv.map((a) => a.replace(root, "")).join(" ")}`, async () => {
      const { code, out, err } = await run(...argv);
      expect({ code, out }).to.deep.equal({ code: 2, out: "" });
      expect(err).to.match(message);
    });
  }

  it("tells a circuit without an answer from a wrong command line", async () => {
    const fighting = await run("solve", file("t\nV1 1 0 5\nV2 1 0 6\nR1 1 0 1\n.end\n"), "--json");
    expect(fighting.code).to.equal(1);
    expect(fighting.err).to.match(/V2/);
    const unread = await run("solve", file("t\nV1 1 0 5\nQ1 1 2 3 x\n.end\n"));
    expect(unread.code).to.equal(2);
    expect(unread.err).to.match(/:3 Elements of type Q/);
  });

  it("documents every kind of evidence with an example that it reads, and every word", () => {
    const text = readFileSync(join(root, "docs/cli.md"), "utf8");
    const rows = text.split("\n").filter((l) => l.startsWith("|") && l.includes('{"kind":'));
    const state = { key: "off", engine: "stopped", on: [], temperatureC: 20, opened: [], bridged: [] };
    const kinds = rows.map((row, i) => {
      const [observe, result] = row.split("|").flatMap((cell) => /`(\{"kind".*?\})`/.exec(cell)?.[1] ?? []) as [string, string];
      const read = evidenceSchema.parse({ id: `e${i}`, state, observe: JSON.parse(observe), result: JSON.parse(result) });
      for (const word of RESULT_WORDS[read.observe.kind as keyof typeof RESULT_WORDS] ?? [])
        expect(row, read.observe.kind).to.include(word);
      return read.observe.kind;
    });
    expect([...new Set(kinds)].sort()).to.deep.equal(observableSchema.options.map((o) => o.shape.kind.value).sort());
  });

  it("tells what stands behind a plug, and what cannot be a reading", async () => {
    const hall = await run("find-pins", "0 12 12", "0 0 0", "0 5 t");
    expect([hall.code, hall.out]).to.deep.include(0);
    expect(hall.out).to.match(/Hall.*pin 1 feed, pin 2 sensor ground, pin 3 signal/);
    const open = JSON.parse((await run("find-pins", "0 5", "- 0.02", "--json")).out) as { verdict: string; next: object | null };
    expect(open.verdict).to.be.oneOf(["open", "stop"]);
    for (const [pins, why] of [
      [["0 12"], /two to five pins/],
      [["0 12", "0 x"], /Pin 2 "0 x": "x" is not a reading/],
      [["0 12", "0 1 2 3"], /three moments/],
    ] as const) {
      const bad = await run("find-pins", ...pins);
      expect(bad.code).to.equal(2);
      expect(bad.err).to.match(why);
    }
  });

  it("says what failing parts share, and names what the circuit does not have", async () => {
    const gritter = join(root, "demo/vehicles/gritter.circuit");
    const lamps = await run("shared", gritter, "--failing", "L5,L6");
    expect(lamps.code, lamps.err).to.equal(0);
    expect(lamps.out).to.match(/2 of 2 failing/);
    expect((await run("shared", gritter, "--failing", "L5,Q9")).err).to.match(/no part "Q9"/);
    expect((await run("shared", gritter, "--failing", "L5", "--working", "L5")).err).to.match(/both fail and work/);
    expect((await run("shared", gritter)).err).to.match(/needs --failing/);
  });

  it("takes several faults, a severity for all or for each, and values with blanks", async () => {
    const lamps = ["practise", "--auto", "--harness", rigVehicle("rig-lamps"), "--json"];
    const two = JSON.parse((await run(...lamps, "--fault", "F1 open", "--fault", "L2 open")).out) as { fault: { id: string }[] };
    expect(two.fault.map((f) => f.id)).to.deep.equal(["F1 open", "L2 open"]);
    const bad = await run(...lamps, "--fault", "F1 open", "--severity", "1", "--severity", "2");
    expect([bad.code, bad.err]).to.deep.include(2);
    expect(bad.err).to.match(/2 for 1 faults/);
    const blank = await run("read", rigVehicle("gritter"), "--red", "BAT.+", "--black", "BAT.-", "--fault", 'set BAT charge="two words"');
    expect(blank.err).to.match(/charge/);
    expect(blank.err).not.to.match(/no setting/);
  });

  it("takes the same options for granted in every command: all that the file knows", async () => {
    const brigg = join(root, "demo/vehicles/brigg.circuit");
    const all = await run("read", brigg, "--red", "BAT.+", "--black", "BAT.-", "--json");
    const said = await run("read", brigg, "--red", "BAT.+", "--black", "BAT.-", "--json", "--options", "winch,bar");
    expect(all.out).to.equal(said.out);
    expect((await run("read", brigg, "--red", "BAT.+", "--black", "BAT.-", "--options", "sunroof")).err).to.match(/no option "sunroof"/);
    const notation = readFileSync(brigg, "utf8");
    const state = { key: "off", engine: "stopped", on: [], temperatureC: 20, opened: [], bridged: [] };
    const asked = (more: object): string => {
      const path = join(folder, `options-${JSON.stringify(more).length}.json`);
      writeFileSync(path, JSON.stringify({ notation, complaint: { focus: ["TG"], state }, evidence: [], ...more }));
      return path;
    };
    const [open, every] = [
      await run("diagnose", asked({}), "--json"),
      await run("diagnose", asked({ options: ["winch", "bar"] }), "--json"),
    ];
    expect(open.out).to.equal(every.out);
    expect((await run("diagnose", asked({ options: ["sunroof"] }))).err).to.match(/no option "sunroof"/);
    const wrong = asked({ complaint: { focus: ["TG", "no such"], state } });
    writeFileSync(wrong, JSON.stringify(JSON.parse(readFileSync(wrong, "utf8")), null, 2));
    const line =
      readFileSync(wrong, "utf8")
        .split("\n")
        .findIndex((l) => l.includes('"no such"')) + 1;
    expect((await run("diagnose", wrong)).err).to.include(`.json:${line}:7 at complaint.focus.1: the circuit has nothing called no such`);
  });

  it("brings in a vehicle with its options still open", async () => {
    const text = `circuit "Either or"
option tow "tow bar"
BAT(12.6V)
G1("frame")
G1 -- W1 BK 16mm2 0.5m -- BAT
BAT -- W2 RD 4mm2 0.5m -- F1(15A) -- W3 RD 1.5mm2 1m -- L1(lamp 21W) -- W4 BK 1.5mm2 1m -- G1
if tow
F1 -- W5 RD 1.5mm2 1m -- L2(lamp 21W) -- W6 BK 1.5mm2 1m -- G1
if !tow
F1 -- W7 RD 1.5mm2 1m -- L3(lamp 5W) -- W8 BK 1.5mm2 1m -- G1
`;
    const path = join(folder, "either-or.circuit");
    writeFileSync(path, text);
    const brought = JSON.parse((await run("import", path)).out) as { wires: { id: string }[] };
    expect(brought).to.deep.equal(JSON.parse(JSON.stringify(parseNotation(text).harness)));
    expect(brought.wires.map((w) => w.id)).to.include.members(["W5", "W7"]);
    // Every other command takes one vehicle: the one with all that the file knows.
    expect((await run("read", path, "--red", "L3.1", "--black", "BAT.-")).err).to.match(/L3/);
    expect((await run("read", path, "--red", "L3.1", "--black", "BAT.-", "--options", "")).code).to.equal(0);
  });

  it("is no failure when whoever reads has seen enough", () => {
    const command = `${process.execPath} ${join(root, "apps/cli/bin/rheonom.mjs")} sweep ${rigVehicle("rig-horn")} --json | head -c 10; echo " \${PIPESTATUS[0]}"`;
    const { stdout, stderr } = spawnSync("bash", ["-c", command], { encoding: "utf8", timeout: 600_000 });
    expect(stdout.trim().endsWith(" 0"), stdout + stderr).to.equal(true);
    expect(stderr).to.equal("");
  });
});
