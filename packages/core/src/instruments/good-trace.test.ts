import { expect } from "chai";
import { readFileSync } from "node:fs";
import { type Fault, REST_STATE, type VehicleState } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { parseNotation } from "../notation/index.ts";
import { circuitOf, rig } from "../test/circuits.ts";
import { amplitudeAt, judgeTrace, KICK_SHARE, longestPause, measure, type SeenTrace } from "../waveform/index.ts";
import { goodTraces, throughScope } from "./good-trace.ts";
import { predictReading } from "./predict.ts";
import { predictTraces, type Probe, type Recording } from "./scope.ts";

const run: VehicleState = { ...REST_STATE, key: "run" };
const idling: VehicleState = { ...run, engine: "idling" };
/** Numbers from 0 to below 1, the same ones every time. */
function chances(): () => number {
  let seed = 12345;
  return () => (seed = (seed * 16807) % 2147483647) / 2147483647;
}
const at = (red: string, black = "BAT.-"): Probe => ({ at: { red, black }, probe: 10 });

/** What is said of a place with a fault, its recording gone through a scope. */
function said(h: Harness, state: VehicleState, faults: readonly Fault[], probe: Probe, recording: Recording, factor = 1): string {
  const good = goodTraces(h, state, [], [probe], recording);
  const traces = predictTraces(h, state, faults, [probe], recording);
  if ("kind" in good || traces.kind !== "traces") throw new Error("unsolved");
  const samples = throughScope(traces.channels[0]!, chances()).map((v) => v * factor);
  const rate = 1 / recording.resolutionS;
  const measures = measure(samples, rate, 0, samples.length, KICK_SHARE);
  const pause = longestPause(samples, rate, measures);
  const hertz = good[0]!.alternatorHertz;
  const seen: SeenTrace = {
    measures,
    pause: pause === undefined ? undefined : { startS: pause.at / rate, seconds: pause.seconds },
    ripple: hertz === undefined ? undefined : { own: amplitudeAt(samples, rate, hertz), sixth: amplitudeAt(samples, rate, 6 * hertz) },
  };
  return judgeTrace(good[0]!, seen)
    .map((f) => `${f.isGood ? "+" : "-"} ${f.words}`)
    .join(" ");
}

describe("a command that pulses, judged at both ends of its wire", () => {
  // A module's output, 69 % at 120 Hz, over a wire into another's input of 4.7 kΩ to ground.
  const h = circuitOf(`
BAT(13.6V 10mohm) -- W1 RD 2.5mm2 1m -- S1
S1 -- W2 RD 1mm2 1m -- ECM.1(module pins={"1":{"sort":"supply"},"2":{"sort":"ground"},"6":{"sort":"high","duty":0.69,"hertz":120}} rules=[{"pin":"6","when":{"key":["run"]}}])
S1 -- W3 RD 1mm2 1m -- PMP.1(module pins={"1":{"sort":"supply"},"2":{"sort":"ground"},"5":{"sort":"input","pull":"down","pullOhms":4700}})
ECM.6 -- W4 GN 0.5mm2 1m -- C1.1 -- W5 GN 0.5mm2 2m -- PMP.5
ECM.2 -- W6 BN 1.5mm2 0.5m -- G1
PMP.2 -- W7 BN 1.5mm2 0.5m -- G1
G2 -- W8 BK 25mm2 0.5m -- BAT
`);
  const recording = { seconds: 0.1, resolutionS: 1e-5 };
  const bad: Fault[] = [{ kind: "series", link: "C1.1", ohms: 20_000 }];
  it("is good all over where nothing is wrong", () => {
    const words = said(h, run, [], at("PMP.5"), recording);
    expect(words).not.to.contain("- ");
    expect(words).to.match(/High for 69 % of the time, as commanded/);
    expect(words).to.match(/120 Hz, as commanded/);
  });
  it("has the same duty and a lower amplitude behind a bad joint, and is good before it", () => {
    const behind = said(h, run, bad, at("PMP.5"), recording);
    // On, 4.7 kΩ of 24.7 kΩ leave 2.59 V of 13.6 V. Off, the driver's bias of 5 V behind 100 kΩ leaves 0.22 V at a good one, 0.19 V here.
    expect(behind).to.match(/^- Amplitude 2\.(39|40)\sV of 13\.3\d\sV: its high level of 2\.5\d\sV does not reach 13\.\d+\sV/);
    expect(behind).to.contain("+ High for 69 % of the time, as commanded.");
    // Before it the driver's bias finds less to pull at: 5 V over 100 kΩ and 24.7 kΩ are 0.99 V. The amplitude is whole.
    expect(said(h, run, bad, at("C1.1a"), recording)).to.match(/^- Low level 0\.9[89]\d?\sV in place of 0\.22\d\sV\. \+ High/);
  });
  it("stands still behind an open, which is told with what should be there", () => {
    expect(said(h, run, [{ kind: "open", link: "W4" }], at("PMP.5"), recording)).to.match(
      /^- No pulses: it stands at .*mV\. Good: .* high for 69 % of the time, 120 Hz\./,
    );
  });
  it("with a probe told wrongly is asked for that and not called a fault", () => {
    const feed = at("S1");
    expect(said(h, run, [], feed, recording, 0.1)).to.equal("- This looks ten times too small: probe × 10?");
    expect(said(h, run, [], feed, recording, 10)).to.contain("ten times too large");
  });
  it("that fails for a while is told with when", () => {
    const good = goodTraces(h, run, [], [at("PMP.5")], recording);
    if ("kind" in good) throw new Error(good.kind);
    const seen = { measures: good[0]!.measures, pause: { startS: 12.3, seconds: 0.4 } };
    expect(judgeTrace(good[0]!, seen)[0]!.words).to.match(/^No pulse for 400\sms from 12\.3 s on\.$/);
  });
});

describe("an ignition coil's control", () => {
  const h = parseNotation(readFileSync(new URL("../../../../demo/vehicles/brigg.circuit", import.meta.url), "utf8")).harness!;
  const recording = { seconds: 0.2, resolutionS: 1e-5 };
  const open: Fault[] = [{ kind: "open", link: "C5.3" }];
  it("is judged by what it rests at and not by its kick; with its wire open the module pulls at nothing and the coil is not pulled", () => {
    const good = said(h, idling, [], at("IC3.1"), recording);
    expect(good).not.to.contain("- ");
    // 5 % dwell at 12 Hz: high for the rest of it.
    expect(good).to.contain("+ High for 95 % of the time, as commanded.");
    // While it is on, the current rises through the driver's 0.3 Ω to 9 A: its low level is where the dwell ends.
    expect(said(h, idling, open, at("ECM.I3"), recording)).to.match(
      /^- Amplitude 2\.\d+\sV of 1[01]\.\d+\sV: from .* to 2\.5\d*\sV in place of/,
    );
    expect(said(h, idling, open, at("IC3.1"), recording)).to.match(
      /^- No pulses: it stands at 14\.\d+\sV\. Good: .*, high for 95 % of the time, 12 Hz\./,
    );
  });
});

describe("ripple at the battery", () => {
  const h = rig("gritter-charging");
  const recording = { seconds: 0.1, resolutionS: 2e-5, delayS: 0.05 };
  it("is small with all diodes, and one that is lost is told by its frequency", () => {
    expect(said(h, idling, [], at("BAT.+"), recording)).to.contain("+ Ripple");
    expect(said(h, idling, [{ kind: "settings", component: "ALT", settings: { openDiodes: 1 } }], at("BAT.+"), recording)).to.match(
      /- Ripple .* once a turn of the alternator's field \(\d+ Hz\), as with a diode lost/,
    );
  });
  it("has the mean that a meter shows", () => {
    const traces = predictTraces(h, idling, [], [at("ALT.B+")], recording);
    const meter = predictReading(h, idling, [], { quantity: "volts", red: "ALT.B+", black: "BAT.-" });
    if (traces.kind !== "traces" || meter.kind !== "value") throw new Error("unsolved");
    const mean = traces.channels[0]!.reduce((sum, v) => sum + v, 0) / traces.channels[0]!.length;
    expect(mean / meter.value).to.be.closeTo(1, 0.01);
  });
});

describe("what moves where the probes are", () => {
  it("is told as by the whole circuit, on several channels at once", function () {
    const h = rig("gritter-charging");
    for (const state of [run, idling]) {
      const probes = [at("ALT.B+"), at("BAT.+"), { at: { around: "W1" }, probe: 10 } as const];
      const recording = { seconds: 0.02, resolutionS: 1e-5 };
      const [cut, whole] = [false, true].map((w) => predictTraces(h, state, [], probes, { ...recording, whole: w }));
      if (cut?.kind !== "traces" || whole?.kind !== "traces") throw new Error("unsolved");
      for (const k of probes.keys()) {
        const swing = Math.max(...whole.channels[k]!) - Math.min(...whole.channels[k]!);
        const worst = Math.max(...whole.channels[k]!.map((v, i) => Math.abs(v - cut.channels[k]![i]!)));
        expect(worst).to.be.below(0.01 * swing + 2e-3);
      }
    }
  });
  it("keeps the kick of a winding and what holds it", () => {
    const h = circuitOf(`
BAT(12V 10mohm) -- W1 RD 2.5mm2 1m -- S1
S1 -- W2 WH 1mm2 1m -- R1.86(relay coilOhms=80 suppression=none)
R1.85 -- W3 BU 1mm2 1m -- ECM.6
S1 -- W9 RD 1mm2 1m -- LA(lamp 21W) -- W10 BN 1mm2 1m -- G1
S1 -- W4 RD 1mm2 1m -- ECM.1(module pins={"1":{"sort":"supply"},"2":{"sort":"ground"},"6":{"sort":"low","duty":0.5,"hertz":20,"clampVolts":60}} rules=[{"pin":"6","when":{"key":["run"]}}])
ECM.2 -- W5 BN 1.5mm2 0.5m -- G1
G2 -- W6 BK 25mm2 0.5m -- BAT
`);
    const traces = predictTraces(h, run, [], [at("ECM.6"), at("S1")], { seconds: 0.2, resolutionS: 1e-5 });
    if (traces.kind !== "traces") throw new Error(traces.kind);
    expect(Math.max(...traces.channels[0]!)).to.be.within(58, 64);
    expect(Math.max(...traces.channels[1]!)).to.be.below(12.1);
  });
});

describe("a scope", () => {
  it("shows 12 bits of its range and a little noise, and no more than its range", () => {
    const shown = throughScope(new Float64Array(5000).fill(13.6), chances());
    const steps = new Set(shown);
    // 20 V either way in 4096 steps are 9.8 mV; noise of 4 mV spreads over a few of them.
    expect(steps.size).to.be.within(3, 6);
    expect(shown.reduce((sum, v) => sum + v, 0) / shown.length).to.be.closeTo(13.6, 2e-3);
    expect(Math.max(...throughScope(Float64Array.from([0, 2500]), chances()))).to.equal(2000);
  });
});
