import { expect } from "chai";
import fc from "fast-check";
import { buildCircuit, deltaOf, REST_STATE, type VehicleState } from "../circuit/index.ts";
import { DEVICE_NAMES, deviceKind, ENGINE_STATES, KEY_POSITIONS, readDevice } from "../devices/index.ts";
import { catalogueOf } from "../faults/index.ts";
import { type Harness, harnessSchema, validateHarness } from "../harness/index.ts";
import { observe, predictAll, predictReading } from "../instruments/index.ts";
import { prepare, solve } from "../solver/index.ts";

/** A circuit of random devices wired at random to a few splices, a feed, a ground and each other. Some are senseless; all are valid. */
const anyHarness = fc
  .record({
    devices: fc.array(fc.constantFrom(...DEVICE_NAMES), { minLength: 1, maxLength: 7 }),
    ends: fc.array(fc.nat(7), { minLength: 80, maxLength: 80 }),
    areas: fc.array(fc.constantFrom(0.35, 1, 2.5, 16, 50), { minLength: 10, maxLength: 10 }),
    fuse: fc.constantFrom(2, 10, 30, 100),
    restVolts: fc.constantFrom(3, 11.9, 12.6, 25.2),
  })
  .map(({ devices, ends, areas, fuse, restVolts }): Harness => {
    const places = ["BAT.+", "BAT.-", "F1.2", "SW1.2", "S1", "S2", "G1", "S1"];
    const pinOf = (place: string): { component: string; pin: string } => {
      const [component, pin] = place.split(".") as [string, string | undefined];
      return { component, pin: pin ?? "1" };
    };
    let next = 0;
    const area = (i: number): number => areas[i % areas.length]!;
    const wires = [
      { from: "BAT.+", to: "F1.1" },
      { from: "F1.2", to: "SW1.1" },
      { from: "G2", to: "BAT.-" },
      { from: "SW1.2", to: "S1" },
      { from: "S2", to: "G1" },
      ...devices.flatMap((device, d) =>
        deviceKind(device)!
          .terminals(readOf(device))
          .map((t) => ({ from: `D${d}.${t.name}`, to: places[ends[next++ % ends.length]!]! })),
      ),
    ].map((w, i) => ({ id: `W${i + 1}`, from: pinOf(w.from), to: pinOf(w.to), areaMm2: area(i), lengthM: 1 }));
    return harnessSchema.parse({
      format: "rheonom-harness",
      version: 1,
      name: "random",
      nominalVolts: restVolts > 20 ? 24 : 12,
      components: [
        { id: "BAT", kind: "battery", restVolts, internalOhms: 0.008, chargeVolts: restVolts + 1.6, crankAmps: 0 },
        { id: "F1", kind: "fuse", ratingAmps: fuse },
        { id: "SW1", kind: "switch", closedBy: "hand" },
        { id: "S1", kind: "splice" },
        { id: "S2", kind: "splice" },
        { id: "G1", kind: "ground", on: "body" },
        { id: "G2", kind: "ground", on: "body" },
        ...devices.map((device, d) => ({ id: `D${d}`, kind: "device", device, settings: {} })),
      ],
      wires,
      joints: [],
    });
  });

function readOf(device: string): object {
  const read = readDevice(device, {});
  if (read.kind !== "known") throw new Error(device);
  return read.settings;
}

const anyState = fc.record({
  key: fc.constantFrom(...KEY_POSITIONS),
  engine: fc.constantFrom(...ENGINE_STATES),
  on: fc.constantFrom<string[]>([], ["SW1"]),
  temperatureC: fc.constantFrom(-30, 20, 80),
  opened: fc.constantFrom<string[]>([], ["F1"], ["BAT"], ["D0"], ["G1"]),
  lamps: fc.constantFrom<[string, string, number][]>([], [["F1.1", "F1.2", 21]]),
  inputs: fc.constantFrom<Record<string, number>>({}, { D0: 0.5, D1: 40 }),
});

const finite = (values: Iterable<number>): boolean => [...values].every(Number.isFinite);

/** Every number in whatever is seen; a fuse that holds has Infinity seconds left. */
const numbersIn = (value: unknown): number[] =>
  typeof value === "number" ? [value] : typeof value === "object" && value !== null ? Object.values(value).flatMap(numbersIn) : [];

describe("any valid circuit in any state with any of its faults", () => {
  it("ends in a solution without NaN or in a typed reason, and never throws", () => {
    const ended = { solved: 0, singular: 0, diverged: 0, chatter: 0 };
    fc.assert(
      fc.property(anyHarness, anyState, fc.nat(), fc.nat(), (harness, change, which, how) => {
        if (validateHarness(harness).some((p) => p.severity === "error" && p.code !== "no-load")) return;
        const state: VehicleState = { ...REST_STATE, ...change };
        const catalogue = catalogueOf(harness);
        const supposed = catalogue[which % catalogue.length]!;
        const fault = supposed.faultAt(supposed.severities[how % supposed.severities.length]!);
        const sound = buildCircuit(harness, state, []);
        for (const faults of [[], [fault]]) {
          const result = solve(buildCircuit(harness, state, faults).netlist);
          ended[result.kind]++;
          if (result.kind === "solved") expect(finite(result.volts) && finite(result.amps)).to.equal(true);
          if (result.kind === "chatter") for (const p of result.points) expect(finite(p.volts) && finite(p.amps)).to.equal(true);
        }
        const made = prepare(sound.netlist);
        const delta = made.kind === "prepared" ? deltaOf(sound, harness, state, fault) : undefined;
        const quick = made.kind === "prepared" && delta !== undefined ? made.prepared.withDelta(delta) : undefined;
        if (quick !== undefined) expect(finite(quick.volts)).to.equal(true);
        const seen = observe(harness, state, [fault]);
        if (Array.isArray(seen)) for (const n of numbersIn(seen)) expect(n, JSON.stringify(seen)).to.not.be.NaN;
        predictReading(harness, state, [fault], { quantity: "ohms", red: "S1", black: "G1" });
        const all = predictAll(harness, state, [fault]);
        if ("volts" in all) expect(finite([...all.volts.values()].map((v) => v ?? 0))).to.equal(true);
      }),
      { numRuns: 400 },
    );
    const total = Object.values(ended).reduce((a, b) => a + b, 0);
    expect(total, "most circuits were valid").to.be.above(400);
    expect(ended.solved / total, JSON.stringify(ended)).to.be.above(0.9);
    expect(ended.singular + ended.diverged, JSON.stringify(ended)).to.be.below(0.02 * total);
  });
});
