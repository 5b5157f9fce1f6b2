import { expect } from "chai";
import { drawnMark, moved, scaled, withMark, withoutChosen, type Layer } from "./marks-model.ts";

const EMPTY: Layer = { marks: [], chosen: undefined };

describe("marks over a picture", () => {
  it("a drag draws, a tap points, and words nobody has written are none", () => {
    expect(drawnMark("arrow", [0.1, 0.2], [0.5, 0.6], "")).to.deep.equal({ kind: "arrow", from: [0.1, 0.2], to: [0.5, 0.6] });
    // The tap is where the arrow points.
    expect(drawnMark("arrow", [0.5, 0.5], [0.501, 0.5], ""))
      .to.have.property("to")
      .that.deep.equals([0.5, 0.5]);
    const circle = drawnMark("circle", [0.2, 0.2], [0.4, 0.6], "");
    expect(circle).to.deep.include({ kind: "circle" }).and.to.have.property("at").that.deep.equals([0.30000000000000004, 0.4]);
    expect(drawnMark("words", [0.3, 0.3], [0.3, 0.3], "  ")).to.equal(undefined);
  });

  it("only the chosen one moves, grows and goes, and none leaves what is stored", () => {
    const [a, b] = [drawnMark("arrow", [0.1, 0.1], [0.3, 0.3], "")!, drawnMark("circle", [0.5, 0.5], [0.5, 0.5], "")!];
    let layer = withMark(withMark(EMPTY, a), b);
    expect(layer.chosen).to.equal(1);
    layer = scaled(moved(layer, 9, 0), 1e6);
    expect(layer.marks[0]).to.equal(a);
    expect(layer.marks[1]).to.deep.equal({ kind: "circle", at: [1.5, 0.5], radii: [1, 1] });
    expect(withoutChosen(layer)).to.deep.equal({ marks: [a], chosen: undefined });
    const arrow = scaled({ marks: [a], chosen: 0 }, 2).marks[0]!;
    // An arrow keeps its point.
    expect(arrow).to.deep.include({ to: [0.3, 0.3] });
  });
});
