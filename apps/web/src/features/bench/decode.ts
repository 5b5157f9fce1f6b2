import { decodeCan, decodeLin, measure, KICK_SHARE, type Trace } from "@rheonom/core/waveform";

/** What is read of which channels, counted from 0. */
export type Decoding =
  | { readonly kind: "lin"; readonly channel: number }
  /** The difference of two channels, or one channel that is it already, or what a receiver makes of it. */
  | { readonly kind: "can"; readonly high: number; readonly low: number }
  | { readonly kind: "can difference"; readonly channel: number }
  | { readonly kind: "can receiver"; readonly channel: number };

/** A frame as a row of a table. */
export interface FrameRow {
  /** Samples from the beginning. */
  readonly from: number;
  readonly to: number;
  readonly startS: number;
  readonly name: string;
  readonly data: string;
  /** What is wrong; "" for a good one. */
  readonly wrong: string;
  readonly note: string;
}

export interface Decoded {
  readonly baud: number | undefined;
  readonly rows: readonly FrameRow[];
  readonly frames: number;
  readonly bad: number;
  /** What is to be said of the line itself. */
  readonly remarks: readonly string[];
}

/** Rows that go to the screen at most; bad ones first among those that are left out. */
const MOST_ROWS = 5000;
/** Of a receiver's output, in shares of its swing. */
const RECEIVER_VOLTS = 2;
/** A LIN line is fed with this at least, V. */
const LEAST_SUPPLY = 7;
/** A difference of bits that shows: edges are not alike, or the termination is wrong. */
const UNEVEN = 0.3;

const hex = (value: number, digits: number): string => value.toString(16).toUpperCase().padStart(digits, "0");

/** Reads the frames of a bus. `factors`: what one of a channel's unit is, by channel. */
export function decoded(trace: Trace, decoding: Decoding, factors: readonly number[]): Decoded {
  const { rateHz, startS } = trace;
  const volts = (channel: number): Float32Array => {
    const factor = factors[channel] ?? 1;
    const samples = trace.channels[channel]!.samples;
    return factor === 1 ? samples : samples.map((v) => v * factor);
  };
  const place = (f: { readonly startS: number; readonly endS: number }) => ({
    from: Math.max(0, Math.floor(f.startS * rateHz)),
    to: Math.min(trace.count, Math.ceil(f.endS * rateHz)),
    startS: startS + f.startS,
  });
  if (decoding.kind === "lin") {
    const line = volts(decoding.channel);
    const levels = measure(line, rateHz, 0, line.length, KICK_SHARE);
    const read = decodeLin(line, rateHz, Math.max(LEAST_SUPPLY, levels.high));
    return limited(
      read.baud,
      read.frames.map((f) => ({
        ...place(f),
        name: f.id === undefined ? "–" : `0x${hex(f.id, 2)}`,
        data: f.data.map((b) => hex(b, 2)).join(" "),
        wrong: f.problems.join(", "),
        note: f.checksum ?? "",
      })),
      read.baud === undefined
        ? [
            `No header was found: the line goes from ${levels.low.toFixed(1)} to ${levels.high.toFixed(1)} V; a receiver wants less than 40 % and more than 60 % of its supply.`,
          ]
        : [`Levels ${levels.low.toFixed(1)} and ${levels.high.toFixed(1)} V.`],
    );
  }
  const read = decodeCan(differenceOf(decoding, volts, rateHz), rateHz);
  const uneven = (read.dominantBits ?? 1) - (read.recessiveBits ?? 1);
  return limited(
    read.baud,
    read.frames.map((f) => ({
      ...place(f),
      name: `0x${hex(f.id, f.isExtended ? 8 : 3)}`,
      data: f.isRemote ? "remote request" : f.data.map((b) => hex(b, 2)).join(" "),
      wrong: f.problems.join(", "),
      note: f.isFlexible ? "flexible data rate: arbitration only" : "",
    })),
    [
      ...read.faults.map((f) => `At ${(startS + f.atS).toPrecision(5)} s: ${f.words}.`),
      ...(Math.abs(uneven) > UNEVEN
        ? [
            `Dominant bits are ${read.dominantBits!.toFixed(2)}, recessive ones ${read.recessiveBits!.toFixed(2)} bits long: edges are not alike, look at the termination.`,
          ]
        : []),
      ...(read.baud === undefined ? ["Too few edges for a rate."] : []),
    ],
  );
}

function differenceOf(
  decoding: Exclude<Decoding, { kind: "lin" }>,
  volts: (channel: number) => Float32Array,
  rateHz: number,
): Float32Array {
  switch (decoding.kind) {
    case "can difference":
      return volts(decoding.channel);
    case "can": {
      const low = volts(decoding.low);
      return volts(decoding.high).map((v, i) => v - low[i]!);
    }
    case "can receiver": {
      const line = volts(decoding.channel);
      const { low, high } = measure(line, rateHz);
      return line.map((v) => (RECEIVER_VOLTS * (high - v)) / Math.max(1e-9, high - low));
    }
  }
}

function limited(baud: number | undefined, all: readonly FrameRow[], remarks: readonly string[]): Decoded {
  const bad = all.filter((r) => r.wrong !== "");
  const rows =
    all.length <= MOST_ROWS ? all : [...bad, ...all.filter((r) => r.wrong === "")].slice(0, MOST_ROWS).sort((p, q) => p.from - q.from);
  return { baud, rows, frames: all.length, bad: bad.length, remarks };
}
