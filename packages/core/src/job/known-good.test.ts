import { expect } from "chai";
import { REST_STATE } from "../circuit/index.ts";
import { knownGood } from "../test/known-goods.ts";
import { EMPTY_COMPLAINT } from "./fold.ts";
import { bandOf, familyOf, fitsBand, knownGoodItem, leadsKey, onShelf, type KnownGood } from "./known-good.ts";

const leads = { quantity: "volts", red: "C5.3a", black: "BAT.-" } as const;
let n = 0;
const good = (part: Partial<KnownGood>): KnownGood => knownGood(`0190a1b2-c3d4-7e5f-8a9b-${String(++n).padStart(12, "0")}`, part);
const of = { options: [], leads, state: { ...REST_STATE, key: "run" as const } };

describe("the shelf of known-goods", () => {
  it("counts what is of the same place, options, state and weather, and names why others do not count", () => {
    const items = [
      good({}),
      good({ value: 12.3 }),
      good({ leads: { ...leads, inputOhms: 1e6 }, value: 12.2 }),
      good({ options: ["tow"], value: 9 }),
      good({ state: { ...REST_STATE, key: "off" }, value: 0 }),
      good({ state: { ...REST_STATE, key: "run", temperatureC: -20 }, value: 11 }),
      good({ leads: { ...leads, red: "C5.4a" }, value: 5 }),
      good({ value: 1, withdrawn: { at: "2026-11-30T11:00:00.000Z", by: "Rook", why: "the joint was bad" } }),
    ];
    const shelf = onShelf(items, of);
    expect(shelf.like.map((i) => i.value)).to.deep.equal([12.1, 12.3, 12.2]);
    expect(shelf.other.map((o) => o.why)).to.deep.equal(["other options", "another state", "at -20 °C"]);
    expect(shelf.band).to.include({ count: 3, median: 12.2 });
  });

  it("has a band of median and spread that one odd value does not widen to itself", () => {
    // Median 12.2; deviations 0.2 0.1 0 0.1 0.1 → MAD 0.1 → 3 × 1.4826 × 0.1 = 0.445.
    const band = bandOf([12.0, 12.1, 12.2, 12.3, 12.3], "volts")!;
    expect(band.low).to.be.closeTo(12.2 - 0.4448, 1e-3);
    expect(band.high).to.be.closeTo(12.2 + 0.4448, 1e-3);
    expect([fitsBand(band, 12.5), fitsBand(band, 11.5)]).to.deep.equal([true, false]);
    expect(bandOf([], "volts")).to.equal(undefined);
    // One alone says little: twice 20 mV and two in a hundred about it.
    expect(bandOf([12], "volts")!.low).to.be.closeTo(12 - 2 * (0.02 + 0.24), 1e-9);
    // A drop of 9 mV is no other than one of 20 mV, for any meter and load; half a volt is.
    expect([fitsBand(bandOf([0.009], "volts")!, 0.02), fitsBand(bandOf([0.009], "volts")!, 0.5)]).to.deep.equal([true, false]);
    expect(fitsBand(bandOf([-3, -3.1], "volts")!, -3.05)).to.equal(true);
  });

  it("belongs to the shop's vehicle, else to what the vehicle is called", () => {
    const complaint = { ...EMPTY_COMPLAINT, vehicle: "Tavrin Brigg 3.0 V6" };
    const circuit = { notation: "x", at: "" };
    expect(familyOf({ complaint, circuit: { ...circuit, vehicle: { id: "brigg", version: 2, options: ["tow"] } } })).to.deep.equal({
      vehicle: "brigg",
      options: ["tow"],
    });
    expect(familyOf({ complaint, circuit: { ...circuit, vehicle: undefined } })).to.deep.equal({
      vehicle: "tavrin-brigg-3-0-v6",
      options: [],
    });
    expect(familyOf({ complaint: { ...complaint, vehicle: " ?" }, circuit: { ...circuit, vehicle: undefined } })).to.equal(undefined);
    expect(familyOf({ complaint, circuit: undefined })).to.equal(undefined);
  });

  it("takes a reading or a recording, and nothing between", () => {
    const trace = { hash: "0".repeat(64), bytes: 9, channel: 0, name: "coil", unit: "V", factor: 1, rateHz: 1e5, count: 100 };
    expect(knownGoodItem.safeParse(good({})).success).to.equal(true);
    expect(knownGoodItem.safeParse({ ...good({}), trace }).success).to.equal(false);
    const recording = good({ value: undefined });
    expect(knownGoodItem.safeParse({ ...recording, trace }).success).to.equal(true);
    expect(knownGoodItem.safeParse(recording).success).to.equal(false);
    expect(knownGoodItem.safeParse({ ...good({}), vehicle: "../x" }).success).to.equal(false);
    expect(leadsKey({ quantity: "amps", around: "W2" })).to.equal("amps W2");
  });
});
