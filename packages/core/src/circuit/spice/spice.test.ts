import { expect } from "chai";
import { linksOf } from "../../harness/index.ts";
import { solve, transient, type Netlist } from "../../solver/index.ts";
import { demoCircuits, loadedState, rigs } from "../../test/circuits.ts";
import { ngspiceOp, ngspiceTran } from "../../test/ngspice.ts";
import { buildCircuit, type Fault } from "../index.ts";
import { printSpice } from "./print.ts";
import { readSpice, type SpiceFile } from "./read.ts";
import { spiceNumber } from "./values.ts";

function read(text: string): SpiceFile {
  const result = readSpice(text);
  if (result.kind === "problems") throw new Error(result.problems.map((p) => `${p.line}: ${p.message}`).join("\n"));
  return result.file;
}

/** Our operating point by the names that ngspice gives: nodes, and "v1#branch" for currents. */
function ours(netlist: Netlist, nodeNames: readonly string[], branchNames: ReadonlyMap<string, string>): Map<string, number> {
  const result = solve(netlist);
  if (result.kind !== "solved") throw new Error(JSON.stringify(result));
  const found = new Map<string, number>();
  nodeNames.forEach((name, i) => i > 0 && result.floating[i] === 0 && found.set(name.toLowerCase(), result.volts[i]!));
  netlist.elements.forEach((e, i) => {
    const name = branchNames.get(e.id);
    if (name !== undefined) found.set(`${name.toLowerCase()}#branch`, result.amps[i]!);
  });
  return found;
}

/** Every value within 0.1 % or 1 mV (1 µA for currents). Returns how many were compared. */
function expectSame(mine: ReadonlyMap<string, number>, theirs: ReadonlyMap<string, number>, what: string): number {
  let compared = 0;
  for (const [name, value] of mine) {
    const other = theirs.get(name);
    if (other === undefined) continue;
    compared++;
    const room = Math.max(1e-3 * Math.abs(other), name.endsWith("#branch") ? 1e-6 : 1e-3);
    expect(Math.abs(value - other), `${what}: ${name} is ${value} here, ${other} there`).to.be.at.most(room);
  }
  return compared;
}

function compareText(text: string): void {
  const { netlist } = read(text);
  const branches = new Map(netlist.elements.flatMap((e) => (e.kind === "source" || e.kind === "inductor" ? [[e.id, e.id] as const] : [])));
  expect(expectSame(ours(netlist, netlist.nodes, branches), ngspiceOp(text), text)).to.be.at.least(2);
}

const DIODE = ".model dx d(is=1e-14 n=1)\n.model led d(is=1e-20 n=1.8 rs=2)\n.model sw1 sw(vt=6 vh=0.5 ron=0.05 roff=10meg)";
/** Small circuits by hand; the first line of each is its title. */
const CIRCUITS: readonly string[] = [
  "divider\nV1 1 0 12\nR1 1 2 100\nR2 2 0 200",
  "bridge\nV1 1 0 DC 10\nRa 1 2 1\nRb 2 0 2\nRc 1 3 3\nRd 3 0 4\nRe 2 3 5",
  "current source into a ladder\nI1 0 1 1m\nR1 1 0 1k\nR2 1 2 2k\nR3 2 0 3k",
  "two sources\nV1 1 0 12.6\nV2 3 0 14.2\nR1 1 2 10m\nR2 3 2 20m\nR3 2 0 0.5",
  "seven decades\nV1 1 0 12\nR1 1 2 1m\nR2 2 0 10MEG\nR3 2 3 1k\nR4 3 0 0.47",
  "inductor is a short\nV1 1 0 12\nR1 1 2 3\nL1 2 0 5m",
  "capacitor is open\nV1 1 0 12\nR1 1 2 3\nC1 2 0 5u\nR2 2 0 9",
  `diode forward\nV1 1 0 12\nR1 1 2 1k\nD1 2 0 dx\n${DIODE}`,
  `diode blocked\nV1 1 0 12\nR1 1 2 1k\nD1 0 2 dx\nR2 2 0 10k\n${DIODE}`,
  `two in series\nV1 1 0 5\nR1 1 2 100\nD1 2 3 dx\nD2 3 0 dx\n${DIODE}`,
  `light diode with series resistance\nV1 1 0 13.8\nR1 1 2 680\nD1 2 0 led\n${DIODE}`,
  `full bridge\nV1 1 2 9\nD1 1 3 dx\nD2 2 3 dx\nD3 0 1 dx\nD4 0 2 dx\nR1 3 0 47\n${DIODE}`,
  `heavy diode\nV1 1 0 12\nR1 1 2 10m\nD1 2 3 dx\nR2 3 0 50m\n${DIODE}`,
  `steering diodes\nV1 1 0 12\nV2 2 0 12.5\nD1 1 3 dx\nD2 2 3 dx\nR1 3 0 6\n${DIODE}`,
  `clamp\nV1 1 0 24\nR1 1 2 470\nD1 2 3 dx\nV3 3 0 5\nR3 2 0 10k\n${DIODE}`,
  `switch closed\nV1 1 0 12\nVc 4 0 8\nS1 1 2 4 0 sw1\nR1 2 0 6\n${DIODE}`,
  `switch open\nV1 1 0 12\nVc 4 0 5\nS1 1 2 4 0 sw1\nR1 2 0 6\n${DIODE}`,
  `switch held closed between its thresholds\nV1 1 0 12\nVc 4 0 6.2\nS1 1 2 4 0 sw1 ON\nR1 2 0 6\n${DIODE}`,
  `relay feeds load\nV1 1 0 12\nSk 1 3 1 0 sw1\nRcoil 1 0 85\nR1 3 4 20m\nR2 4 0 1.2\n${DIODE}`,
  "continued lines, comments and scales\nV1 1 0\n+ DC 12 ; the battery\n* nothing here\nR1 1 2 4.7k $ pull-up\nR2 2 0 2200",
  "letter case and named nodes\nv1 Feed GND 12\nr1 feed Out 10\nR2 OUT 0 20",
  "pulse source at rest stands at its first value\nV1 1 0 PULSE(3 12 1m 1u 1u 5m 10m)\nR1 1 2 1k\nR2 2 0 1k",
  "coupled coils at rest\nV1 1 0 12\nR1 1 2 0.5\nL1 2 0 3m\nL2 3 0 2\nR3 3 0 10k\nK1 L1 L2 0.98",
  "negative resistance value of a model\nV1 1 0 12\nR1 1 2 -5\nR2 2 0 20",
];

/** Networks from a small generator of our own, the same at every run. */
function* generated(count: number): Generator<string> {
  let seed = 12345;
  const next = (): number => (seed = (seed * 1103515245 + 12345) % 2 ** 31) / 2 ** 31;
  for (let n = 0; n < count; n++) {
    const nodes = 4 + Math.floor(next() * 12);
    const lines = [`generated ${n}`, `V1 1 0 ${(6 + next() * 20).toFixed(3)}`];
    for (let i = 1; i < nodes; i++) lines.push(`Rc${i} ${i} ${i + 1} ${(10 ** (next() * 6 - 3)).toExponential(6)}`);
    lines.push(`Rend ${nodes} 0 ${(10 ** (next() * 4 - 1)).toExponential(6)}`);
    for (let i = 0; i < nodes; i++) {
      const [a, b] = [Math.floor(next() * (nodes + 1)), Math.floor(next() * (nodes + 1))];
      if (a !== b)
        lines.push(next() < 0.3 && a + b > 1 ? `D${i} ${a} ${b} dx` : `Rx${i} ${a} ${b} ${(10 ** (next() * 5 - 1)).toExponential(6)}`);
    }
    yield [...lines, DIODE].join("\n");
  }
}

describe("against ngspice: operating points", () => {
  for (const circuit of CIRCUITS) it(circuit.split("\n")[0]!, () => compareText(`${circuit}\n.end\n`));
  for (const circuit of generated(20)) it(circuit.split("\n")[0]!, () => compareText(`${circuit}\n.end\n`));

  for (const { harness, file } of demoCircuits) {
    const loaded = loadedState(harness);
    const middle = linksOf(harness).filter((l) => l.kind === "wire")[2]!;
    const CASES: readonly (readonly [string, typeof loaded, Fault[]])[] = [
      ["sound and loaded", loaded, []],
      ["key off", { ...loaded, key: "off", engine: "stopped" }, []],
      ["charging and warm", { ...loaded, engine: "idling", temperatureC: 60 }, []],
      ["a bad joint", loaded, [{ kind: "series", link: middle.id, ohms: 0.35 }]],
      ["a short", loaded, [{ kind: "short to ground", place: middle.b, ohms: 0.2 }]],
    ];
    for (const [name, state, faults] of CASES) {
      it(`${file}: ${name}`, () => {
        const { netlist } = buildCircuit(harness, state, faults);
        const rest = solve(netlist);
        if (rest.kind !== "solved") throw new Error(rest.kind);
        const printed = printSpice(netlist, `${harness.name}, ${name}`, ".op", rest);
        expect(expectSame(ours(netlist, printed.nodeNames, printed.branchNames), ngspiceOp(printed.text), file)).to.be.at.least(3);
      });
    }
  }
});

describe("against ngspice: rigs with devices", () => {
  const STATES = [
    ["key off", { key: "off", engine: "stopped" }, []],
    ["key in run", { key: "run", engine: "stopped" }, []],
    ["cranking", { key: "crank", engine: "cranking" }, []],
    ["idling and cold", { key: "run", engine: "idling", temperatureC: -10 }, []],
    ["a weak battery", { key: "run", engine: "stopped" }, [{ kind: "settings", component: "BAT", settings: { charge: 0.3 } }]],
  ] as const;
  for (const { harness, file } of rigs) {
    for (const [name, change, faults] of STATES) {
      // A current-limited source behind an open contact: ngspice itself finds no point there.
      if (file === "plover-references.circuit" && name === "key off") continue;
      it(`${file}: ${name}`, () => {
        const { netlist } = buildCircuit(harness, { ...loadedState(harness), ...change }, faults);
        const rest = solve(netlist);
        if (rest.kind !== "solved") throw new Error(JSON.stringify({ ...rest, points: undefined }));
        const printed = printSpice(netlist, `${harness.name}, ${name}`, ".op", rest);
        const mine = ours(netlist, printed.nodeNames, printed.branchNames);
        // What hangs on open contacts alone has a potential only by insulation, which the two take differently.
        const loose = looseNodes(netlist, rest.closed);
        for (const [i, node] of printed.nodeNames.entries()) if (loose.has(i)) mine.delete(node.toLowerCase());
        expect(mine.size, "most are compared").to.be.above(netlist.nodes.length / 3);
        expect(expectSame(mine, ngspiceOp(printed.text), file)).to.be.at.least(3);
      });
    }
  }
});

/** Nodes that nothing but open switches and current sources joins to node 0. */
function looseNodes(netlist: Netlist, closed: Uint8Array): Set<number> {
  const held = new Set([0]);
  for (let before = 0; before !== held.size;) {
    before = held.size;
    netlist.elements.forEach((e, i) => {
      if (e.kind === "current" || (e.kind === "switch" && closed[i] === 0)) return;
      if (held.has(e.a)) held.add(e.b);
      if (held.has(e.b)) held.add(e.a);
    });
  }
  return new Set(netlist.nodes.flatMap((_, n) => (held.has(n) ? [] : [n])));
}

describe("against ngspice: transients", () => {
  const CASES: readonly (readonly [string, string, string])[] = [
    ["RC charging from a pulse", "rc\nV1 1 0 PULSE(0 10 0.5m 1u 1u 3m 6m)\nR1 1 2 1k\nC1 2 0 0.5u\n.tran 20u 8m", "2"],
    [
      "coil current building up and stopped by a diode",
      `coil\nV1 1 0 PULSE(0 12 1m 1u 1u 4m 20m)\nR1 1 2 0.6\nL1 2 3 4m\nR2 3 0 0.4\nD1 0 2 dx\n${DIODE}\n.tran 20u 12m`,
      "3",
    ],
    ["ringing", "rlc\nV1 1 0 PWL(0 0 10u 0 11u 5)\nR1 1 2 5\nL1 2 3 1m\nC1 3 0 1u\n.tran 2u 1m", "3"],
    [
      "rectified sine on a capacitor",
      `rect\nV1 1 0 SIN(0 10 100)\nR1 1 2 1\nD1 2 3 dx\nC1 3 0 470u\nR2 3 0 100\n${DIODE}\n.tran 50u 40m`,
      "3",
    ],
    ["two coils on one core", "trafo\nV1 1 0 SIN(0 5 1k)\nR1 1 2 1\nL1 2 0 1m\nL2 3 0 4m\nK1 L1 L2 0.95\nR2 3 0 50\n.tran 5u 5m", "3"],
    ["from given initial values", "ic\nC1 1 0 10u IC=8\nR1 1 2 100\nL1 2 0 10m IC=0.02\n.tran 20u 8m UIC", "1"],
  ];
  for (const [name, text, node] of CASES) {
    it(name, () => {
      const { netlist, transient: wish } = read(`${text}\n.end\n`);
      const result = transient(netlist, { stopS: wish!.stopS, longestS: wish!.stopS / 200, fromInitial: wish!.fromInitial });
      if (result.kind !== "solved") throw new Error(JSON.stringify(result.why));
      const index = netlist.nodes.indexOf(node);
      const theirs = ngspiceTran(`${text}\n.end\n`, /\.tran.*/.exec(text)![0], `v(${node})`);
      expect(theirs.length).to.be.above(100);
      const top = Math.max(...theirs.map(([, v]) => Math.abs(v)));
      let i = 1;
      let worst = 0;
      for (const [t, v] of theirs) {
        while (i < result.timesS.length - 1 && result.timesS[i]! < t) i++;
        const [t0, t1] = [result.timesS[i - 1]!, result.timesS[i]!];
        const mine = result.volts[i - 1]![index]! + ((result.volts[i]![index]! - result.volts[i - 1]![index]!) * (t - t0)) / (t1 - t0);
        worst = Math.max(worst, Math.abs(mine - v));
      }
      expect(worst / top, "largest difference over the largest value").to.be.below(0.01);
    });
  }
});

describe("SPICE text", () => {
  it("is read back as the same circuit", () => {
    for (const circuit of CIRCUITS) {
      const { netlist } = read(`${circuit}\n.end\n`);
      const again = read(printSpice(netlist, "again").text).netlist;
      const plain = (n: Netlist): unknown => [
        n.elements.map((e) => ({
          ...e,
          id: e.id
            .toLowerCase()
            .replace(/^[rd]_/, "")
            .replace("#rs", ""),
        })),
        (n.couplings ?? []).length,
      ];
      expect(plain(again), circuit).to.deep.equal(plain(netlist));
    }
  });

  it("reads numbers with their scales", () => {
    for (const [text, value] of [
      ["4.7k", 4700],
      ["10MEG", 1e7],
      ["1m", 1e-3],
      ["2.2uF", 2.2e-6],
      ["12V", 12],
      ["-1e-3", -1e-3],
      [".5", 0.5],
      ["3mil", 76.2e-6],
    ] as const)
      expect(spiceNumber(text)).to.be.closeTo(value, 1e-12 * Math.max(1, value));
    for (const text of ["k", "1.2.3", "", "--1", "12,5"]) expect(spiceNumber(text), text).to.equal(undefined);
  });

  const WRONG: readonly (readonly [string, number, RegExp])[] = [
    ["t\nR1 1 0\n", 2, /resistance is missing/],
    ["t\nR1 1 0 ten\n", 2, /"ten" is not a number/],
    ["t\nR1 1 0 0\n", 2, /resistance of 0/],
    ["t\nV1 1 0 5\nQ1 1 2 3 npn\n", 3, /type Q are not understood/],
    ["t\nV1 1 0 5\nD1 1 0 dx\n", 3, /no \.model dx/],
    ["t\n.model dx d(is=1e-14 tt=5n)\nV1 1 0 5\nD1 1 0 dx\n", 2, /TT of a d model/],
    ["t\nV1 1 0 5\nR1 1 0 5\nr1 1 0 5\n", 4, /two elements r1/],
    ["t\nV1 1 0 EXP(0 5 1 1 1 1)\nR1 1 0 1\n", 2, /shape EXP/],
    ["t\nV1 1 0 5\nR1 1 0 5\n.noise v(1)\n", 4, /\.noise is not understood/],
    ["t\nL1 1 0 5\nK1 L1 L9 0.5\nR1 1 0 5\n", 1, /L9, which is not an inductor/],
    ["t\n", 1, /no element/],
  ];
  for (const [text, line, message] of WRONG) {
    it(`says ${message.source} in line ${line}`, () => {
      const result = readSpice(text);
      if (result.kind !== "problems") throw new Error("it was read");
      expect(result.problems[0]!.line).to.equal(line);
      expect(result.problems[0]!.message).to.match(message);
    });
  }
});

describe("what has no answer", () => {
  it("blames the diode that a source is shorted through, and the source that fights another", () => {
    const failed = (text: string): unknown => solve(read(text).netlist);
    expect(failed(`t\nV1 1 0 20\nD1 1 0 dx\nR1 1 0 10\n${DIODE}`)).to.deep.equal({ kind: "diverged", element: "D1" });
    expect(failed("t\nV1 1 0 20\nV2 1 0 5\nR1 1 0 10")).to.deep.equal({ kind: "singular", node: "V2" });
  });
});

describe("switches without rest", () => {
  it("are reported as chatter, with their names", () => {
    // A contact that breaks its own coil's feed: the classic buzzer.
    const { netlist } = read(
      `buzzer\nV1 1 0 12\nS1 1 2 3 4 inv ON\nRcoil 2 0 80\nVref 3 0 6\nRx 4 2 1\nRy 4 0 1meg\n.model inv sw(vt=0 vh=0 ron=0.1 roff=1meg)\n.end\n`,
    );
    const result = solve(netlist);
    if (result.kind !== "chatter") throw new Error(result.kind);
    expect(result.elements).to.deep.equal(["S1"]);
    // Its two phases: the contact closed with the battery on the coil, and open with nothing.
    expect(result.points.map((p) => Math.round(p.volts[2]!)).sort()).to.deep.equal([0, 12]);
  });
});
