import { expect } from "chai";
import { REST_STATE } from "../circuit/index.ts";
import { type Evidence, RESULT_WORDS, type Result, shownBy } from "../diagnosis/index.ts";
import { type Harness } from "../harness/index.ts";
import { circuitOf } from "../test/circuits.ts";
import { vehicleOf } from "../test/vehicles.ts";
import { offersFor, PROCEDURES, runProcedure, type Setting } from "./index.ts";
import type { Grade, Procedure, Step } from "./procedure.ts";

const settingFor = (harness: Harness, target: string): Setting => ({ harness, target, chosen: {}, rules: "usual", state: REST_STATE });
const named = (id: string): Procedure => PROCEDURES.find((p) => p.id === id)!;
const say = (step: Step, result: Result): Evidence => ({ id: step.id, ...step.test, result, source: "technician" });

/** A result that a step by itself is graded so by; undefined where there is none, as for a step that is refused or compared with another. */
function resultFor(setting: Setting, step: Step, wanted: Grade): Result | undefined {
  const procedure: Procedure = {
    ...named("give"),
    plan: () => ({ steps: [{ id: step.id, does: step.does, test: step.test, good: step.good }], rules: [] }),
  };
  const words = RESULT_WORDS[step.test.observe.kind as keyof typeof RESULT_WORDS] ?? [];
  const tried: Result[] = [
    shownBy(setting.harness, step.test, []),
    ...words.map((w): Result => ({ kind: "word", word: w })),
    ...[0, 0.00001, 0.01, 1, 9.7, 12.5, 14, 25, -40, 1000, 1e6].map((value): Result => ({ kind: "value", value })),
  ];
  return tried.find((r) => runProcedure(procedure, setting, [say(step, r)]).steps[0]!.grade === wanted);
}

/** Up to so many steps every combination is walked; beyond, every one and every two near each other bad among good ones. */
const MOST_STEPS = 8;

function combinations(steps: readonly Step[]): readonly ReadonlySet<string>[] {
  const ids = steps.map((s) => s.id);
  if (ids.length <= MOST_STEPS)
    return Array.from({ length: 2 ** ids.length }, (_, mask) => new Set(ids.filter((_, i) => ((mask >> i) & 1) === 1)));
  return [new Set(), ...ids.flatMap((a, i) => [new Set([a]), ...ids.slice(i + 1, i + 7).map((b) => new Set([a, b]))])];
}

/** Walks a procedure with these steps bad and all others good. */
function walk(
  setting: Setting,
  procedure: Procedure,
  bad: ReadonlySet<string>,
  results: ReadonlyMap<string, Partial<Record<Grade, Result>>>,
) {
  const given = new Map<string, Result>();
  const evidence = procedure.plan(setting).steps.flatMap((step) => {
    const { good } = step;
    let result = results.get(step.id)?.[bad.has(step.id) ? "bad" : "good"];
    const other = good.kind === "same as" ? given.get(good.step) : undefined;
    if (other?.kind === "value") result = { kind: "value", value: other.value + (bad.has(step.id) ? 5 : 0) };
    if (result === undefined) return [];
    given.set(step.id, result);
    return [say(step, result)];
  });
  return runProcedure(procedure, setting, evidence);
}

describe("combinations of good and bad steps, all of them up to eight steps and one or two bad beyond", () => {
  /** The largest vehicle is slow: it is walked for what the others do not have. */
  const done = new Set<string>();
  for (const name of ["gritter", "ouse", "brigg"])
    it(`${name}: no good verdict stands over a bad step, and every way ends in a verdict`, () => {
      const harness = vehicleOf(name);
      let walked = 0;
      for (const { procedure, targets } of offersFor(harness)) {
        if (name === "brigg" && done.has(procedure.id)) continue;
        done.add(procedure.id);
        const setting = settingFor(harness, targets[0]!.element);
        const { steps } = procedure.plan(setting);
        const results = new Map(steps.map((s) => [s.id, { good: resultFor(setting, s, "good"), bad: resultFor(setting, s, "bad") }]));
        for (const bad of combinations(steps)) {
          const view = walk(setting, procedure, bad, results as never);
          const found = view.steps.filter((s) => s.grade === "bad").map((s) => s.id);
          const at = `${procedure.id} with ${[...bad].join(", ")} bad: ${view.verdict?.words}`;
          if (found.length > 0) expect(view.verdict?.sound ?? false, at).to.equal(false);
          if (view.steps.every((s) => s.status === "done" || s.status === "left out")) expect(view.verdict, at).not.to.equal(undefined);
          walked++;
        }
      }
      expect(walked).to.be.above(name === "brigg" ? 0 : 300);
      if (name === "brigg") expect(done.size).to.equal(PROCEDURES.length);
    });
});

const RELAY = (feed: string, ground: string): Harness =>
  circuitOf(`circuit "A relay"
BAT(12.6V)
G1("frame")
SW1(switch "horn button")
G1 -- BK 16mm2 0.5m -- BAT
BAT -- RD 4mm2 0.5m -- F1(15A) -- RD 1.5mm2 1m -- S1
S1 -- RD 1.5mm2 1m -- R1(relay).30
S1 -- RD 0.5mm2 1m -- SW1 -- YE 0.5mm2 1m -- R1.${feed}
R1.${ground} -- BK 0.5mm2 1m -- G1
R1.87 -- GN 1.5mm2 2m -- L1(lamp 55W) -- BK 1.5mm2 1m -- G1`);

describe("a relay", () => {
  for (const [feed, ground] of [
    ["86", "85"],
    ["85", "86"],
  ] as const)
    it(`fed at ${feed} is measured from its feed end as drawn, and is not condemned for want of a feed`, () => {
      const harness = RELAY(feed, ground);
      const setting = settingFor(harness, "R1");
      const { steps } = named("relay").plan(setting);
      expect(steps.find((s) => s.id === "coil feed")!.test.observe).to.deep.include({ red: `R1.${feed}` });
      const wire = harness.wires.find((w) => w.to.component === "R1" && w.to.pin === feed)!.id;
      // The feed of the coil is open: 0 V everywhere on it.
      const evidence = steps.map((s) => say(s, shownBy(harness, s.test, [{ kind: "open", link: wire }])));
      const { verdict } = runProcedure(named("relay"), setting, evidence);
      expect(verdict).to.deep.include({ sound: false, points: [wire] });
    });
});

describe("a fuse", () => {
  it("is measured on the side where its supply comes in, whichever number that has, and is not called sound when only the load side is live", () => {
    const turned = circuitOf(`circuit "A fuse the other way round"
BAT(12.6V)
G1("frame")
G1 -- BK 16mm2 0.5m -- BAT
BAT -- RD 4mm2 0.5m -- F1(15A).2
F1.1 -- RD 1.5mm2 1m -- L1(lamp 21W) -- BK 1.5mm2 1m -- G1`);
    const setting = settingFor(turned, "F1");
    const { steps } = named("fuse-sides").plan(setting);
    expect(steps[0]!.test.observe).to.deep.include({ red: "F1.2" });
    const live: Result = { kind: "value", value: 14.1 };
    const evidence = [
      say(steps[0]!, { kind: "value", value: 0 }),
      say(steps[1]!, live),
      say(steps[3]!, { kind: "word", word: "as it should be" }),
    ];
    const { verdict } = runProcedure(named("fuse-sides"), setting, evidence);
    expect(verdict?.sound).to.equal(false);
    expect(verdict?.words).to.match(/load side is live/);
  });
});

describe("what a step says", () => {
  it("names its state in words of the trade, and cranking always carries its caution", () => {
    const gritter = vehicleOf("gritter");
    let cranked = 0;
    for (const { procedure, targets } of offersFor(gritter))
      for (const s of runProcedure(procedure, settingFor(gritter, targets[0]!.element), []).steps) {
        expect(s.state, s.does).to.match(/^key \w+, engine /);
        expect(s.state, s.does).not.to.match(/\bopen\b/);
        if (s.test.state.engine !== "cranking") continue;
        cranked++;
        expect(s.cautions.join(" "), s.does).to.match(/engine will turn/);
      }
    expect(cranked).to.be.above(5);
  });
  it("has the key off before anything is unplugged with the key on", () => {
    for (const name of ["gritter", "ouse"]) {
      const harness = vehicleOf(name);
      for (const { procedure, targets } of offersFor(harness)) {
        const { steps } = procedure.plan(settingFor(harness, targets[0]!.element));
        for (const s of steps)
          if (
            s.test.state.opened.some((id) => harness.components.find((c) => c.id === id)?.kind !== "fuse") &&
            s.test.state.key === "run" &&
            /unplug/i.test(s.does)
          )
            expect(s.does, procedure.id).to.match(/key (off|on)/i);
      }
    }
  });
});

describe("a drain", () => {
  it("is found on whichever of two negative cables it comes back, and in whichever direction the clamp is put", () => {
    const harness = circuitOf(`circuit "Two negative cables"
BAT(12.6V)
G1("frame")
G2("engine")
G1 -- W1 BK 16mm2 0.5m -- BAT
G2 -- W2 BK 35mm2 1m -- BAT
BAT -- RD 4mm2 0.5m -- F1(15A) -- RD 1.5mm2 1m -- L1(lamp 21W) -- BK 1.5mm2 1m -- G1
BAT -- RD 4mm2 0.5m -- F2(15A) -- RD 1.5mm2 1m -- SW1(switch) -- RD 1.5mm2 1m -- L2(lamp 21W) -- BK 1.5mm2 1m -- G2`);
    const setting = settingFor(harness, "BAT");
    const step = named("parasitic-drain")
      .plan(setting)
      .steps.find((s) => s.id === "drain")!;
    expect(step.test.observe).to.deep.equal({ kind: "amps", around: "BAT" });
    // 12.6 V over 63 Ω from the second lamp's feed to the engine's ground: 0.2 A through W2, none through W1.
    const shown = shownBy(harness, { ...step.test, state: { ...step.test.state, opened: ["L1"] } }, [
      { kind: "across", from: "F2.1", to: "G2", ohms: 63 },
    ]);
    expect(shown.kind === "value" && Math.abs(shown.value)).to.be.closeTo(0.2, 0.01);
    for (const value of [0.2, -0.2]) {
      const evidence = [say(step, { kind: "value", value })];
      expect(runProcedure(named("parasitic-drain"), setting, evidence).steps.find((s) => s.id === "drain")!.grade).to.equal("bad");
    }
  });
});
