import { expect } from "chai";
import { chanceOf } from "../test/chance.ts";
import { bytesOf } from "../test/hex.ts";
import {
  decodeObd,
  decodeObdResponse,
  decodeReadiness,
  encodeObd,
  encodeObdResponse,
  encodeReadiness,
  PIDS,
  supportedBytes,
  supportedFrom,
  type ObdRequest,
  type ObdResponse,
} from "../obd/index.ts";
import { decodeResponse, decodeUds, encodeResponse, encodeUds, type UdsRequest, type UdsResponse } from "./index.ts";

/** Requests and responses beside their bytes, from the tables of ISO 14229-1. */
const REQUESTS: readonly (readonly [UdsRequest, string])[] = [
  [{ service: "session", session: 3, quiet: false }, "10 03"],
  [{ service: "session", session: 1, quiet: true }, "10 81"],
  [{ service: "present", quiet: false }, "3E 00"],
  [{ service: "clear", group: 0xffffff }, "14 FFFFFF"],
  [{ service: "codes", report: "by mask", mask: 0x2f }, "19 02 2F"],
  [{ service: "codes", report: "count by mask", mask: 0x08 }, "19 01 08"],
  [{ service: "codes", report: "snapshot", code: 0x011811, record: 0xff }, "19 04 011811 FF"],
  [{ service: "codes", report: "extended", code: 0x011811, record: 0x01 }, "19 06 011811 01"],
  [{ service: "codes", report: "supported" }, "19 0A"],
  [{ service: "read", ids: [0xf190, 0x0100] }, "22 F190 0100"],
  [{ service: "actuate", id: 0x0508, control: 3, state: bytesOf("01") }, "2F 0508 03 01"],
  [{ service: "codeSetting", on: false, quiet: false }, "85 02"],
];
const RESPONSES: readonly (readonly [UdsResponse, string])[] = [
  [{ service: "refused", of: 0x22, refusal: 0x31 }, "7F 22 31"],
  [{ service: "session", session: 3, p2Ms: 50, p2StarMs: 5000 }, "50 03 0032 01F4"],
  [{ service: "clear" }, "54"],
  [{ service: "codes", report: "by mask", availability: 0xff, codes: [{ code: 0x011800, status: 0xaf }] }, "59 02 FF 011800 AF"],
  [{ service: "count by mask", availability: 0xff, format: 4, count: 2 }, "59 01 FF 04 0002"],
  [
    { service: "snapshot", code: 0x011800, status: 0xaf, records: [{ record: 1, data: [{ id: 0x0100, data: bytesOf("311E") }] }] },
    "59 04 011800 AF 01 01 0100 311E",
  ],
  [{ service: "extended", code: 0x011800, status: 0xaf, records: [{ record: 1, data: bytesOf("02") }] }, "59 06 011800 AF 01 02"],
  [
    {
      service: "read",
      values: [
        { id: 0x0100, data: bytesOf("311E") },
        { id: 0x0201, data: bytesOf("0001") },
      ],
    },
    "62 0100 311E 0201 0001",
  ],
  [{ service: "actuate", id: 0x0508, control: 3, state: bytesOf("01") }, "6F 0508 03 01"],
  [{ service: "present" }, "7E 00"],
];
const two = (): number => 2;

describe("UDS", () => {
  for (const [request, hex] of REQUESTS)
    it(`asks ${hex}`, () => {
      expect(encodeUds(request)).to.deep.equal(bytesOf(hex));
      expect(decodeUds(bytesOf(hex))).to.deep.equal({ kind: "request", request });
    });
  for (const [response, hex] of RESPONSES)
    it(`answers ${hex}`, () => {
      expect(encodeResponse(response)).to.deep.equal(bytesOf(hex));
      expect(decodeResponse(bytesOf(hex), two)).to.deep.equal({ kind: "response", response });
    });
  it("refuses what is wrong as the standard wants it", () => {
    for (const [hex, refusal] of [
      ["", 0x13],
      ["99", 0x11],
      ["11 01", 0x11],
      ["10", 0x13],
      ["10 47", 0x12],
      ["10 03 00", 0x13],
      ["14 FFFF", 0x13],
      ["19 77", 0x12],
      ["19 02", 0x13],
      ["22 F1", 0x13],
      ["2F 05", 0x13],
      ["3E 05", 0x12],
      ["85 07", 0x12],
    ] as const)
      expect(decodeUds(bytesOf(hex)), hex).to.include({ kind: "bad", refusal });
  });
  it("says of half an answer where it ends", () => {
    for (const [response, hex] of RESPONSES) {
      const bytes = bytesOf(hex);
      for (let n = 0; n < bytes.length; n++) {
        const half = decodeResponse(bytes.subarray(0, n), two);
        // A list of codes or values may end at an entry and be whole.
        if (half.kind === "response") expect(half.response.service, hex).to.be.oneOf(["codes", "read", "snapshot", "extended", "actuate"]);
        else expect(half.why).to.match(/ends early|empty|too many|sub-function/);
      }
      void response;
    }
  });
});

describe("emissions services", () => {
  const ASKED: readonly (readonly [ObdRequest, string, ObdResponse, string])[] = [
    [
      { service: "live", pids: [0x0c, 0x05] },
      "01 0C 05",
      {
        service: "live",
        values: [
          { pid: 0x0c, data: bytesOf("0C30") },
          { pid: 0x05, data: bytesOf("3C") },
        ],
      },
      "41 0C 0C30 05 3C",
    ],
    [{ service: "stored" }, "03", { service: "stored", codes: [0x0118, 0xc100] }, "43 02 0118 C100"],
    [{ service: "pending" }, "07", { service: "pending", codes: [] }, "47 00"],
    [{ service: "permanent" }, "0A", { service: "permanent", codes: [0x0118] }, "4A 01 0118"],
    [{ service: "clear" }, "04", { service: "clear" }, "44"],
    [
      { service: "freeze frame", pid: 0x42, frame: 0 },
      "02 42 00",
      { service: "freeze frame", frame: 0, values: [{ pid: 0x42, data: bytesOf("311E") }] },
      "42 42 00 311E",
    ],
    [{ service: "vehicle", what: 2 }, "09 02", { service: "vehicle", what: 2, data: bytesOf("01 41 42") }, "49 02 01 41 42"],
  ];
  for (const [request, ask, response, said] of ASKED)
    it(`asks ${ask} and hears ${said}`, () => {
      expect(encodeObd(request)).to.deep.equal(bytesOf(ask));
      expect(decodeObd(bytesOf(ask))).to.deep.equal({ kind: "request", request });
      expect(encodeObdResponse(response)).to.deep.equal(bytesOf(said));
      expect(decodeObdResponse(bytesOf(said))).to.deep.equal({ kind: "response", response });
    });
  it("has values as SAE J1979 scales them", () => {
    expect(PIDS.get(0x0c)!.fromRaw(0x0c30)).to.equal(780);
    expect(PIDS.get(0x05)!.fromRaw(0x3c)).to.equal(20);
    expect(PIDS.get(0x42)!.toRaw(12.574)).to.equal(12574);
    expect(PIDS.get(0x05)!.toRaw(900)).to.equal(255);
  });
  it("tells which values there are, 32 at a time", () => {
    expect(supportedBytes(0, new Set([0x01, 0x05, 0x0c, 0x42]))).to.deep.equal(bytesOf("88 10 00 01"));
    expect(supportedFrom(0, bytesOf("88 10 00 01"))).to.deep.equal([0x01, 0x05, 0x0c, 0x20]);
  });
  it("tells lamp, count and monitors", () => {
    const readiness = { lamp: true, codes: 2, diesel: false, continuous: { there: 7, incomplete: 6 }, others: { there: 0, incomplete: 0 } };
    expect(encodeReadiness(readiness)).to.deep.equal(bytesOf("82 67 00 00"));
    expect(decodeReadiness(bytesOf("82 67 00 00"))).to.deep.equal(readiness);
  });
});

it("reading never breaks on 100,000 changed requests and answers", () => {
  const chance = chanceOf(9);
  const all = [...REQUESTS.map(([, h]) => h), ...RESPONSES.map(([, h]) => h), "01 0C 05", "43 02 0118 C100", "41 0C 0C30"].map(bytesOf);
  const kinds = new Map<string, number>();
  for (let n = 0; n < 100_000; n++) {
    const bytes = [...all[Math.floor(chance() * all.length)]!];
    for (let k = 0; k <= chance() * 3; k++) {
      if (chance() < 0.5) bytes[Math.floor(chance() * bytes.length)] = Math.floor(chance() * 256);
      else
        bytes.splice(Math.floor(chance() * bytes.length), chance() < 0.5 ? 1 : 0, ...(chance() < 0.5 ? [Math.floor(chance() * 256)] : []));
    }
    const b = Uint8Array.from(bytes);
    for (const read of [decodeUds(b), decodeResponse(b, two), decodeResponse(b), decodeObd(b), decodeObdResponse(b)])
      kinds.set(read.kind, (kinds.get(read.kind) ?? 0) + 1);
    const asked = decodeUds(b);
    if (asked.kind === "request") expect(decodeUds(encodeUds(asked.request))).to.deep.equal(asked);
  }
  expect(kinds.get("bad")).to.be.above(50_000);
  expect(kinds.get("request")).to.be.above(10_000);
});
