import { expect } from "chai";
import { REST_STATE } from "@rheonom/core/circuit";
import type { TrayItem } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import { lookableParts, runsSound, stays, temporaryFor } from "./prepare.ts";

const fan = parseNotation(
  "BAT.+ -- RD 4mm2 1m -- F1(30A) -- RD 4mm2 1m -- FAN(motor 8A) -- BK 4mm2 1m -- G1\nBAT.- -- BK 16mm2 1m -- G1",
).harness!;
const item = (kind: TrayItem["kind"], place: string, to = ""): TrayItem => ({
  id: "x",
  at: "",
  by: "",
  kind,
  place,
  to,
  note: "",
  ended: undefined,
});

describe("preparing a test", () => {
  const wanted = {
    ...REST_STATE,
    opened: ["F1", "FAN"],
    bridged: [["FAN.2", "BAT.-"] as [string, string]],
    lamps: [["F1.1", "F1.2", 21] as [string, string, number]],
  };
  it("names what has to be pulled, unplugged, bridged and fitted, and only what is new", () => {
    expect(temporaryFor(fan, REST_STATE, wanted).map((t) => [t.kind, t.at, t.to])).to.deep.equal([
      ["pulled", "F1", ""],
      ["unplugged", "FAN", ""],
      ["jumpered", "FAN.2", "BAT.-"],
      ["lamp fitted", "F1.1", "F1.2"],
    ]);
    expect(temporaryFor(fan, wanted, wanted)).to.deep.equal([]);
  });
  it("keeps what the state still wants, and covers, pierced wires and the like in any case", () => {
    expect(stays(item("pulled", "F1"), wanted)).to.equal(true);
    expect(stays(item("pulled", "F1"), REST_STATE)).to.equal(false);
    expect(stays(item("lamp fitted", "F1.1", "F1.2"), REST_STATE)).to.equal(false);
    expect(stays(item("jumpered", "FAN.2", "BAT.-"), wanted)).to.equal(true);
    expect(stays(item("cover off", "sill"), REST_STATE)).to.equal(true);
  });
  it("knows whether a sound part would do anything, and which parts can be looked at", () => {
    const amps = new Map([
      ["FAN", 8],
      ["W1", 8],
    ]);
    expect(runsSound({ amps, volts: new Map() }, "FAN")).to.equal(true);
    expect(runsSound({ amps: new Map([["FAN", 0]]), volts: new Map() }, "FAN")).to.equal(false);
    expect(runsSound(undefined, "FAN")).to.equal(undefined);
    expect(lookableParts(fan, "FAN")).to.deep.equal(["FAN"]);
  });
});
