import { expect } from "chai";
import { fromLatin1 } from "../bytes/index.ts";
import { chanceOf } from "../test/chance.ts";
import {
  answerParts,
  createScpiClient,
  createScpiFramer,
  isHeader,
  lineReader,
  METER_WORDS,
  parseProgram,
  readMeter,
  readNumber,
  recordScope,
  samplesOf,
  SCOPE_WORDS,
  ScpiError,
  writeNumber,
  type ScpiAnswer,
  type ScpiClient,
} from "./index.ts";

const MOST = 1000;
const textsOf = (answers: readonly ScpiAnswer[]): readonly string[] =>
  answers.map((a) => (a.kind === "text" ? a.text : a.kind === "block" ? `block ${[...a.bytes].join(" ")}` : `fault ${a.why}`));

describe("SCPI answers", () => {
  it("come out whole wherever the stream is cut in three, newlines within blocks too", () => {
    // Two blocks by the rules of IEEE 488.2, 8.7.9: "#", how many digits, so many digits, so many bytes; the second ends with CR LF.
    const stream = fromLatin1('+1.26E+01\n#15\n\r#0;\n0,"No error"\r\n#203abc\r\n');
    const whole = ["+1.26E+01", "block 10 13 35 48 59", '0,"No error"', "block 97 98 99"];
    for (let a = 0; a <= stream.length; a++)
      for (let b = a; b <= stream.length; b++) {
        const framer = createScpiFramer(MOST);
        const found = [stream.subarray(0, a), stream.subarray(a, b), stream.subarray(b)].flatMap((c) => textsOf(framer.push(c)));
        expect(found).to.deep.equal(whole);
      }
  });
  it("are refused as soon as their head says too much, and nothing after them is taken", () => {
    for (const [head, why] of [
      ["#9999999999", "block too long"],
      ["#41001", "block too long"],
      ["#0abc\n", "block head"],
      ["#2x1", "block head"],
      ["#13abcX\n", "block head"],
    ] as const) {
      const framer = createScpiFramer(MOST);
      expect(textsOf(framer.push(fromLatin1(head)))).to.deep.equal([`fault ${why}`]);
      expect(framer.push(fromLatin1("1\n"))).to.deep.equal([]);
    }
    // A number to base 16 is no block, though it begins like one.
    expect(textsOf(createScpiFramer(MOST).push(fromLatin1("#H1F\n")))).to.deep.equal(["#H1F"]);
  });
  it("never throw for what comes, whatever it is", () => {
    const chance = chanceOf(7);
    for (let round = 0; round < 300; round++) {
      const framer = createScpiFramer(MOST);
      const bytes = Uint8Array.from({ length: 60 }, () =>
        chance() < 0.4 ? "#0123\n"[Math.floor(chance() * 6)]!.charCodeAt(0) : Math.floor(chance() * 256),
      );
      for (let at = 0; at < bytes.length; at += 7) framer.push(bytes.subarray(at, at + 7));
    }
  });
});

describe("SCPI numbers", () => {
  it("are read in every form, and over and none are no values", () => {
    const read = (text: string): unknown => {
      const n = readNumber(text);
      return n === undefined ? undefined : n.kind === "value" ? n.value : n.kind === "over" ? `over ${n.sign}` : "none";
    };
    expect(["12", "+12.31", "-.5", "1.2E+3", "1.2 E -3", "#H1F", "#B101"].map(read)).to.deep.equal([12, 12.31, -0.5, 1200, 0.0012, 31, 5]);
    expect(["9.9E37", "-9.90000000E+37", "INF", "1E38", "9.91E37", "NAN"].map(read)).to.deep.equal([
      "over 1",
      "over -1",
      "over 1",
      "over 1",
      "none",
      "none",
    ]);
    expect(["", "12,3", "12 V", "0x12", "1e", "#Hxyz", "--1"].map(read)).to.deep.equal(Array.from({ length: 7 }));
    for (const value of [0, -0.0123456789, 12.61, 4.7e6, 1e-12]) {
      const back = readNumber(writeNumber({ kind: "value", value }));
      expect(back?.kind === "value" ? back.value : NaN).to.be.closeTo(value, 1e-8 * Math.abs(value));
    }
  });
});

describe("SCPI messages", () => {
  const headers = (text: string): readonly string[] =>
    parseProgram(text).map((p) =>
      p.kind === "bad"
        ? `bad ${p.text}`
        : `${p.command.header.join(":")}${p.command.isQuery ? "?" : ""} ${p.command.parameters.join("|")}`.trim(),
    );
  it("go on after a semicolon where the last header ended", () => {
    expect(headers(':SENS:SWE:TIME 1E-3;POIN 100;*OPC?;TINT?;:trac? "CH1"')).to.deep.equal([
      "SENS:SWE:TIME 1E-3",
      "SENS:SWE:POIN 100",
      "*OPC?",
      "SENS:SWE:TINT?",
      "TRAC? CH1",
    ]);
    expect(headers('DISP "a;b, ""c""",2; ;;')).to.deep.equal(['DISP a;b, "c"|2']);
    expect(headers("12?;:")).to.deep.equal(["bad 12?", "bad :"]);
  });
  it("fit their pattern in the short and the long form, and in no other", () => {
    const fits = (text: string): boolean => isHeader("MEASure[:VOLTage][:DC]", text.split(":"));
    expect(["MEAS", "MEASURE", "MEAS:VOLT", "MEASURE:VOLT:DC", "MEAS:DC"].every(fits)).to.equal(true);
    expect(["MEASU", "MEAS:CURR", "MEAS:DC:VOLT", "MEAS:VOLT:VOLT", ""].some(fits)).to.equal(false);
    expect(isHeader("[SENSe]:SWEep:TIME", ["SWE", "TIME"])).to.equal(true);
  });
  it("have parts between commas outside quotes", () => {
    expect(answerParts('-113,"Undefined header; a, b"')).to.deep.equal(["-113", "Undefined header; a, b"]);
  });
});

/** A line whose other end is a function; times run by hand. */
function lineTo(answer: (message: string) => readonly string[]) {
  const timers = new Set<() => void>();
  const sent: string[] = [];
  let isClosed = false;
  const client: ScpiClient = createScpiClient(
    {
      send: (bytes) => {
        const message = String.fromCharCode(...bytes).trimEnd();
        sent.push(message);
        queueMicrotask(() => answer(message).forEach((piece) => client.receive(fromLatin1(piece))));
      },
      close: () => (isClosed = true),
      later: (_ms, then) => {
        timers.add(then);
        return () => void timers.delete(then);
      },
    },
    MOST,
  );
  const expire = (): void => [...timers].forEach((t) => t());
  return { client, sent, expire, isClosed: () => isClosed };
}
const failureOf = (asked: Promise<unknown>): Promise<unknown> =>
  asked.then(
    () => "answered",
    (e: unknown) => (e instanceof ScpiError ? e.failure : e),
  );
const turn = (): Promise<void> => new Promise((done) => setTimeout(done));

describe("the asking end of a line", () => {
  it("waits for each answer before it asks again", async () => {
    const { client, sent } = lineTo((m) => (m === "A?" ? ["1", "\n"] : ["2\n"]));
    const both = [client.ask("A?"), client.ask("B?")];
    expect(await Promise.all(both)).to.deep.equal([
      { kind: "text", text: "1" },
      { kind: "text", text: "2" },
    ]);
    expect(sent).to.deep.equal(["A?", "B?"]);
  });
  it("closes when an answer is late, so that none is taken for another's", async () => {
    const { client, expire, isClosed } = lineTo(() => []);
    const asked = failureOf(client.ask("READ?", 500));
    await turn();
    expire();
    expect(await asked).to.deep.equal({ kind: "late", ms: 500 });
    expect(isClosed()).to.equal(true);
    expect(await failureOf(client.ask("READ?"))).to.deep.equal({ kind: "late", ms: 500 });
    client.receive(fromLatin1("12.6\n"));
  });
  it("closes at an answer to no question, at a block without end, and when the line is gone", async () => {
    const twice = lineTo(() => ["1\n2\n"]);
    expect(await failureOf(twice.client.ask("A?"))).to.equal("answered");
    expect(twice.isClosed()).to.equal(true);
    const huge = lineTo(() => ["#99", "99999999"]);
    expect(await failureOf(huge.client.ask("A?"))).to.deep.equal({ kind: "unreadable", why: "block too long, 999999999 bytes" });
    const gone = lineTo(() => []);
    const asked = failureOf(gone.client.ask("A?"));
    await turn();
    gone.client.closed();
    expect(await asked).to.deep.equal({ kind: "closed" });
  });
  it("gives an answer in pieces its time anew, but not for ever", async () => {
    const slow = lineTo(() => []);
    const asked = failureOf(slow.client.ask("A?", 100));
    await turn();
    for (let i = 0; i < 30; i++) slow.client.receive(fromLatin1("1"));
    slow.expire();
    expect(await asked).to.deep.equal({ kind: "late", ms: 100 });
  });
  it("tells a value, over, none and nonsense of a meter apart", async () => {
    const answers = ["+1.261E+01,+0", "9.9E+37", "9.91E37", "hello", "#13abc"];
    const { client } = lineTo(() => [`${answers.shift()!}\n`]);
    const said: unknown[] = [];
    for (let i = 0; i < 5; i++) said.push(await readMeter(client, METER_WORDS));
    expect(said).to.deep.equal([
      { kind: "value", value: 12.61 },
      { kind: "over" },
      { kind: "none" },
      { kind: "odd", text: "hello" },
      { kind: "odd", text: "a block of bytes" },
    ]);
  });
});

describe("a scope's samples", () => {
  // 1.0, -2.5 and 9.9E37 as IEEE 754 singles, least significant byte first: 3F800000, C0200000, 7E94F56A.
  const swapped = Uint8Array.from([0, 0, 0x80, 0x3f, 0, 0, 0x20, 0xc0, 0x6a, 0xf5, 0x94, 0x7e]);
  it("are read from floats and integers of both orders, over is no value", () => {
    expect(samplesOf(swapped, "real32", false)).to.deep.equal({ kind: "samples", values: Float32Array.from([1, -2.5, NaN]) });
    expect(samplesOf(Uint8Array.from([0xff, 0x9c, 0x00, 0x64]), "int16", true, 0.01, 5)).to.deep.equal({
      kind: "samples",
      values: Float32Array.from([4, 6]),
    });
    expect(samplesOf(Uint8Array.from([0x80, 0x7f]), "int8", false)).to.deep.equal({
      kind: "samples",
      values: Float32Array.from([-128, 127]),
    });
    expect(samplesOf(swapped.subarray(0, 5), "real32", false)).to.include({ kind: "odd" });
  });
  it("come with their distance; channels of two lengths are refused", async () => {
    const block = `#212${String.fromCharCode(...swapped)}`;
    const answer = (m: string): readonly string[] =>
      m.startsWith("TRAC")
        ? [`${m.endsWith("3") ? "1,2" : block}\n`]
        : m === "*OPC?"
          ? ["1\n"]
          : m.endsWith("TINT?")
            ? ["2E-6\n"]
            : m === "SYST:ERR?"
              ? ['0,"No error"\n']
              : [];
    const { client, sent } = lineTo(answer);
    const ask = { seconds: 0.006, points: 3 };
    const good = await recordScope(client, SCOPE_WORDS, { channels: [1, 2], ...ask });
    expect(good).to.deep.include({ kind: "recorded", intervalS: 2e-6 });
    expect(sent).to.include("SENS:SWE:TIME 6.000000e-3").and.to.include("SENS:SWE:POIN 3").and.to.include("TRAC:DATA? CH2");
    expect(await recordScope(client, SCOPE_WORDS, { channels: [1, 3], ...ask })).to.deep.equal({
      kind: "odd",
      why: "channel 3 has 2 samples, the first has 3",
    });
  });
  it("are not asked for when the scope objects", async () => {
    const { client, sent } = lineTo((m) => (m === "SYST:ERR?" ? ['-222,"Data out of range"\n'] : []));
    expect(await recordScope(client, SCOPE_WORDS, { channels: [1], seconds: 1, points: 5 })).to.deep.equal({
      kind: "odd",
      why: "the scope objects: -222, Data out of range",
    });
    expect(sent).to.not.include("INIT");
  });
});

describe("lines of a meter that sends by itself", () => {
  const reading = (pattern: string, line: string): unknown => {
    const made = lineReader(pattern, "volts");
    if (made.kind === "bad") return made.why;
    const read = made.read(line);
    return read === undefined
      ? undefined
      : read.said.kind === "value"
        ? `${read.said.value} ${read.quantity}`
        : `${read.said.kind} ${read.quantity}`;
  };
  it("are read by a stated pattern", () => {
    expect(reading("{value} {unit}", "  +12.31 V\r")).to.equal("12.31 volts");
    expect(reading("{value}{unit}", "440mV")).to.equal("0.44 volts");
    expect(reading("DC {value} {unit} {any}", "DC -0,44 V AUTO 12%")).to.equal("-0.44 volts");
    expect(reading("{value} {unit}", "4.7 kΩ")).to.equal("4700 ohms");
    expect(reading("{value} {unit}", "4.7 MΩ")).to.equal("4700000 ohms");
    expect(reading("{value} {unit}", "0.L kOhm")).to.equal("over ohms");
    expect(reading("{value}", "1.2E-3")).to.equal("0.0012 volts");
    for (const [pattern, line] of [
      ["{value} {unit}", "12.31 furlongs"],
      ["DC {value}", "AC 12.31"],
      ["{value}", "12.31 V"],
      ["{value}", "x".repeat(10_000)],
    ] as const)
      expect(reading(pattern, line)).to.equal(undefined);
  });
  it("want a pattern that makes sense", () => {
    expect(reading("{unit}", "V")).to.contain("{value}");
    expect(reading("{volts}", "V")).to.contain("{volts} is not known");
    expect(reading("{any}{any}{any}{value}", "V")).to.contain("two {any}");
  });
  it("are let go at once where they do not fit, however they are made", () => {
    const made = lineReader("a {any} b {any} {value} {unit}", "volts");
    expect(made.kind === "reader" && made.read(`a ${"b ".repeat(99)}`)).to.equal(undefined);
  });
});
