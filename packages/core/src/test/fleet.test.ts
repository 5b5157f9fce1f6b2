import { expect } from "chai";
import { readdirSync, readFileSync } from "node:fs";
import { REST_STATE, type VehicleState } from "../circuit/index.ts";
import { judgePath } from "../diagnosis/index.ts";
import {
  allPlaces,
  batteryNegative,
  type Harness,
  loadsOf,
  pathOfLoad,
  resolveVariant,
  validateHarness,
  variantsOf,
} from "../harness/index.ts";
import { observe, predictAll, silentModules } from "../instruments/index.ts";
import { parseNotation, printNotation } from "../notation/index.ts";

const folder = new URL("../../../../demo/vehicles/", import.meta.url);
const FLEET = readdirSync(folder)
  .filter((f) => f.endsWith(".circuit"))
  .map((f) => ({ file: f, text: readFileSync(new URL(f, folder), "utf8") }));

const switches = (h: Harness): string[] => h.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" ? [c.id] : []));
/** What a driver can have on together: no full set of heaters with the winch, no lock and unlock button at once. */
const SHORT_TIME = new Set(["SWW", "SW27", "SW28"]);
const everything = (h: Harness): string[] => switches(h).filter((s) => !SHORT_TIME.has(s));
/** Light switches: what is on with them alone must burn at full light even at idle. */
const lights = (h: Harness): string[] =>
  switches(h).filter((s) => /light|beam|lamp|fog|brake|beacon|tail|stop/.test(h.components.find((c) => c.id === s)?.label ?? ""));

function statesOf(h: Harness): VehicleState[] {
  const on = everything(h);
  const state = (s: Partial<VehicleState>): VehicleState => ({ ...REST_STATE, ...s });
  return [
    state({}),
    state({ key: "accessory", on }),
    state({ key: "run" }),
    state({ key: "run", on }),
    state({
      key: "crank",
      engine: "cranking",
      on: on.filter((s) => /clutch|neutral|range/.test(h.components.find((c) => c.id === s)?.label ?? "")),
    }),
    state({ key: "run", engine: "idling" }),
    state({ key: "run", engine: "idling", on }),
    state({ key: "run", engine: "idling", on: lights(h) }),
    state({ key: "run", engine: "at speed", on, temperatureC: 40 }),
    state({ key: "run", engine: "at speed", on, temperatureC: -15 }),
  ];
}

describe("the fleet", () => {
  it("has four vehicles and six rigs", () => expect(FLEET).to.have.length(10));
  for (const { file, text } of FLEET) {
    const { harness, problems } = parseNotation(text);
    it(`${file} is valid, and printing it gives back what was read`, () => {
      expect(problems.map((p) => `${p.line}: ${p.message}`)).to.deep.equal([]);
      expect(parseNotation(printNotation(harness!)).harness).to.deep.equal(harness);
    });
    for (const options of variantsOf(harness!)) {
      const variant = resolveVariant(harness!, options);
      it(`${file} with ${options.join(", ") || "no options"}: sane in every state`, () => {
        expect(validateHarness(variant).filter((p) => p.severity === "error")).to.deep.equal([]);
        for (const state of statesOf(variant)) sane(variant, state);
        // Judging every load takes seconds on a vehicle: without options and with all of them.
        const all = options.length === (harness!.options?.length ?? 0);
        if (options.length === 0 || all) noVerdict(variant, { ...REST_STATE, key: "run", engine: "idling", on: everything(variant) });
      });
    }
  }
});

/** A sound vehicle: solved everywhere, no fuse blown, nothing chatters, lamps bright, modules awake, no verdict. */
function sane(harness: Harness, state: VehicleState): void {
  const where = `${state.key}, ${state.engine}, ${state.on.length} on, ${state.temperatureC} °C`;
  const predicted = predictAll(harness, state, []);
  if (!("volts" in predicted)) throw new Error(`${where}: ${JSON.stringify(predicted)}`);
  for (const p of allPlaces(harness)) {
    const v = predicted.volts.get(p);
    if (v !== undefined && !p.endsWith(".4") && harness.components.find((c) => p.startsWith(`${c.id}.`))?.kind !== "device")
      expect(v, `${where}: ${p}`).to.be.within(-2, harness.nominalVolts * 1.3);
  }
  const lit = state.engine === "idling" && state.on.length === lights(harness).length;
  const seen = observe(harness, state, []);
  if (!Array.isArray(seen)) throw new Error(`${where}: ${JSON.stringify(seen)}`);
  for (const { component, sight } of seen) {
    if (sight.kind === "fuse") expect(sight.blown, `${where}: fuse ${component}`).to.equal(false);
    expect(sight.kind, `${where}: ${component}`).not.to.equal("chatters");
    if (sight.kind === "lamp" && sight.share > 0.02 && (state.engine === "at speed" || lit) && !dimmed(harness, component))
      expect(sight.share, `${where}: lamp ${component}`).to.be.above(lit ? 0.95 : 0.9);
    if (sight.kind === "awake" && state.key === "run") expect(sight.yes, `${where}: module ${component}`).to.equal(true);
  }
  if (state.key === "run") expect(silentModules(harness, state, []), where).to.deep.equal([]);
}

/** Readings of a sound vehicle lead to no verdict, whichever load is traced. */
function noVerdict(harness: Harness, state: VehicleState): void {
  const predicted = predictAll(harness, state, []);
  if (!("volts" in predicted)) throw new Error(JSON.stringify(predicted));
  const minus = batteryNegative(harness);
  for (const load of loadsOf(harness)) {
    const path = pathOfLoad(harness, load.id);
    if (path.kind !== "path") continue;
    const facts = [...new Set([...path.feed, ...path.ground].map((h) => h.to))].flatMap((red) => {
      const volts = predicted.volts.get(red);
      return volts === undefined ? [] : [{ id: red, red, black: minus, volts, resolutionVolts: 0.001 }];
    });
    const trace = judgePath(harness, state, load.id, "usual", facts);
    if (!("stretches" in trace)) continue;
    for (const s of trace.stretches) expect(s.verdict, `${load.id}, ${JSON.stringify(s).slice(0, 300)}`).not.to.equal("suspect");
  }
}

/** Lamps that are not meant to burn at full light: in series with something, or blinking. */
const dimmed = (harness: Harness, id: string): boolean => {
  const label = harness.components.find((c) => c.id === id)?.label ?? "";
  return /charge lamp|oil lamp|turn signal|trailer/.test(label);
};
