import { expect } from "chai";
import { chanceOf } from "../test/chance.ts";
import { bytesOf } from "../test/hex.ts";
import { createFramer, encodeDoip, readDatagram, vinBytes, type DoipMessage, type Framed } from "./index.ts";

const VIN = "0NLSKERR0WT000001";
const VIN_HEX = "30 4E 4C 53 4B 45 52 52 30 57 54 30 30 30 30 30 31";
const EID = "02 4E 4C 00 00 01";

/** Messages beside their bytes, written out field by field from ISO 13400-2. */
const PAIRS: readonly (readonly [DoipMessage, string])[] = [
  [{ type: "identify" }, "02 FD 00 01 00000000"],
  [{ type: "identify by vin", vin: vinBytes(VIN) }, `02 FD 00 03 00000011 ${VIN_HEX}`],
  [{ type: "identify by eid", eid: bytesOf(EID) }, `02 FD 00 02 00000006 ${EID}`],
  [
    { type: "announcement", vin: vinBytes(VIN), address: 0x1000, eid: bytesOf(EID), gid: bytesOf(EID), furtherAction: 0, sync: 0 },
    `02 FD 00 04 00000021 ${VIN_HEX} 1000 ${EID} ${EID} 00 00`,
  ],
  [{ type: "activate", source: 0x0e80, activation: 0 }, "02 FD 00 05 00000007 0E80 00 00000000"],
  [{ type: "activate", source: 0x0e80, activation: 1, oem: bytesOf("01020304") }, "02 FD 00 05 0000000B 0E80 01 00000000 01020304"],
  [{ type: "activated", tester: 0x0e80, entity: 0x1000, code: 0x10 }, "02 FD 00 06 00000009 0E80 1000 10 00000000"],
  [{ type: "alive?" }, "02 FD 00 07 00000000"],
  [{ type: "alive", source: 0x0e80 }, "02 FD 00 08 00000002 0E80"],
  [{ type: "status?" }, "02 FD 40 01 00000000"],
  [{ type: "status", node: 0, mostSockets: 4, openSockets: 1, mostBytes: 4096 }, "02 FD 40 02 00000007 00 04 01 00001000"],
  [{ type: "power mode?" }, "02 FD 40 03 00000000"],
  [{ type: "power mode", mode: 1 }, "02 FD 40 04 00000001 01"],
  [{ type: "diagnostic", source: 0x0e80, target: 0x1001, data: bytesOf("22F190") }, "02 FD 80 01 00000007 0E80 1001 22F190"],
  [{ type: "received", source: 0x1001, target: 0x0e80, code: 0, previous: bytesOf("") }, "02 FD 80 02 00000005 1001 0E80 00"],
  [{ type: "not received", source: 0x1001, target: 0x0e80, code: 3, previous: bytesOf("22") }, "02 FD 80 03 00000006 1001 0E80 03 22"],
  [{ type: "header refused", code: 4 }, "02 FD 00 00 00000001 04"],
];
const MOST = 4096;
const messagesOf = (framed: readonly Framed[]): readonly DoipMessage[] => framed.flatMap((f) => (f.kind === "message" ? [f.message] : []));

describe("DoIP messages", () => {
  for (const [message, hex] of PAIRS) {
    it(`writes and reads "${message.type}" as ${hex.slice(0, 11)}`, () => {
      expect(encodeDoip(message)).to.deep.equal(bytesOf(hex));
      expect(readDatagram(bytesOf(hex))).to.deep.equal({ kind: "message", message, version: 2 });
    });
  }
  it("come out whole wherever a stream is cut in three", () => {
    const some = PAIRS.filter(([m]) => ["activate", "diagnostic", "alive?", "received"].includes(m.type));
    const stream = bytesOf(some.map(([, hex]) => hex).join(" "));
    for (let a = 0; a <= stream.length; a++)
      for (let b = a; b <= stream.length; b++) {
        const framer = createFramer(MOST);
        const found = [stream.subarray(0, a), stream.subarray(a, b), stream.subarray(b)].flatMap((c) => messagesOf(framer.push(c)));
        expect(found).to.deep.equal(some.map(([m]) => m));
      }
  });
  it("take any of the versions, and the default version of a tester that does not know", () => {
    for (const hex of ["01 FE 00 01 00000000", "03 FC 00 01 00000000", "FF 00 00 01 00000000"])
      expect(readDatagram(bytesOf(hex)).kind).to.equal("message");
  });
});

describe("what is not a DoIP", () => {
  const fault = (hex: string): Extract<Framed, { kind: "fault" }> => {
    const [first] = createFramer(MOST).push(bytesOf(hex));
    if (first?.kind !== "fault") throw new Error(JSON.stringify(first));
    return first;
  };
  it("is refused with the code of the standard, and ends the connection where nothing after it can be trusted", () => {
    expect(fault("02 FE 00 01 00000000")).to.include({ refusal: 0x00, fatal: true });
    expect(fault("02 FD 12 34 00000000")).to.include({ refusal: 0x01, fatal: false });
    expect(fault("02 FD 80 01 00001001")).to.include({ refusal: 0x02, fatal: false });
    expect(fault("02 FD 00 05 00000003 0E80 00")).to.include({ refusal: 0x04, fatal: true });
  });
  it("lets a message that is too long pass, and reads the one after it", () => {
    const framer = createFramer(16);
    const long = bytesOf("02 FD 80 01 00000020");
    const all = [
      ...framer.push(long),
      ...framer.push(new Uint8Array(20)),
      ...framer.push(new Uint8Array(12)),
      ...framer.push(bytesOf(PAIRS[0]![1])),
    ];
    expect(all.map((f) => f.kind)).to.deep.equal(["fault", "message"]);
  });
  it("says nothing more after a fatal fault", () => {
    const framer = createFramer(MOST);
    framer.push(bytesOf("00 00 00 00 00 00 00 00"));
    expect(framer.push(bytesOf(PAIRS[0]![1]))).to.deep.equal([]);
  });
  it("never breaks the reader: 100,000 messages with bytes changed, left out and put in", () => {
    const chance = chanceOf(5);
    const whole = PAIRS.map(([, hex]) => bytesOf(hex));
    let [read, faults] = [0, 0];
    for (let n = 0; n < 100_000; n++) {
      const bytes = [...whole[Math.floor(chance() * whole.length)]!];
      for (let k = 0; k <= chance() * 3; k++) {
        const at = Math.floor(chance() * bytes.length);
        if (chance() < 0.6) bytes[at] = Math.floor(chance() * 256);
        else if (chance() < 0.5) bytes.splice(at, 1);
        else bytes.splice(at, 0, Math.floor(chance() * 256));
      }
      const framer = createFramer(MOST);
      for (const f of framer.push(Uint8Array.from(bytes))) {
        if (f.kind === "message") {
          read++;
          // What was read can be written again, and is the same.
          expect(messagesOf(createFramer(MOST).push(encodeDoip(f.message)))).to.deep.equal([f.message]);
        } else faults++;
      }
    }
    expect(read).to.be.above(10_000);
    expect(faults).to.be.above(10_000);
  });
});
