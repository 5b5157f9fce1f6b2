import { predictTraces, throughScope, type Probe } from "@rheonom/core/instruments";
import { blockOf } from "@rheonom/protocol/scpi";
import { createDevice, DeviceFault, number, told, whole, type Branch, type Device } from "./device.ts";
import type { BenchWorld } from "./world.ts";

export const SCOPE_CHANNELS = 4;
const MOST_POINTS = 1_000_000;
const LEAST_S = 1e-4;
const MOST_S = 1;
/** Noise of a channel whose lead hangs, V. */
const HANGING_V = 0.02;

/** A scope of four channels with ×10 probes and the words of SCPI-1999: SENSe:SWEep, FORMat, INITiate, TRACe. */
export function createScope(world: BenchWorld): Device {
  let [seconds, points] = [0.05, 50_000];
  let isBinary = true;
  let isSwapped = false;
  let recorded: readonly Float32Array[] | undefined;
  let [recordedS, recordedPoints] = [seconds, points];

  function record(): void {
    const wanted = Array.from({ length: SCOPE_CHANNELS }, (_, i) => world.leads(i + 1));
    const probes = wanted.map((l): Probe | undefined =>
      l.on === "places" && l.red !== l.black
        ? { at: { red: l.red, black: l.black }, probe: 10 }
        : l.on === "wire"
          ? { at: { around: l.around }, probe: 10 }
          : undefined,
    );
    const there = probes.flatMap((p) => (p === undefined ? [] : [p]));
    const traces =
      there.length === 0
        ? undefined
        : predictTraces(world.harness, world.state(), world.faults(), there, { seconds, resolutionS: seconds / points });
    if (traces !== undefined && traces.kind !== "traces") throw new DeviceFault("conflict");
    let next = 0;
    recorded = probes.map((p, i) => {
      if (p !== undefined) return throughScope(traces!.channels[next++]!, world.chance);
      const size = wanted[i]!.on === "nothing" ? HANGING_V : 0.001;
      return Float32Array.from({ length: points }, () => (2 * world.chance() - 1) * size);
    });
    [recordedS, recordedPoints] = [seconds, points];
  }
  const channelOf = (text: string | undefined): Float32Array => {
    if (text === undefined) throw new DeviceFault("noParameter");
    const [, n] = /^(?:CH(?:AN(?:NEL)?)?)?([1-4])$/i.exec(text) ?? [];
    if (n === undefined) throw new DeviceFault("notAllowed");
    if (recorded === undefined) throw new DeviceFault("noData");
    return recorded[Number(n) - 1]!;
  };
  const dataOf = (samples: Float32Array): string | Uint8Array => {
    if (!isBinary) return Array.from(samples, (v) => told(v)).join(",");
    const bytes = new Uint8Array(samples.length * 4);
    const view = new DataView(bytes.buffer);
    samples.forEach((v, i) => view.setFloat32(4 * i, v, isSwapped));
    // The newline of the block is that of the answer.
    return blockOf(bytes).subarray(0, -1);
  };
  const branches: readonly Branch[] = [
    { header: "[SENSe]:SWEep:TIME", set: ([p]) => void (seconds = number(p, LEAST_S, MOST_S)), query: () => told(seconds) },
    { header: "[SENSe]:SWEep:POINts", set: ([p]) => void (points = whole(p, 2, MOST_POINTS)), query: () => String(points) },
    {
      header: "[SENSe]:SWEep:TINTerval",
      query: () => told((recorded === undefined ? seconds : recordedS) / (recorded === undefined ? points : recordedPoints)),
    },
    {
      header: "FORMat[:DATA]",
      set: ([kind, width]) => {
        if (/^ASC/i.test(kind ?? "")) isBinary = false;
        else if (/^REAL$/i.test(kind ?? "") && (width ?? "32") === "32") isBinary = true;
        else throw new DeviceFault(kind === undefined ? "noParameter" : "notAllowed");
      },
      query: () => (isBinary ? "REAL,32" : "ASC,9"),
    },
    {
      header: "FORMat:BORDer",
      set: ([p]) => {
        if (!/^(NORM(AL)?|SWAP(PED)?)$/i.test(p ?? "")) throw new DeviceFault(p === undefined ? "noParameter" : "notAllowed");
        isSwapped = /^SWAP/i.test(p!);
      },
      query: () => (isSwapped ? "SWAP" : "NORM"),
    },
    { header: "INITiate[:IMMediate]", set: record },
    { header: "TRACe[:DATA]", query: ([p]) => dataOf(channelOf(p)) },
    { header: "TRACe:POINts", query: ([p]) => String(channelOf(p).length) },
  ];
  return createDevice({
    identity: ["Tarn Bench Works", "stand-in scope", "0002", "1.0"],
    branches,
    reset: () => {
      [seconds, points, isBinary, isSwapped, recorded] = [0.05, 50_000, true, false, undefined];
    },
    selfTest: () => (world.isBatteryLow() ? "battery low" : ""),
    questionable: () => 0,
  });
}
