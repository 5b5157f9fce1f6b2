import { expect } from "chai";
import type { JobView } from "@rheonom/core/job";
import { isOfFoot, turnsTo, type Focus } from "./by-itself.ts";
import { NO_INSTRUMENT, reduceInstrument, type InstrumentAction, type InstrumentState } from "./instrument-line.ts";
import { leadsOfMeter, liveReading } from "./live-reading.ts";
import type { Told } from "./port.ts";
import { openSerialPort, type SerialForm } from "./serial-port.ts";
import { mayTake, waitingFrom, withSample } from "./take-when-steady.ts";

const reading = (value: number, atMs: number, of: "volts" | "ohms" = "volts"): InstrumentAction => ({
  type: "reading",
  function: of,
  said: Number.isFinite(value) ? { kind: "value", value } : { kind: "over" },
  atMs,
});
const connected = (): InstrumentState =>
  [
    { type: "connecting", via: "network", stated: { inputOhms: 1e6, accuracyPercent: 2 } } as const,
    { type: "connected", what: "meter", name: "M1", atMs: 0 } as const,
    { type: "turned", to: "volts" } as const,
  ].reduce(reduceInstrument, NO_INSTRUMENT);
const still = (value: number, of: "volts" | "ohms" = "volts"): InstrumentState =>
  Array.from({ length: 10 }, (_, i) => reading(value, 100 * i, of)).reduce(
    (s: InstrumentState, a) => reduceInstrument(s, a),
    reduceInstrument(connected(), { type: "turned", to: of }),
  );
const acts = (foot: string): readonly Focus[] =>
  (["reading", "field", "control", "nowhere"] as const).filter((focus) => isOfFoot(foot, foot, focus));
const noChecks: Pick<JobView, "meterChecks"> = { meterChecks: [] };

describe("the line to an instrument, as a screen sees it", () => {
  it("keeps nothing of before its leads were put elsewhere, or it was turned", () => {
    const s = still(12.6);
    expect(s.samples).to.have.lengthOf(10);
    expect(reduceInstrument(s, { type: "moved" })).to.deep.include({ said: undefined, samples: [] });
    const turned = reduceInstrument(s, { type: "turned", to: "ohms" });
    expect(reduceInstrument(turned, reading(12.6, 2000)), "what was measured before it was turned").to.equal(turned);
  });
  it("turns a real meter to amps only once somebody has said that its leads are off", () => {
    expect(turnsTo("amps", false, "network", false)).to.equal(undefined);
    expect(turnsTo("amps", false, "serial", false)).to.equal(undefined);
    expect(turnsTo("amps", false, "network", true)).to.equal("amps");
    expect(turnsTo("amps", false, "simulated", false)).to.equal("amps");
    expect(turnsTo("volts", false, "network", false)).to.equal("volts");
    expect(turnsTo("volts", true, "network", false)).to.equal(undefined);
  });
  it("leaves what is typed to the field or button that has the focus", () => {
    expect(acts("F9")).to.deep.equal(["reading", "field", "control", "nowhere"]);
    expect(acts("PageDown")).to.deep.equal(["reading", "field", "control", "nowhere"]);
    expect(acts("1")).to.deep.equal(["control", "nowhere"]);
    expect(acts(" ")).to.deep.equal(["reading", "nowhere"]);
    expect(acts("Enter")).to.deep.equal(["reading", "nowhere"]);
    expect(acts("ArrowLeft")).to.deep.equal(["nowhere"]);
    expect(isOfFoot("F8", "F9", "nowhere")).to.equal(false);
  });
  it("holds no value when the meter has none, or is lost in mid-reading", () => {
    const none = reduceInstrument(still(12.6), { type: "reading", function: "volts", said: { kind: "none" }, atMs: 1000 });
    expect(liveReading(none, "volts", noChecks)).to.deep.include({ text: "no reading", kept: undefined });
    const lost = reduceInstrument(still(12.6), { type: "lost", message: "It is gone.", atMs: 1000 });
    expect(lost).to.deep.include({ status: "none", said: undefined, samples: [], trouble: "It is gone." });
    expect(liveReading(lost, "volts", noChecks)).to.equal(undefined);
  });
  it("shows what is kept: steady by its middle, OL on ohms alone, the leads taken off as they were tested", () => {
    expect(liveReading(still(12.6), "volts", noChecks)!.kept).to.deep.equal({
      text: "12.60 V",
      shown: { kind: "value", quantity: "volts", value: 12.6 },
      // The owner states ±2 %, which counts; the usual 0.5 % is reckoned with anyway.
      meter: { name: "M1", accuracyPercent: 2 },
    });
    expect(liveReading(still(Infinity), "volts", noChecks)!.kept, "OL on volts is no result").to.equal(undefined);
    expect(liveReading(still(Infinity, "ohms"), "ohms", noChecks)!.kept!.shown).to.deep.equal({ kind: "over", quantity: "ohms" });
    const check = (leadsOhms: number) => ({
      id: "c",
      at: "",
      by: "",
      struck: undefined,
      data: { meter: "M1", leadsOhms, nominalVolts: 12 },
    });
    const nulled = liveReading(still(0.7, "ohms"), "ohms", { meterChecks: [check(0.2)] })!;
    expect(nulled.kept!.shown.kind === "value" && nulled.kept!.shown.value).to.be.closeTo(0.5, 1e-9);
    expect(nulled.kept!.meter).to.deep.equal({ name: "M1", nulledOhms: 0.2, accuracyPercent: 2 });
    expect(nulled.text).to.equal("0.5 Ω");
    const bad = liveReading(still(5.7, "ohms"), "ohms", { meterChecks: [check(5)] })!;
    expect(bad.text, "leads of 5 Ω are a fault, and nothing to take off").to.equal("5.7 Ω");
    expect(leadsOfMeter({ quantity: "volts", red: "A", black: "B" }, 1e6)).to.have.property("inputOhms", 1e6);
    expect(leadsOfMeter({ quantity: "volts", red: "A", black: "B" }, 10e6)).to.not.have.property("inputOhms");
  });
});

describe("a reading that is taken by itself", () => {
  const after = (before: number | undefined, values: readonly number[], of: "volts" | "ohms" = "volts") =>
    values.reduce((w, v) => withSample(w, v, of), waitingFrom(before));
  const steady = (value: number) => ({ kind: "steady", value }) as const;
  it("is one that the meter has come to since the leads were to go there", () => {
    expect(mayTake(after(0.001, [0.001, 0.002]), steady(0.001), "volts")).to.equal(false);
    expect(mayTake(after(0.001, [0.001, 12.6, 12.6]), steady(12.6), "volts")).to.equal(true);
    // From one end of a good wire to the other: the same value, but the lead was lifted between.
    expect(mayTake(after(12.6, [12.6, 0.002, 12.6]), steady(12.6), "volts")).to.equal(true);
    expect(mayTake(after(12.6, [12.6, 12.61, 12.6]), steady(12.6), "volts")).to.equal(false);
  });
  it("is never what hanging leads would show, and never one that moves", () => {
    expect(mayTake(after(12.6, [0.002, 0.002]), steady(0.002), "volts")).to.equal(false);
    expect(mayTake(after(3, [Infinity]), steady(Infinity), "ohms")).to.equal(false);
    expect(mayTake(after(Infinity, [0.3]), steady(0.3), "ohms")).to.equal(true);
    expect(mayTake(after(0, [12]), { kind: "unsteady", low: 3, high: 12 }, "volts")).to.equal(false);
  });
});

/** A serial port whose other end is a function of what is sent. */
function fakePort(answer: (message: string, say: (text: string) => void) => void) {
  let say: (text: string) => void = () => undefined;
  let cut: () => void = () => undefined;
  const bytes = (text: string): Uint8Array => Uint8Array.from(text, (c) => c.charCodeAt(0));
  let isClosed = false;
  const readable = new ReadableStream<Uint8Array>({
    cancel: () => void (isClosed = true),
    start: (to) => {
      say = (text) => {
        if (!isClosed) to.enqueue(bytes(text));
      };
      cut = () => to.error(new Error("unplugged"));
    },
  });
  const writable = new WritableStream<Uint8Array>({ write: (chunk) => answer(String.fromCharCode(...chunk).trim(), say) });
  const opened: number[] = [];
  const port = {
    open: ({ baudRate }: { readonly baudRate: number }) => Promise.resolve(void opened.push(baudRate)),
    close: () => Promise.resolve(),
    readable,
    writable,
  };
  return { port, opened, say: (text: string) => say(text), cut: () => cut() };
}
async function serial(form: Partial<SerialForm>, answer: (message: string, say: (text: string) => void) => void = () => undefined) {
  const fake = fakePort(answer);
  const told: Told[] = [];
  const port = await openSerialPort(fake.port, { baudRate: 9600, pattern: "", ask: "", ...form }, (t) => told.push(t));
  const until = async (is: (t: Told) => boolean): Promise<Told> => {
    for (let i = 0; i < 4000; i++) {
      const found = told.find(is);
      if (found !== undefined) return found;
      await new Promise((done) => setTimeout(done, 5));
    }
    throw new Error(`it was not told, but ${JSON.stringify(told)}`);
  };
  return { ...fake, instrument: port, told, until };
}

describe("a meter on a serial line", () => {
  it("is asked in SCPI", async () => {
    const { instrument, until, opened } = await serial({ baudRate: 19200 }, (m, say) => {
      if (m === "*IDN?") say("Nobody,M,1,0\n");
      else if (m === "SYST:ERR?") say('0,"No error"\n');
      else if (m === "READ?") setTimeout(() => say("+1.26E1\n"), 5);
    });
    expect(opened).to.deep.equal([19200]);
    expect(await until((t) => t.type === "connected")).to.deep.include({ name: "Nobody M 1" });
    instrument.read("volts");
    expect(await until((t) => t.type === "reading")).to.deep.equal({
      type: "reading",
      function: "volts",
      said: { kind: "value", value: 12.6 },
    });
    instrument.close();
  });
  it("is heard by a pattern: not the first line, which may be cut, and not another quantity's", async () => {
    const { instrument, until, told, say } = await serial({ pattern: "{value} {unit}" });
    await until((t) => t.type === "connected");
    instrument.read("volts");
    say("2.61 V\r\n12.");
    say("61 V\r\n");
    expect(await until((t) => t.type === "reading")).to.deep.include({ said: { kind: "value", value: 12.61 } });
    say("4.7 kOhm\r\n");
    expect(await until((t) => t.type === "reading" && t.said.kind === "odd")).to.deep.include({
      said: { kind: "odd", text: "the meter is set to ohms" },
    });
    expect(told.filter((t) => t.type === "reading")).to.have.lengthOf(2);
    for (let i = 0; i < 5; i++) say("hello\r\n");
    expect(await until((t) => t.type === "says"))
      .to.have.property("text")
      .that.contains("hello");
    instrument.close();
  });
  it("says so when its plug is pulled, or the pattern is no good", async () => {
    const { instrument, until, cut } = await serial({ pattern: "{value}" });
    instrument.read("volts");
    cut();
    expect(await until((t) => t.type === "lost"))
      .to.have.property("message")
      .that.contains("Is the plug in?");
    const refused = await serial({ pattern: "{volts}" }).catch((error: unknown) => error);
    expect(refused).to.be.instanceOf(Error).with.property("message").that.contains("{volts}");
  });
});
