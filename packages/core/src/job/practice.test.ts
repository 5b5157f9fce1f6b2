import { expect } from "chai";
import { fanOn } from "../test/circuits.ts";
import { fan, tracedJob, viewOf } from "../test/fan-job.ts";
import { isAdvised } from "./practice-fold.ts";
import { minutesOfTests, minutesWorked } from "./practice-minutes.ts";

describe("a practice job in its log", () => {
  it("is advised on request alone, until the next finding, and once it is closed", () => {
    const log = tracedJob();
    expect(isAdvised(viewOf(log)), "a job of the shop").to.equal(true);
    log.add("practice-begun", { advice: "asked", clock: true, speaker: "" });
    expect(isAdvised(viewOf(log))).to.equal(false);
    log.add("advice-asked", { on: "next test" });
    expect(isAdvised(viewOf(log))).to.equal(true);
    log.read("11.9", "F1.2", { state: fanOn });
    expect(isAdvised(viewOf(log))).to.equal(false);
    log.add("hint-given", { text: "Measure with current flowing." });
    expect(viewOf(log).practice).to.deep.include({ asked: 1, hints: ["Measure with current flowing."] });
    log.add("job-closed", { safeToDrive: "no", advice: "", withoutProof: "given up" });
    expect(isAdvised(viewOf(log))).to.equal(true);
  });
  it("never is where advice is off, and always where it is on", () => {
    for (const advice of ["off", "on"] as const) {
      const log = tracedJob();
      log.add("practice-begun", { advice, clock: false, speaker: "" });
      log.add("practice-begun", { advice: "on", clock: true, speaker: "whoever would like some" });
      log.add("advice-asked", { on: "suspects" });
      expect(isAdvised(viewOf(log)), advice).to.equal(advice === "on");
    }
  });
  it("remembers what was found cranking before anybody had seen to it that the engine may turn", () => {
    const cranking = { ...fanOn, key: "crank", engine: "cranking" } as const;
    const log = tracedJob();
    log.add("practice-begun", { advice: "off", clock: true, speaker: "" });
    const part = { kind: "part", part: "FAN" } as const;
    log.add("seen", { state: cranking, observe: part, word: "none", wrong: true, source: "customer" });
    log.read("11.9", "F1.2", { state: fanOn });
    expect(viewOf(log).practice!.cranked, "the customer did, and nobody here").to.deep.equal([]);
    const early = log.read("10.4", "F1.2", { state: cranking });
    log.add("clear-to-crank", {});
    log.read("10.5", "F1.2", { state: cranking });
    expect(viewOf(log).practice!.cranked).to.deep.equal([early.id]);
    expect(viewOf(log).clearToCrank).to.include({ by: early.by });
  });
  it("takes minutes for its tests, and none for what the customer told", () => {
    const log = tracedJob();
    const atRest = minutesOfTests(fan, viewOf(log));
    // Four readings on one circuit: a minute each at least for moving the leads, less than ten in all.
    expect(atRest).to.be.within(1, 10);
    const told = (): void => {
      log.add("seen", { state: fanOn, observe: { kind: "part", part: "FAN" }, word: "none", wrong: true, source: "customer" });
    };
    told();
    const tests = minutesOfTests(fan, viewOf(log));
    // The vehicle stands as it was complained of: key and switch, a tenth of a minute each, are on already.
    expect(tests).to.be.closeTo(atRest - 0.2, 1e-9);
    told();
    expect(minutesOfTests(fan, viewOf(log))).to.equal(tests);
    // Nor does what is found while whoever teaches has stopped the clock.
    log.add("practice-begun", { advice: "off", clock: true, speaker: "" });
    log.add("clock-turned", { running: false });
    log.read("0.02", "FAN.2", { state: fanOn });
    expect(viewOf(log).practice).to.deep.include({ isStopped: true });
    expect(minutesOfTests(fan, viewOf(log))).to.equal(tests);
    log.add("clock-turned", { running: true });
    expect(viewOf(log).practice).to.include({ isStopped: false });
    log.read("0.01", "FAN.2", { state: fanOn });
    expect(minutesOfTests(fan, viewOf(log))).to.be.above(tests);
    // What is measured behind the repair verifies it.
    const before = minutesWorked(fan, viewOf(log));
    expect(before.verifying).to.equal(0);
    log.add("mend-made", { at: "W5", found: "broken", cause: "", method: "wire joined", done: "joined" });
    log.read("12.1", "FAN.1", { state: fanOn });
    const after = minutesWorked(fan, viewOf(log));
    expect(after.tests).to.equal(before.tests);
    expect(after.verifying).to.be.within(0.3, 3);
    expect(minutesOfTests(fan, viewOf(log))).to.equal(after.tests + after.verifying);
  });
});
