import { expect } from "chai";
import { partOfLink, partOfPlace, sliceOf, walksOf } from "@rheonom/core/harness";
import { orient } from "./orient.ts";
import { sliceGraph, type LayoutGraph } from "./slice-graph.ts";
import { vehicleOf } from "../../core/src/test/vehicles.ts";

/** Edges that close a ring of downward edges: drawings with them have wires that run up again. */
function rings(graph: LayoutGraph): string[] {
  const owner = new Map(graph.children.flatMap((n) => [[n.id, n.id] as const, ...n.ports.map((p) => [p.id, n.id] as const)]));
  const out = new Map<string, { to: string; id: string }[]>();
  for (const e of graph.edges) {
    const from = owner.get(e.sources[0]!)!;
    out.set(from, [...(out.get(from) ?? []), { to: owner.get(e.targets[0]!)!, id: e.id }]);
  }
  const state = new Map<string, "open" | "done">();
  const found: string[] = [];
  const visit = (node: string): void => {
    state.set(node, "open");
    for (const { to, id } of out.get(node) ?? []) {
      if (state.get(to) === "open") found.push(id);
      else if (state.get(to) === undefined) visit(to);
    }
    state.set(node, "done");
  };
  for (const n of graph.children) if (state.get(n.id) === undefined) visit(n.id);
  return found;
}

describe("orientation of slices", () => {
  for (const name of ["plover", "brigg", "ouse", "gritter"]) {
    const whole = vehicleOf(name);
    it(`lets everything of ${name} fall from feed to ground, nearly always without a wire that runs up again`, () => {
      const parts = [...new Set(walksOf(whole).map((w) => partOfLink(whole, w.load)!.id))];
      const risen = parts.filter((p) => rings(sliceGraph(sliceOf(whole, [p], { sharers: false }).harness, whole)).length > 0);
      // Modules that command what feeds them close a ring in the vehicle itself.
      expect(risen.length, risen.join()).to.be.at.most(Math.ceil(parts.length * 0.15));
    });

    it(`gives every port of ${name} an edge, and every wire both its ends`, () => {
      for (const w of walksOf(whole).slice(0, 25)) {
        const slice = sliceOf(whole, [partOfLink(whole, w.load)!.id]).harness;
        const graph = sliceGraph(slice, whole);
        const ports = new Set(graph.children.flatMap((n) => [n.id, ...n.ports.map((p) => p.id)]));
        for (const e of graph.edges)
          for (const end of [...e.sources, ...e.targets]) expect(ports.has(end), `${e.id}: ${end}`).to.equal(true);
        for (const wire of slice.wires)
          expect(
            graph.edges.some((e) => e.id === wire.id),
            wire.id,
          ).to.equal(true);
      }
    });
  }

  it("names the upper end of each wire on the way of a load as current flows", () => {
    const whole = vehicleOf("plover");
    const slice = sliceOf(whole, ["FPU"], { sharers: false }).harness;
    const { upper, below } = orient(slice, whole);
    const walk = walksOf(whole).find((w) => w.load.id === "FPU.winding")!;
    for (const h of [...walk.feed, ...walk.ground]) if (h.link.kind === "wire") expect(upper.get(h.link.id), h.link.id).to.equal(h.from);
    expect(below.has("R3.87" as never) && below.has("FPU.2" as never)).to.equal(true);
    expect(below.has("R3.30" as never) || below.has("FPU.1" as never)).to.equal(false);
    expect(partOfPlace(whole, "R3.87" as never)?.id).to.equal("R3");
  });
});
