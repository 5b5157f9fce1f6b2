import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { expect } from "chai";
import { ngspiceOp } from "../../../packages/core/src/test/ngspice.ts";
import { main } from "./main.ts";

const root = resolve(import.meta.dirname, "../../..");
const circuit = (name: string): string => join(root, "demo/circuits", `${name}.circuit`);

describe("rheonom", () => {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-cli-"));
  after(() => rmSync(folder, { recursive: true, force: true }));
  const file = (text: string): string => {
    const path = join(folder, `${Math.abs(hash(text))}.cir`);
    writeFileSync(path, text);
    return path;
  };
  const hash = (text: string): number => [...text].reduce((h, c) => (h * 31 + c.charCodeAt(0)) | 0, 7);

  async function run(...argv: string[]): Promise<{ code: number; out: string; err: string }> {
    const said = { out: "", err: "" };
    const code = await main(argv, { write: (t) => (said.out += t) }, { write: (t) => (said.err += t) });
    return { code, ...said };
  }

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
    const { sound, cases } = JSON.parse(out) as {
      sound: Record<string, number>;
      cases: { fault: string; ohms: number | null; solved: boolean; volts: Record<string, number> }[];
    };
    expect(cases.every((c) => c.solved)).to.equal(true);
    const worn = cases.find((c) => c.fault === "G12 resistance" && c.ohms === 0.2)!;
    expect(worn.volts["LA1.2"]! - sound["LA1.2"]!).to.be.above(0.8);
    expect((await run("sweep", circuit("brigg-work-lamps"))).out).to.match(/G12 open: does not show in this state/);
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
});
