import { expect } from "chai";
import { vehicleOf } from "../test/vehicles.ts";
import { describeChange, describeState, REST_STATE, type VehicleState } from "./index.ts";

const harness = vehicleOf("gritter");
const changed: VehicleState = { ...REST_STATE, key: "run", on: ["SW2"], opened: ["F5", "C1", "BAT"], bridged: [["C1.1a", "BAT.-"]] };

describe("a state in words", () => {
  it("says what was pulled, unplugged and disconnected, and never calls any of it open", () => {
    expect(describeState(changed, harness)).to.equal(
      "key run, engine stopped, SW2 on, BAT disconnected, C1 unplugged, F5 pulled, C1.1a bridged to BAT.-",
    );
    expect(describeState(changed)).to.include("F5 disconnected");
  });
  it("says what to do to get from one to the other, and back", () => {
    expect(describeChange(REST_STATE, changed, harness)).to.equal(
      "key run, SW2 on, F5 pulled, C1 unplugged, BAT disconnected, C1.1a bridged to BAT.- by a lead with a 30 A fuse",
    );
    expect(describeChange(changed, REST_STATE, harness)).to.equal(
      "key off, SW2 off, F5 put back, C1 put back, BAT put back, jumper from C1.1a to BAT.- taken off",
    );
    expect(describeChange(changed, changed, harness)).to.equal("");
  });
});
