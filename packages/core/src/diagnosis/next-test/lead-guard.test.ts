import { expect } from "chai";
import { REST_STATE, type Fault, type VehicleState } from "../../circuit/index.ts";
import { ask, said, shown } from "../../test/evidence.ts";
import { vehicleOf } from "../../test/vehicles.ts";
import { diagnose } from "../answer/diagnose.ts";
import type { Evidence } from "../evidence/evidence.ts";
import { leadGuard } from "./lead-guard.ts";

const lamps = vehicleOf("rig-lamps");
const stop: VehicleState = { ...REST_STATE, on: ["SW2"] };
const fed: VehicleState = { ...stop, bridged: [["L2.1", "BAT.+"]] };

/** Whether a lead from the battery to the lamp may blow its fuse, by what was found. */
function mayBlow(evidence: readonly Evidence[]): boolean {
  const { oracle, belief } = diagnose(ask(lamps, ["L2"], stop, evidence));
  return leadGuard(oracle, belief, stop)({ kind: "lead", state: fed, observe: { kind: "part", part: "L2" } } as never);
}

describe("a fused lead", () => {
  const dark = said(stop, { kind: "part", part: "L2" }, "none");
  it("waits while the shorts that nobody has excluded may together blow its fuse, none of them likely by itself", () => {
    const { belief } = diagnose(ask(lamps, ["L2"], stop, [dark]));
    const shorts = belief.alive.filter((c) => c.fault.effect === "short to ground");
    expect(Math.max(...shorts.map((c) => belief.posterior(c)))).to.be.below(0.05);
    expect(mayBlow([dark])).to.equal(true);
  });
  it("goes on once the feed is seen to stand as far as the open", () => {
    const open: Fault = { kind: "open", link: "W10" };
    const seen = [
      dark,
      shown(lamps, stop, { kind: "volts", red: "L2.1", black: "BAT.-" }, [open]),
      shown(lamps, stop, { kind: "volts", red: "C1.2a", black: "BAT.-" }, [open]),
    ];
    expect(mayBlow(seen)).to.equal(false);
  });
});
