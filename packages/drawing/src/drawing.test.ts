import { expect } from "chai";
import elk, { type ElkNode } from "elkjs/lib/elk.bundled.js";
import { REST_STATE } from "@rheonom/core/circuit";
import { judgePath } from "@rheonom/core/diagnosis";
import { faceOf, linksOf, whereaboutsOf, sliceOf as cut, type Harness } from "@rheonom/core/harness";
import { predictAll } from "@rheonom/core/instruments";
import { parseNotation } from "@rheonom/core/notation";
import { circuitOf, demoCircuits, FAN, fanOn, loadedState } from "../../core/src/test/circuits.ts";
import { potentialRgb, type Scene, type Shape } from "./scene.ts";
import { sliceGraph, type LayoutGraph } from "./slice-graph.ts";
import { drawSlice, type SliceOptions } from "./slice-scene.ts";
import { drawFace, drawSmallFace, worstBeside } from "./face.ts";
import { drawPlan } from "./plan.ts";
import { drawStaircase } from "./staircase.ts";
import { sceneToSvg } from "./svg.ts";
import { vehicleOf } from "../../core/src/test/vehicles.ts";

const Elk = "default" in elk ? (elk.default as unknown as typeof elk) : elk;
const engine = new Elk();

async function sliceOf(harness: Harness, change: Partial<SliceOptions> = {}): Promise<{ scene: Scene; graph: LayoutGraph }> {
  const graph = (await engine.layout(sliceGraph(harness) as ElkNode)) as LayoutGraph;
  const state = loadedState(harness);
  const sound = predictAll(harness, state, []);
  const options: SliceOptions = {
    state,
    volts: "volts" in sound ? sound.volts : new Map(),
    suspects: new Map(),
    notes: new Map(),
    selected: undefined,
    red: undefined,
    black: undefined,
    ...change,
  };
  return { scene: drawSlice(harness, graph, options), graph };
}
const textsOf = (scene: Scene): string[] => scene.shapes.flatMap((s) => (s.t === "text" ? [s.text] : []));
const targetsOf = (scene: Scene): Extract<Shape, { t: "target" }>[] => scene.shapes.flatMap((s) => (s.t === "target" ? [s] : []));

describe("slice", () => {
  it("shows every wire with its colour and every part, and offers every place and link to be picked", async () => {
    for (const { harness } of demoCircuits) {
      const { scene } = await sliceOf(harness);
      const texts = textsOf(scene).join("|");
      for (const w of harness.wires) expect(texts).to.contain([w.id, w.colour].filter(Boolean).join(" "));
      for (const c of harness.components) expect(texts).to.contain(c.id);
      const hits = new Set(targetsOf(scene).map((t) => `${t.hit.kind}:${t.hit.id}`));
      for (const link of linksOf(harness)) if (link.kind !== "joint") expect(hits.has(`link:${link.id}`), link.id).to.equal(true);
      for (const place of ["BAT.+", "BAT.-"]) expect(hits.has(`place:${place}`)).to.equal(true);
    }
  });

  it("has the feed at the top and the return at the bottom, and keeps within its size", async () => {
    for (const { harness, file } of demoCircuits) {
      const { graph, scene } = await sliceOf(harness);
      const yOf = (id: string): number => graph.children.find((n) => n.id === id)!.y!;
      for (const node of graph.children) {
        if (node.id !== "BAT.+") expect(node.y!, `${file} ${node.id}`).to.be.above(yOf("BAT.+"));
        if (node.id !== "BAT.-") expect(node.y!, `${file} ${node.id}`).to.be.below(yOf("BAT.-"));
      }
      for (const t of targetsOf(scene))
        expect(t.x >= -16 && t.y >= -16 && t.x + t.w <= scene.width + 30 && t.y + t.h <= scene.height + 16, `${file} ${t.hit.id}`).to.equal(
          true,
        );
    }
  });

  it("draws the same for the same circuit", async () => {
    const [one, two] = [await sliceOf(circuitOf(FAN)), await sliceOf(circuitOf(FAN))];
    expect(one.scene).to.deep.equal(two.scene);
  });

  it("hatches suspects closer the likelier they are, leaves what is ruled out with its words, and flags the leads", async () => {
    const drawn = async (share: number | undefined): Promise<readonly (string | undefined)[]> => {
      const { scene } = await sliceOf(circuitOf(FAN), {
        suspects: new Map([["W2", { words: "1 V lost", share }]]),
        red: "F1.2",
        black: "BAT.-",
      });
      expect(textsOf(scene)).to.include.members(["red", "black", "1 V lost"]);
      return scene.shapes.flatMap((s) => (s.t === "path" && s.role === "suspect" ? [s.dash] : []));
    };
    const gaps = await Promise.all([0.9, 0.3, 0.1, 0.01].map(async (share) => Number((await drawn(share))[0]?.split(" ")[1])));
    expect(gaps, gaps.join()).to.deep.equal([...new Set(gaps)].sort((p, q) => p - q));
    expect(await drawn(undefined)).to.deep.equal([]);
  });

  it("leaves room for every label and flag beside it", async () => {
    const far = ["BAT.+", "BAT.-", "F1.1", "F1.2", "C1.4a", "C1.4b", "FAN.1"];
    const { scene } = await sliceOf(circuitOf(FAN), { notes: new Map(far.map((p) => [p, "11.98 V"])), red: "F1.2", black: "BAT.-" });
    const left = scene.left ?? 0;
    expect(left).to.be.below(0);
    for (const s of scene.shapes) if (s.t === "text" && s.anchor === "end") expect(s.x - 7 * s.text.length, s.text).to.be.at.least(left);
    expect(sceneToSvg(scene, "sans-serif")).to.contain(`viewBox="${left.toFixed(1).replace(/\.0$/, "")} 0 `);
  });
});

describe("staircase drawing", () => {
  it("puts measured points at their place and height and marks the tall step with its drop", () => {
    const harness = circuitOf(FAN);
    const facts = [
      { id: "1", red: "BAT.+", black: "BAT.-", volts: 12, resolutionVolts: 0.01 },
      { id: "2", red: "C1.4a", black: "BAT.-", volts: 11.9, resolutionVolts: 0.01 },
      { id: "3", red: "C1.4b", black: "BAT.-", volts: 10.2, resolutionVolts: 0.01 },
    ];
    const trace = judgePath(harness, fanOn, "FAN", "usual", facts);
    if (!("stretches" in trace)) throw new Error(trace.message);
    for (const scale of ["ends", "even"] as const) {
      const scene = drawStaircase(harness, trace, { width: 900, height: 260, scale, selected: "C1.4" });
      const dots = scene.shapes.flatMap((s) => (s.t === "circle" && s.role === "measured" ? [s] : []));
      expect(dots).to.have.length(4);
      const [first, second, third, last] = dots as [(typeof dots)[0], (typeof dots)[0], (typeof dots)[0], (typeof dots)[0]];
      expect(first.x < second.x && second.x < third.x && third.x < last.x).to.equal(true);
      expect(first.y < second.y && second.y < third.y && third.y < last.y).to.equal(true);
      expect(textsOf(scene).map((t) => t.replace("\u2009", " "))).to.include("1.70 V");
      expect(scene.title).to.contain("C1.4a and C1.4b");
    }
  });

  it("grows wider rather than crowding when there are more steps than room", () => {
    const { harness } = demoCircuits.find((d) => d.file.startsWith("brigg-work"))!;
    const trace = judgePath(harness, REST_STATE, "LA1", "usual", []);
    if (!("stretches" in trace)) throw new Error(trace.message);
    expect(drawStaircase(harness, trace, { width: 300, height: 200, scale: "ends", selected: undefined }).width).to.be.above(600);
  });
});

describe("potential colours", () => {
  it("rise evenly in lightness, so that they are told apart without hue", () => {
    const lightness = (share: number): number => {
      const [r, g, b] = /rgb\((\d+) (\d+) (\d+)\)/
        .exec(potentialRgb(share))!
        .slice(1)
        .map((v) => (Number(v) / 255) ** 2.2) as [number, number, number];
      return 116 * Math.cbrt(0.2126 * r + 0.7152 * g + 0.0722 * b) - 16;
    };
    const steps = Array.from({ length: 10 }, (_, i) => lightness((i + 1) / 10) - lightness(i / 10));
    for (const step of steps) expect(step).to.be.within(3, 11);
    expect(potentialRgb(-5)).to.equal(potentialRgb(0));
  });
});

describe("SVG for paper", () => {
  it("escapes names, so that nothing in them can run", async () => {
    const harness = circuitOf(FAN);
    const hostile = {
      ...harness,
      name: '</title><script>alert("x")</script>',
      components: harness.components.map((c) => (c.id === "FAN" ? { ...c, label: "<img src=x onerror=alert(1)>" } : c)),
    };
    const { scene } = await sliceOf(hostile);
    const svg = sceneToSvg(scene, "DejaVu Sans");
    expect(svg).to.not.match(/<(script|img)/);
    expect(svg).to.contain("&lt;img src=x");
    expect(svg.match(/<svg/g)).to.have.length(1);
  });
});

describe("slice of a vehicle", () => {
  const whole = vehicleOf("ouse");
  const layOut = async (harness: Harness): Promise<LayoutGraph> =>
    (await engine.layout(sliceGraph(harness, whole) as ElkNode)) as LayoutGraph;
  const y = (g: LayoutGraph, id: string): number => g.children.find((n) => n.id === id)!.y!;

  it("hangs sensors below their module, and what a module pulls to ground above it", async () => {
    const sensors = await layOut(cut(whole, ["ECT", "PED"]).harness);
    for (const id of ["ECT", "PED", "MAP"]) expect(y(sensors, id), id).to.be.above(y(sensors, "VCM"));
    const pump = await layOut(cut(whole, ["CPU"], { sharers: false }).harness);
    expect(y(pump, "VCM")).to.be.above(y(pump, "R2"));
    expect(y(pump, "CPU")).to.be.above(y(pump, "R2"));
  });

  it("draws of a module only the pins that matter", async () => {
    const graph = await layOut(cut(whole, ["CPU"], { sharers: false }).harness);
    expect(
      graph.children
        .find((n) => n.id === "VCM")!
        .ports.map((p) => p.id)
        .sort(),
    ).to.deep.equal(["p:VCM.3", "p:VCM.5"]);
  });

  it("keeps its order from left to right when one thing is added", async () => {
    const few = await layOut(cut(whole, ["L1", "L3", "L5", "L6"], { sharers: false }).harness);
    const more = await layOut(cut(whole, ["L1", "L3", "L5", "L6", "L7"], { sharers: false }).harness);
    const order = (g: LayoutGraph): string[] =>
      g.children
        .filter((n) => /^L\d/.test(n.id) && few.children.some((f) => f.id === n.id))
        .sort((p, q) => p.x! - q.x!)
        .map((n) => n.id);
    expect(order(few).length).to.be.above(2);
    expect(order(more)).to.deep.equal(order(few));
  });

  it("shows ghosts without colour, and hostile names as letters", async () => {
    const named = {
      ...whole,
      components: whole.components.map((c) => (c.id === "L5" ? { ...c, label: '<script>alert("x")</script>' } : c)),
    };
    const harness = cut(named, ["L5"], { sharers: false }).harness;
    const graph = (await engine.layout(sliceGraph(harness, named) as ElkNode)) as LayoutGraph;
    const state = { ...REST_STATE, key: "run" as const };
    const options = {
      state,
      volts: new Map(),
      suspects: new Map(),
      notes: new Map(),
      selected: undefined,
      red: undefined,
      black: undefined,
    };
    const wires = (ghosts: ReadonlySet<string>): number =>
      drawSlice(harness, graph, { ...options, ghosts }).shapes.filter((s) => s.t === "wire").length;
    expect(wires(new Set())).to.equal(harness.wires.length);
    expect(wires(new Set([harness.wires[0]!.id]))).to.equal(harness.wires.length - 1);
    const svg = sceneToSvg(drawSlice(harness, graph, options), "sans-serif");
    expect(svg).to.include("&lt;script&gt;").and.not.include("<script");
  });
});

describe("face", () => {
  it("shows every cavity with wire, colour and what it should read, and the neighbour farthest away in volts", () => {
    const whole = parseNotation(
      "BAT -- RD 4mm2 1m -- F1(10A) -- RD 1mm2 1m -- C1(connector ways=4 rows=2).1 -- RD 1mm2 1m -- LP(lamp 21W) -- BN 1mm2 1m -- C1.2 -- BN 1mm2 1m -- G2 ; G1 -- BK 16mm2 1m -- BAT",
    ).harness!;
    const sound = predictAll(whole, REST_STATE, []);
    const volts = "volts" in sound ? sound.volts : new Map();
    const face = faceOf(whole, "C1", "a", "wire side");
    const texts = textsOf(drawFace(face, { volts, selected: "1" })).join("|");
    expect(texts).to.include("Seen from the wire side, half a").and.include("RD  W2").and.include("empty");
    expect(worstBeside(face, face.rows[0]![0]!, volts)?.number).to.equal("2");
  });
});

describe("where on the vehicle", () => {
  const van = vehicleOf("plover");
  const circles = (scene: Scene, role: string): Extract<Shape, { t: "circle" }>[] =>
    scene.shapes.flatMap((s) => (s.t === "circle" && s.role === role ? [s] : []));

  it("draws the vehicle with its front to the left, so that its left side is below", () => {
    const spots = (part: string) => whereaboutsOf(van, part)!.spots;
    const plan = drawPlan(van, {
      width: 200,
      lit: [
        ...spots("L13").map((spot) => ({ spot, role: "lead-red" as const })),
        ...spots("L14").map((spot) => ({ spot, role: "lead-black" as const })),
      ],
    });
    const [left, right] = [circles(plan, "lead-red"), circles(plan, "lead-black")];
    expect([left.length, right.length]).to.deep.equal([1, 1]);
    expect(left[0]!.x, "at the rear").to.be.above(180);
    expect(left[0]!.y).to.be.above(right[0]!.y);
    expect(plan.title).to.equal("Vehicle from above; red lead at the rear, left; black lead at the rear, right");
  });
  it("offers every place of a zone to be picked, a finger wide, and marks the one that is", () => {
    const zones = van.zones!.map((zone) => ({ zone, words: "1 ground" }));
    const plan = drawPlan(van, { width: 360, lit: [], zones, picked: "rear" });
    const hits = targetsOf(plan);
    expect(hits.length).to.equal(van.zones!.reduce((sum, z) => sum + z.plan!.length, 0));
    expect(Math.min(...hits.map((t) => Math.min(t.w, t.h)))).to.be.at.least(44);
    expect(circles(plan, "selected")).to.have.lengthOf(2);
    expect(sceneToSvg(plan, "sans-serif")).to.match(/^<svg/);
  });
  it("lights one cavity of a plug, in the order of the face, and shows of a wide plug the stretch around it", () => {
    const lit = (scene: Scene): string[] => scene.shapes.flatMap((s) => (s.t === "text" && s.role === "label-strong" ? [s.text] : []));
    const face = faceOf(van, "C30", "b", "wire side");
    const small = drawSmallFace(face, "2");
    expect(lit(small)).to.deep.equal(["2"]);
    const numbers = textsOf(small);
    expect(numbers).to.deep.equal(face.rows.flat().map((c) => c.number));
    const wide = parseNotation(
      `BAT -- RD 1mm2 1m -- C9(connector ways=24 rows=1).20 -- RD 1mm2 1m -- L1(lamp 5W) -- BK 1mm2 1m -- BAT`,
    ).harness!;
    const part = drawSmallFace(faceOf(wide, "C9", "a", "wire side"), "20");
    expect(lit(part)).to.deep.equal(["20"]);
    expect(part.width).to.be.below(350);
  });
});
