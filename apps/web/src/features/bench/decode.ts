import { formatSeconds, formatVolts } from "@rheonom/core/quantity";
import { decodeCan, decodeLin, decodePwm, measure, KICK_SHARE, SINGLE_WIRE, type PwmStretch, type Trace } from "@rheonom/core/waveform";

/** What is read of which channels, counted from 0. */
export type Decoding =
  | { readonly kind: "lin"; readonly channel: number }
  /** The difference of two channels, or one channel that is it already, or what a receiver makes of it. */
  | { readonly kind: "can"; readonly high: number; readonly low: number }
  | { readonly kind: "can difference"; readonly channel: number }
  | { readonly kind: "can receiver"; readonly channel: number }
  | { readonly kind: "single wire"; readonly channel: number }
  /** Pulses as what they command; with what another channel, a monitor say, shows meanwhile. */
  | { readonly kind: "pwm"; readonly channel: number; readonly beside: number | undefined };

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
  /** Whether its module was heard, by whoever should: undefined where the frame does not tell. */
  readonly isHeard: boolean | undefined;
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
        isHeard: f.problems.length === 0 ? true : f.hasResponse === false ? false : undefined,
      })),
      read.baud === undefined
        ? [
            `No header was found: the line goes from ${levels.low.toFixed(1)} to ${levels.high.toFixed(1)} V; a receiver wants less than 40 % and more than 60 % of its supply.`,
          ]
        : [`Levels ${levels.low.toFixed(1)} and ${levels.high.toFixed(1)} V.`],
    );
  }
  if (decoding.kind === "pwm") return pulsesRead(decoding, volts, rateHz, place);
  const isWire = decoding.kind === "single wire";
  const read = isWire ? decodeCan(volts(decoding.channel), rateHz, SINGLE_WIRE) : decodeCan(differenceOf(decoding, volts, rateHz), rateHz);
  const uneven = (read.dominantBits ?? 1) - (read.recessiveBits ?? 1);
  return limited(
    read.baud,
    read.frames.map((f) => ({
      ...place(f),
      name: `0x${hex(f.id, f.isExtended ? 8 : 3)}`,
      data: f.isRemote ? "remote request" : f.data.map((b) => hex(b, 2)).join(" "),
      wrong: f.problems.join(", "),
      note: f.isFlexible ? "flexible data rate: arbitration only" : "",
      isHeard: f.problems.length === 0 && !f.isFlexible ? true : f.isAcknowledged === false ? false : undefined,
    })),
    [
      ...read.faults.map((f) => `At ${(startS + f.atS).toPrecision(5)} s: ${f.words}.`),
      ...(Math.abs(uneven) > UNEVEN
        ? [
            `Dominant bits are ${read.dominantBits!.toFixed(2)}, recessive ones ${read.recessiveBits!.toFixed(2)} bits long: edges are not alike, look at the ${isWire ? "load of the line" : "termination"}.`,
          ]
        : []),
      ...(read.baud === undefined ? ["Too few edges for a rate."] : []),
    ],
  );
}

/** A line that swings by less does not pulse, V. */
const LEAST_SWING = 0.5;
const percent = (duty: number): string => `${(100 * duty).toFixed(1)} %`;
const hertz = (f: number): string => `${Number(f.toPrecision(3))} Hz`;

/** Stretches of one duty as rows, each with what the other line does meanwhile. */
function pulsesRead(
  { channel, beside }: Extract<Decoding, { kind: "pwm" }>,
  volts: (channel: number) => Float32Array,
  rateHz: number,
  place: (f: { readonly startS: number; readonly endS: number }) => Pick<FrameRow, "from" | "to" | "startS">,
): Decoded {
  const read = decodePwm(volts(channel), rateHz, LEAST_SWING);
  const other = beside === undefined ? undefined : decodePwm(volts(beside), rateHz, LEAST_SWING);
  const rows = read.stretches.map((s): FrameRow => {
    const meanwhile =
      other === undefined || beside === undefined ? "" : duringWords(other.stretches, s, () => levelBetween(volts(beside), rateHz, s));
    if (s.kind === "stands")
      return {
        ...place(s),
        name: "stands",
        data: `${s.isHigh ? "high" : "low"}, ${formatVolts(s.isHigh ? read.high : read.low)}`,
        wrong: `no pulse for ${formatSeconds(s.endS - s.startS)}`,
        note: meanwhile,
        isHeard: undefined,
      };
    return {
      ...place(s),
      name: percent(s.duty),
      data: `${hertz(s.hertz)}, ${s.pulses} ${s.pulses === 1 ? "pulse" : "pulses"}`,
      wrong: "",
      note: meanwhile,
      isHeard: undefined,
    };
  });
  const levels = `Levels ${formatVolts(read.low)} and ${formatVolts(read.high)}.`;
  return limited(undefined, rows, [
    rows.length === 0 ? `Nothing pulses: it stands at ${formatVolts((read.low + read.high) / 2)}.` : levels,
  ]);
}

/** What a line does during a stretch of another one: its duty where it has one all through, its level where it stands. */
function duringWords(stretches: readonly PwmStretch[], { startS, endS }: PwmStretch, level: () => number): string {
  const middle = (startS + endS) / 2;
  const there = stretches.find((s) => s.startS <= middle && middle <= s.endS);
  if (there?.kind === "pulses") return `other line ${percent(there.duty)}, ${hertz(there.hertz)}`;
  return `other line stands at ${formatVolts(level())}`;
}

function levelBetween(samples: Float32Array, rateHz: number, { startS, endS }: PwmStretch): number {
  const [from, to] = [Math.max(0, Math.floor(startS * rateHz)), Math.min(samples.length, Math.ceil(endS * rateHz))];
  let [sum, count] = [0, 0];
  for (let i = from; i < to; i++)
    if (!Number.isNaN(samples[i]!)) {
      sum += samples[i]!;
      count++;
    }
  return count === 0 ? NaN : sum / count;
}

function differenceOf(
  decoding: Extract<Decoding, { kind: "can" | "can difference" | "can receiver" }>,
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

/** Whether a module was heard on the bus. */
export interface Responds {
  readonly module: string;
  readonly word: "yes" | "no";
}

/**
 * Which modules were heard, by the identifiers that they send: one with a good frame was; one was not that is asked without a response, or that nobody acknowledges. Frames that are bad in another way
 * tell nothing of it.
 */
export function respondsIn(rows: readonly FrameRow[], senders: ReadonlyMap<number, string>): readonly Responds[] {
  const heard = new Map<string, "yes" | "no">();
  for (const { name, isHeard } of rows) {
    const module = senders.get(Number(name));
    if (module === undefined || isHeard === undefined || heard.get(module) === "yes") continue;
    heard.set(module, isHeard ? "yes" : "no");
  }
  return [...heard].map(([module, word]) => ({ module, word }));
}
