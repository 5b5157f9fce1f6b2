import { expose, transfer } from "comlink";
import {
  amplitudeAt,
  compareTraces,
  createCsvReader,
  differenceTrace,
  isVcd,
  KICK_SHARE,
  longestPause,
  measure,
  nextEdge,
  shownSamples,
  type Shown,
  MOST_CHANNELS,
  onClock,
  pyramidOf,
  readTraceFile,
  readVcd,
  readWav,
  visibleOf,
  watchedSamples,
  writeTraceFile,
  type Comparison,
  type CsvForm,
  type Laying,
  type Measures,
  type Pyramid,
  type SeenTrace,
  type Trace,
  type TraceNote,
  type TraceProblem,
} from "@rheonom/core/waveform";

import { decoded, type Decoded, type Decoding } from "./decode.ts";

/** A trace as the screen knows it: all but the samples, which stay here. */
export interface TraceShape {
  readonly startS: number;
  readonly rateHz: number;
  readonly count: number;
  readonly channels: readonly { readonly name: string; readonly unit: string }[];
}

export type Opened =
  | { readonly kind: "open"; readonly shape: TraceShape; readonly form: CsvForm | undefined; readonly notes: readonly TraceNote[] }
  | { readonly kind: "bad"; readonly problem: TraceProblem; readonly form: CsvForm | undefined }
  | { readonly kind: "refused"; readonly why: string };

/** A value change dump is read whole. */
const MOST_VCD_BYTES = 200e6;
/** Of a bridge: each feeds once a turn of the field. */
const DIODES = 6;

/** As it was recorded, and what was laid over it behind: what is judged and read as a bus. */
let raw: Trace | undefined;
/** Channels of it that were recorded; those behind them were laid over, and are never kept. */
let own = 0;
/** As it is shown: what is drawn, measured, compared and saved as a table. */
let trace: Trace | undefined;
let pyramids: readonly Pyramid[] = [];

function take(read: Trace, recorded = read.channels.length): TraceShape {
  raw = read;
  own = recorded;
  trace = read;
  pyramids = read.channels.map((c) => pyramidOf(c.samples));
  const { startS, rateHz, count } = read;
  return { startS, rateHz, count, channels: read.channels.map(({ name, unit }) => ({ name, unit })) };
}

const isWav = (head: Uint8Array): boolean => String.fromCharCode(...head.subarray(0, 4)) === "RIFF";

/** Holds one trace with all its samples, so that the screen never has more than what it draws. */
const bench = {
  /** Reads a file piece by piece. `said`: what somebody knows better than its head; `progress`: share read. */
  async openFile(file: File, said: Partial<CsvForm>, progress: (share: number) => void): Promise<Opened> {
    const head = new Uint8Array(await file.slice(0, 16).arrayBuffer());
    if (isWav(head)) {
      const read = readWav(new Uint8Array(await file.arrayBuffer()));
      return read.kind === "bad"
        ? { kind: "refused", why: read.why }
        : { kind: "open", shape: take(read.trace), form: undefined, notes: [] };
    }
    if (isVcd(new TextDecoder().decode(head))) {
      if (file.size > MOST_VCD_BYTES) return { kind: "refused", why: `it has more than ${MOST_VCD_BYTES / 1e6} MB` };
      const read = readVcd(await file.text());
      return read.kind === "bad"
        ? { kind: "refused", why: read.why }
        : {
            kind: "open",
            shape: take(read.trace),
            form: undefined,
            notes: read.leftOut === 0 ? [] : [{ code: "signals left out", count: read.leftOut }],
          };
    }
    const reader = createCsvReader(said);
    const stream = file.stream().getReader();
    let done = 0;
    for (let piece = await stream.read(); !piece.done; piece = await stream.read()) {
      reader.push(piece.value);
      done += piece.value.length;
      progress(done / Math.max(1, file.size));
    }
    const read = reader.end();
    if (read.kind === "bad") return read;
    return { kind: "open", shape: take(read.trace), form: read.form, notes: read.notes };
  },
  /** Opens a kept trace, packed as it is stored. */
  async openKept(packed: ArrayBuffer): Promise<Opened> {
    const read = readTraceFile(await through(packed, new DecompressionStream("gzip")));
    return read.kind === "bad" ? { kind: "refused", why: read.why } : { kind: "open", shape: take(read.trace), form: undefined, notes: [] };
  },
  /** The least and most of each column of what is visible, channel after channel. */
  visible(from: number, to: number, columns: number): readonly Float32Array[] {
    const made = pyramids.map((p) => visibleOf(p, from, to, columns));
    return transfer(
      made,
      made.map((m) => m.buffer as ArrayBuffer),
    );
  },
  /** Undefined for a channel that has nothing but gaps there. */
  measures(from: number, to: number): readonly (Measures | undefined)[] {
    if (trace === undefined) return [];
    const { rateHz } = trace;
    return trace.channels.map(({ samples }) => {
      for (let i = from; i < to; i++) if (!Number.isNaN(samples[i]!)) return measure(samples, rateHz, from, to);
      return undefined;
    });
  },
  /** What a channel shows between two samples, to be judged; undefined where it has nothing but gaps. `hertz`: of the alternator that turns. */
  seen(channel: number, from: number, to: number, factor: number, hertz: number | undefined): SeenTrace | undefined {
    const samples = raw?.channels[channel]?.samples.subarray(from, to).map((v) => v * factor);
    if (raw === undefined || samples === undefined || !samples.some((v) => !Number.isNaN(v))) return undefined;
    const { rateHz, startS } = raw;
    const measures = measure(samples, rateHz, 0, samples.length, KICK_SHARE);
    const pause = longestPause(samples, rateHz, measures);
    return {
      measures,
      pause: pause === undefined ? undefined : { startS: startS + (from + pause.at) / rateHz, seconds: pause.seconds },
      ripple:
        hertz === undefined ? undefined : { own: amplitudeAt(samples, rateHz, hertz), sixth: amplitudeAt(samples, rateHz, DIODES * hertz) },
    };
  },
  /** A channel as readings that are watched: ms from its first sample, and V by `factor`. */
  watched(channel: number, factor: number, most: number): readonly (readonly [ms: number, value: number])[] {
    const samples = raw?.channels[channel]?.samples;
    if (raw === undefined || samples === undefined) return [];
    return watchedSamples(samples, raw.rateHz, most).map(([ms, v]) => [ms, v * factor]);
  },
  /** How one channel differs from another between two samples. */
  compared(
    first: number,
    second: number,
    from: number,
    to: number,
    factors: readonly number[],
    unit: "V" | "A" | "",
    laying: Laying,
  ): Comparison | undefined {
    const [a, b] = [first, second].map((k) => trace?.channels[k]?.samples.subarray(from, to).map((v) => v * (factors[k] ?? 1)));
    if (trace === undefined || a === undefined || b === undefined) return undefined;
    const has = (samples: Float32Array): boolean => samples.some((v) => !Number.isNaN(v));
    return has(a) && has(b) ? compareTraces(a, b, trace.rateHz, unit, laying) : undefined;
  },
  /** Lays over what is left of one channel once another one is taken from it, in the unit of what is drawn. */
  difference(first: number, second: number, factors: readonly number[], unit: string, laying: Laying): Opened {
    if (raw === undefined) throw new RangeError("no trace is open");
    const { channels, rateHz } = raw;
    if (channels.length >= MOST_CHANNELS) return { kind: "refused", why: `there is no room for more than ${MOST_CHANNELS} channels` };
    const [a, b] = [first, second].map((k) => {
      const factor = factors[k] ?? 1;
      return factor === 1 ? channels[k]!.samples : channels[k]!.samples.map((v) => v * factor);
    });
    const name = `${channels[second]!.name} less ${channels[first]!.name}`.slice(0, 80);
    const made = { name, unit, samples: differenceTrace(a!, b!, rateHz, laying) };
    return { kind: "open", shape: take({ ...raw, channels: [...channels, made] }, own), form: undefined, notes: [] };
  },
  /** Lays a kept trace, packed as it is stored, over the one that is open: its channels on this one's clock, as many as there is room for, or only one of them. */
  async overlay(packed: ArrayBuffer, name: string, only: number | undefined): Promise<Opened> {
    const read = readTraceFile(await through(packed, new DecompressionStream("gzip")));
    if (read.kind === "bad") return { kind: "refused", why: read.why };
    if (raw === undefined) return { kind: "open", shape: take(read.trace), form: undefined, notes: [] };
    const { rateHz, count, channels } = raw;
    const laid = read.trace.channels
      .filter((_, k) => only === undefined || k === only)
      .slice(0, MOST_CHANNELS - channels.length)
      .map((c) => ({ ...c, name: `${name}: ${c.name}`.slice(0, 80), samples: onClock(c.samples, read.trace.rateHz, rateHz, count) }));
    return { kind: "open", shape: take({ ...raw, channels: [...channels, ...laid] }, own), form: undefined, notes: [] };
  },
  /** Lays supposed traces over the one that is open, in the unit that its channels have: as many as there is room for. */
  ghosts(rateHzOf: number, laid: readonly { readonly name: string; readonly unit: string; readonly samples: Float32Array }[]): Opened {
    if (raw === undefined) throw new RangeError("no trace is open");
    const { rateHz, count, channels } = raw;
    const made = laid
      .slice(0, MOST_CHANNELS - channels.length)
      .map(({ name, unit, samples }) => ({ name: name.slice(0, 80), unit, samples: onClock(samples, rateHzOf, rateHz, count) }));
    return { kind: "open", shape: take({ ...raw, channels: [...channels, ...made] }, own), form: undefined, notes: [] };
  },
  /** Shows a channel turned over, with another zero, or without what is fast. */
  show(channel: number, how: Shown): void {
    const [was, now] = [raw?.channels[channel], trace];
    if (raw === undefined || was === undefined || now === undefined) return;
    const samples = shownSamples(was.samples, raw.rateHz, how);
    trace = { ...now, channels: now.channels.map((c, k) => (k === channel ? { ...c, samples } : c)) };
    pyramids = pyramids.map((p, k) => (k === channel ? pyramidOf(samples) : p));
  },
  /** The sample behind the next edge of a channel, from a sample on; undefined where there is none. Levels are those between two samples. */
  edgeFrom(channel: number, at: number, step: 1 | -1, from: number, to: number): number | undefined {
    const samples = trace?.channels[channel]?.samples;
    if (trace === undefined || samples === undefined || !samples.subarray(from, to).some((v) => !Number.isNaN(v))) return undefined;
    const { low, high } = measure(samples, trace.rateHz, from, to);
    return nextEdge(samples, at, step, low, high);
  },
  /** The frames of a bus in it. */
  decoded(decoding: Decoding, factors: readonly number[]): Decoded {
    if (raw === undefined) throw new RangeError("no trace is open");
    return decoded(raw, decoding, factors);
  },
  /** The trace as it is kept: what was recorded, and nothing that was laid over it. */
  async packed(): Promise<Uint8Array> {
    if (raw === undefined) throw new RangeError("no trace is open");
    const bytes = await through(
      writeTraceFile({ ...raw, channels: raw.channels.slice(0, own) }).buffer as ArrayBuffer,
      new CompressionStream("gzip"),
    );
    return transfer(bytes, [bytes.buffer as ArrayBuffer]);
  },
  /** What is visible as a table: time and every channel, one line a sample, at most `most` lines. */
  csv(from: number, to: number, factors: readonly number[], most: number): string {
    if (trace === undefined) return "";
    const { startS, rateHz, channels } = trace;
    const step = Math.max(1, Math.ceil((to - from) / most));
    const lines = [["time (s)", ...channels.map(({ name, unit }) => (unit === "" ? name : `${name} (${unit})`))].map(quoted).join(",")];
    for (let i = from; i < to; i += step)
      lines.push(
        [startS + i / rateHz, ...channels.map((c, k) => c.samples[i]! * (factors[k] ?? 1))]
          .map((v) => (Number.isNaN(v) ? "" : String(Number(v.toPrecision(9)))))
          .join(","),
      );
    return `${lines.join("\r\n")}\r\n`;
  },
} as const;
export type BenchWorker = typeof bench;

const quoted = (text: string): string => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

async function through(bytes: ArrayBuffer, by: CompressionStream | DecompressionStream): Promise<Uint8Array> {
  const stream = new Blob([bytes]).stream().pipeThrough(by);
  return new Uint8Array(await new Response(stream).arrayBuffer());
}

expose(bench);
