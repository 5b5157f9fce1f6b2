import { expect } from "chai";
import { likelihood } from "../diagnosis/index.ts";
import { FAN, circuitOf, fanOn } from "../test/circuits.ts";
import { COMPLAINT, LogWriter } from "../test/log.ts";
import { foldJob } from "./fold.ts";
import { meterCheckFails, meterCheckWords, meterWords } from "./meter-check.ts";
import { evidenceOf } from "./question.ts";
import { readingsCsv } from "./readings-csv.ts";
import { buildReport } from "./report.ts";

const check = { meter: "M1", nominalVolts: 12 };

describe("a meter's test", () => {
  it("passes with good leads and a battery the right way round, and says what does not", () => {
    expect(meterCheckWords({ ...check, leadsOhms: 0.2, postVolts: 12.4 })).to.equal("self-test passed");
    expect(meterCheckWords({ ...check, leadsOhms: 0.2 })).to.equal("self-test passed in part: not tried at the battery");
    expect(meterCheckWords(check)).to.equal("self-test skipped");
    expect(meterCheckWords(undefined)).to.equal("self-test skipped");
    expect(meterCheckFails({ ...check, leadsOhms: "over" })[0]).to.contain("open");
    expect(meterCheckFails({ ...check, leadsOhms: 3.4 })[0]).to.contain("3.4 Ω");
    expect(meterCheckFails({ ...check, postVolts: -12.4 })).to.deep.equal(["negative at the battery: the leads are swapped"]);
    expect(meterCheckFails({ ...check, postVolts: 2.1 })[0]).to.contain("2.10 V at the battery");
    // Flat, and on charge: both are batteries.
    expect(meterCheckFails({ ...check, postVolts: 9 })).to.deep.equal([]);
    expect(meterCheckFails({ meter: "M1", nominalVolts: 24, postVolts: 28.8 })).to.deep.equal([]);
  });

  it("stands beside the readings that came after it, of that meter, until it is struck", () => {
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    log.add("circuit-set", { notation: FAN });
    const leads = { quantity: "volts", red: "FAN.1", black: "BAT.-" } as const;
    const read = (name: string | undefined): void =>
      void log.add("reading-taken", {
        leads,
        state: fanOn,
        load: "FAN",
        text: "11.9 V",
        shown: { kind: "value", quantity: "volts", value: 11.9 },
        ...(name === undefined ? { instrument: "typed" as const } : { instrument: "connected" as const, meter: { name } }),
      });
    read("M1");
    log.add("meter-checked", { ...check, leadsOhms: 0.2, postVolts: 12.4 });
    read("M1");
    read("M2");
    read(undefined);
    const failed = log.add("meter-checked", { ...check, leadsOhms: 5 });
    read("M1");
    const words = (): readonly string[] => foldJob(log.events)!.readings.map(meterWords);
    expect(words()).to.deep.equal([
      "M1, self-test skipped",
      "M1, self-test passed",
      "M2, self-test skipped",
      "",
      "M1, self-test failed: leads together read 5.0 Ω: a lead or its plug is bad",
    ]);
    const csv = readingsCsv(buildReport(foldJob(log.events)!, circuitOf(FAN), log.events[0]!.at));
    expect(csv.split("\n")[0]).to.contain("instrument,meter");
    expect(csv).to.contain('"M1, self-test passed"');
    log.add("struck", { target: failed.id, why: "another meter" });
    expect(words().at(-1)).to.equal("M1, self-test passed");
  });

  it("leaves what loads the circuit with the reading, for whoever weighs it", () => {
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    log.add("circuit-set", { notation: FAN });
    log.add("reading-taken", {
      leads: { quantity: "volts", red: "FAN.1", black: "BAT.-", inputOhms: 1e6 },
      state: { ...fanOn, opened: [] },
      load: "FAN",
      text: "6.00 V",
      shown: { kind: "value", quantity: "volts", value: 6 },
      instrument: "connected",
      meter: { name: "M1", accuracyPercent: 5 },
    });
    const view = foldJob(log.events)!;
    const { observe, result } = evidenceOf(view)[0]!;
    expect(observe).to.deep.equal({ kind: "volts", red: "FAN.1", black: "BAT.-", inputOhms: 1e6 });
    expect(meterWords(view.readings[0]!)).to.contain("stated ±5 %");
    // 5 % of 6 V: 0.3 V off is within what such a meter may be off, and far outside for the usual one.
    expect(result.kind === "value" && result.mayBeOff).to.be.closeTo(0.3, 1e-9);
    const chance = (of: typeof result, volts: number): number => likelihood(observe, of, { value: volts, low: volts, high: volts });
    const usual = { ...result, mayBeOff: undefined };
    expect(chance(result, 6.3) / chance(result, 6)).to.be.above(0.2);
    expect(chance(usual, 6.3) / chance(usual, 6)).to.be.below(0.05);
  });
});
