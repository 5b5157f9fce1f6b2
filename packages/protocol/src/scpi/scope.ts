import type { ScpiClient } from "./client.ts";
import { oldestError } from "./meter.ts";
import { readNumber } from "./number.ts";
import { answerParts } from "./program.ts";

/** How samples come in a block, or as text. */
export type SampleFormat = "real32" | "int16" | "int8" | "ascii";

/** The words that a scope is asked with. Scopes differ; these may be set as a scope's manual has them. {n}, {seconds}, {points} are filled in. */
export interface ScopeWords {
  /** Sets length and samples, and how they come. */
  readonly prepare: readonly string[];
  /** Records once. */
  readonly record: string;
  /** Answered when the recording is there. */
  readonly done: string;
  readonly data: string;
  /** Distance of the samples, s. */
  readonly interval: string;
  /** What one of the scale is in V, and what zero of it is; empty where samples come in volts. */
  readonly factor: string;
  readonly offset: string;
  readonly format: SampleFormat;
  readonly isBigEndian: boolean;
}

/** The words of SCPI-1999: SENSe:SWEep, FORMat, INITiate, TRACe. */
export const SCOPE_WORDS: ScopeWords = {
  prepare: ["FORM:DATA REAL,32", "FORM:BORD SWAP", "SENS:SWE:TIME {seconds}", "SENS:SWE:POIN {points}"],
  record: "INIT",
  done: "*OPC?",
  data: "TRAC:DATA? CH{n}",
  interval: "SENS:SWE:TINT?",
  factor: "",
  offset: "",
  format: "real32",
  isBigEndian: false,
};

/** V, one for each sample; NaN where the scope was over its range, or says that it has none. */
export type Samples = { readonly kind: "samples"; readonly values: Float32Array } | { readonly kind: "odd"; readonly why: string };

const WIDTH = { real32: 4, int16: 2, int8: 1 } as const;
/** 9.9E37 and beyond stand for over and none. */
const NO_VALUE = 9.8e37;

/** Samples out of a block. */
export function samplesOf(
  bytes: Uint8Array,
  format: Exclude<SampleFormat, "ascii">,
  isBigEndian: boolean,
  factor = 1,
  offset = 0,
): Samples {
  const width = WIDTH[format];
  if (bytes.length === 0 || bytes.length % width !== 0)
    return { kind: "odd", why: `${bytes.length} bytes are no whole number of samples of ${width} bytes` };
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const values = new Float32Array(bytes.length / width);
  for (let i = 0; i < values.length; i++) {
    const at = i * width;
    const raw =
      format === "real32" ? view.getFloat32(at, !isBigEndian) : format === "int16" ? view.getInt16(at, !isBigEndian) : view.getInt8(at);
    values[i] = Number.isFinite(raw) && Math.abs(raw) < NO_VALUE ? raw * factor + offset : NaN;
  }
  return { kind: "samples", values };
}

/** Samples that come as numbers in a line. */
export function samplesOfText(text: string, factor = 1, offset = 0): Samples {
  const parts = answerParts(text);
  const values = new Float32Array(parts.length);
  for (const [i, part] of parts.entries()) {
    const number = readNumber(part);
    if (number === undefined) return { kind: "odd", why: `“${part.slice(0, 30)}” is not a number` };
    values[i] = number.kind === "value" ? number.value * factor + offset : NaN;
  }
  return { kind: "samples", values };
}

/** A recording of several channels, V. */
export type Recorded =
  | { readonly kind: "recorded"; readonly intervalS: number; readonly channels: readonly Float32Array[] }
  | { readonly kind: "odd"; readonly why: string };

/** How long the data of one channel may take between two pieces, ms. */
const DATA_MS = 10_000;

/** Records once and fetches the channels, numbered from 1. Rejects with ScpiError. */
export async function recordScope(
  client: ScpiClient,
  words: ScopeWords,
  { channels, seconds, points }: { readonly channels: readonly number[]; readonly seconds: number; readonly points: number },
): Promise<Recorded> {
  const filled = (text: string, n = 1): string =>
    text.replace("{seconds}", seconds.toExponential(6)).replace("{points}", String(points)).replace("{n}", String(n));
  for (const message of words.prepare) client.tell(filled(message));
  const objection = await oldestError(client);
  if (objection !== undefined) return { kind: "odd", why: `the scope objects: ${objection.code}, ${objection.text}` };
  client.tell(words.record);
  await client.ask(words.done, 3000 + 2000 * seconds + DATA_MS);
  const number = async (question: string, otherwise: number): Promise<number> => {
    if (question === "") return otherwise;
    const answer = await client.ask(question);
    const read = answer.kind === "text" ? readNumber(answer.text) : undefined;
    return read?.kind === "value" ? read.value : NaN;
  };
  const intervalS = await number(words.interval, seconds / points);
  if (!(intervalS > 0)) return { kind: "odd", why: "the scope does not say how far its samples are apart" };
  const found: Float32Array[] = [];
  for (const n of channels) {
    const [factor, offset] = [await number(filled(words.factor, n), 1), await number(filled(words.offset, n), 0)];
    const answer = await client.ask(filled(words.data, n), DATA_MS);
    const samples: Samples =
      answer.kind === "text"
        ? samplesOfText(answer.text, factor, offset)
        : words.format === "ascii"
          ? { kind: "odd", why: "a block came, and text was waited for" }
          : samplesOf(answer.bytes, words.format, words.isBigEndian, factor, offset);
    if (samples.kind === "odd") return { kind: "odd", why: `channel ${n}: ${samples.why}` };
    if (samples.values.length !== (found[0] ?? samples.values).length)
      return { kind: "odd", why: `channel ${n} has ${samples.values.length} samples, the first has ${found[0]!.length}` };
    found.push(samples.values);
  }
  return { kind: "recorded", intervalS, channels: found };
}
