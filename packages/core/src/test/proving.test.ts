import { expect } from "chai";
import { readdirSync } from "node:fs";
import type { VehicleState } from "../circuit/index.ts";
import { answerCase, diagnose, scaled, sigmaOf, type Evidence, type Observable } from "../diagnosis/index.ts";
import { catalogueOf } from "../faults/index.ts";
import { allPlaces, settingsAs, type Harness } from "../harness/index.ts";
import { chanceOf } from "../practice/index.ts";
import { ask, shown } from "./evidence.ts";
import { PROVING_CASES, provingCircuit, stateOf } from "./proving/cases.ts";

describe("hidden faults on circuits of their own", () => {
  for (const c of PROVING_CASES)
    it(`${c.circuit}: ${c.words}`, () => {
      const harness = provingCircuit(c.circuit, c.options);
      const catalogue = new Map(catalogueOf(harness).map((f) => [f.id, f]));
      const truth = c.truth.map(([id, severity]) => catalogue.get(id)!.faultAt(severity));
      const state = stateOf(c.state);
      const evidence = c.found.map(([observe, more]) =>
        shown(harness, more === undefined ? state : stateOf({ ...c.state, ...more }), observe, truth),
      );
      const question = ask(harness, c.focus, state, evidence);
      const { oracle } = diagnose(question);
      for (const [id] of c.truth)
        expect(
          oracle.space.hypotheses.some((h) => h.fault.id === id && h.logPrior > -Infinity),
          `${id} among the suspects`,
        ).to.equal(true);
      const { suspects } = answerCase(question, "none");
      expect(c.first, suspects.map((s) => `${s.element} ${s.probability.toFixed(2)}`).join(", ")).to.include(suspects[0]!.element);
    });
});

/** Observations of every kind that the circuit decides, in states of every kind. */
function randomTest(harness: Harness, chance: () => number): { state: VehicleState; observe: Observable } | undefined {
  const pick = <T>(from: readonly T[]): T => from[Math.floor(chance() * from.length)]!;
  const of = (...kinds: string[]): string[] => harness.components.flatMap((c) => (kinds.includes(c.kind) ? [c.id] : []));
  const modules = harness.components.flatMap((c) => (c.kind === "device" && c.device === "module" ? [c] : []));
  const cranks = harness.components.some((c) => c.kind === "switch" && c.closedBy === "crank");
  const state = stateOf({
    key: cranks ? "crank" : "run",
    engine: cranks ? "cranking" : pick(["stopped", "idling"]),
    on: harness.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" && chance() < 0.7 ? [c.id] : [])),
    opened: chance() < 0.3 ? [pick(of("connector"))] : [],
  });
  const places: readonly string[] = allPlaces(harness);
  const inputs = modules.flatMap((m) =>
    Object.entries(settingsAs(m, "module")!.pins).flatMap(([pin, p]) => (p.sort === "input" ? [[m.id, pin] as const] : [])),
  );
  const [red, black] = [pick(places), chance() < 0.6 ? "BAT.-" : pick(places)];
  if (red === black) return undefined;
  switch (pick(["volts", "ohms", "amps", "level", "duty", "part", "answers", "code", "live"] as const)) {
    case "volts":
      return { state, observe: { kind: "volts", red, black } };
    case "level":
      return { state, observe: { kind: "level", which: pick(["high", "low"]), red, black } };
    case "duty":
      return { state, observe: { kind: "duty", red, black } };
    case "ohms":
      return { state: { ...state, key: "off", engine: "stopped" }, observe: { kind: "ohms", red, black } };
    case "amps":
      return { state, observe: { kind: "amps", around: pick(harness.wires).id } };
    case "part":
      return { state, observe: { kind: "part", part: pick(of("load", "device")) } };
    case "answers":
      return modules.length === 0 ? undefined : { state, observe: { kind: "answers", module: pick(modules).id } };
    case "code":
      return harness.monitors === undefined ? undefined : { state, observe: { kind: "code", code: pick(harness.monitors).code } };
    case "live": {
      if (inputs.length === 0) return undefined;
      const [module, pin] = pick(inputs);
      return { state, observe: { kind: "live", module, pin } };
    }
  }
}

/** Whether a finding differs from that of the sound vehicle by more than three of its standard deviations. */
function isMoved(observe: Observable, now: Evidence["result"], sound: Evidence["result"]): boolean {
  if (now.kind === "value" && sound.kind === "value")
    return Math.abs(scaled(observe, now.value) - scaled(observe, sound.value)) > 3.2 * sigmaOf(observe, sound.value);
  if (now.kind === "word" && sound.kind === "word") return now.word !== sound.word;
  // A module that is asleep tells no value, and pulses cannot be read of what chatters: then there is nothing that could be found.
  return now.kind !== sound.kind && observe.kind !== "live" && observe.kind !== "level" && observe.kind !== "duty";
}

/** So many that say something, of so many tries at most. */
const MOVED = 14;
const TRIES = 600;

describe("whatever moves an observation is among the suspects", () => {
  const circuits = readdirSync(new URL("proving/", import.meta.url)).flatMap((f) =>
    f.endsWith(".circuit") ? [f.replace(".circuit", "")] : [],
  );
  for (const name of circuits)
    it(`${name}: random faults, observations and states, whatever the complaint is about`, () => {
      const harness = provingCircuit(name);
      const catalogue = catalogueOf(harness);
      const parts = harness.components.flatMap((c) => (c.kind === "load" || c.kind === "device" ? [c.id] : []));
      const chance = chanceOf([...name].reduce((sum, c) => sum + c.charCodeAt(0), 0));
      let moved = 0;
      for (let i = 0; i < TRIES && moved < MOVED; i++) {
        const fault = catalogue[Math.floor(chance() * catalogue.length)]!;
        const severity = fault.severities[Math.floor(chance() * fault.severities.length)]!;
        const focus = parts[Math.floor(chance() * parts.length)]!;
        const test = randomTest(harness, chance);
        if (test === undefined) continue;
        const found = shown(harness, test.state, test.observe, [fault.faultAt(severity)]);
        if (!isMoved(test.observe, found.result, shown(harness, test.state, test.observe, []).result)) continue;
        moved++;
        const { oracle } = diagnose(ask(harness, [focus], test.state, [found]));
        expect(
          oracle.space.hypotheses.some((h) => h.fault.id === fault.id && h.logPrior > -Infinity),
          `${fault.id} at ${severity}, ${JSON.stringify(test)} ${JSON.stringify(found.result)}`,
        ).to.equal(true);
      }
      expect(moved).to.equal(MOVED);
    });
});
