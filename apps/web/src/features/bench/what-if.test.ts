import { expect } from "chai";
import { vehicleOf } from "../../../../../packages/core/src/test/vehicles.ts";
import { supposedFault } from "./what-if.ts";

const brigg = vehicleOf("brigg");

describe("what is supposed of a circuit", () => {
  it("is a fault of the model, by the name of a link or a place", () => {
    expect(supposedFault(brigg, "c4.2", "open")).to.deep.equal({ fault: { kind: "open", link: "C4.2" }, name: "c4.2 open" });
    expect(supposedFault(brigg, "C4.2", "10000")).to.deep.equal({
      fault: { kind: "series", link: "C4.2", ohms: 1e4 },
      name: "C4.2 10 kΩ too much",
    });
    expect(supposedFault(brigg, "ECM.I3", "ground")).to.deep.include({ fault: { kind: "short to ground", place: "ECM.I3", ohms: 0.1 } });
  });
  it("is asked for again where it is nowhere", () => {
    expect(supposedFault(brigg, " ", "open")).to.contain("Where?");
    expect(supposedFault(brigg, "X9", "open")).to.contain("There is no wire");
    expect(supposedFault(brigg, "X9", "feed")).to.contain("There is no place");
    expect(supposedFault(brigg, "C4.2", "feed")).to.contain("two sides");
  });
});
