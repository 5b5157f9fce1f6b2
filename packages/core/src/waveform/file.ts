import { z } from "zod";
import { MOST_CHANNELS, type Trace } from "./trace.ts";

/** Samples of all channels of a kept trace at most. */
export const MOST_KEPT_SAMPLES = 12e6;

/** Head of a kept trace: one line of JSON ahead of the samples. */
export const traceHead = z.strictObject({
  format: z.literal("rheonom-trace"),
  version: z.literal(1),
  startS: z.number().min(-1e9).max(1e9),
  rateHz: z.number().positive().max(1e12),
  count: z.number().int().min(2).max(MOST_KEPT_SAMPLES),
  channels: z
    .array(z.strictObject({ name: z.string().max(80), unit: z.string().max(12) }))
    .min(1)
    .max(MOST_CHANNELS),
});
export type TraceHead = z.infer<typeof traceHead>;

const LINE_END = 10;
/** Longest head, bytes. */
const MOST_HEAD = 8192;
const FLOAT = 4;

const ascii = (text: string): Uint8Array => Uint8Array.from(text, (c) => c.charCodeAt(0));
/** JSON of ASCII alone, so that a byte is a character. */
const headText = (head: TraceHead): string =>
  JSON.stringify(head).replace(/[\u0080-\uffff]/g, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, "0")}`);

/** A trace as a file, not packed: its head, a line feed, then each channel's samples as 32-bit floats, least significant byte first. Same trace, same bytes. */
export function writeTraceFile({ startS, rateHz, count, channels }: Trace): Uint8Array {
  const head = ascii(
    headText({ format: "rheonom-trace", version: 1, startS, rateHz, count, channels: channels.map(({ name, unit }) => ({ name, unit })) }),
  );
  const bytes = new Uint8Array(head.length + 1 + channels.length * count * FLOAT);
  bytes.set(head);
  bytes[head.length] = LINE_END;
  const view = new DataView(bytes.buffer, head.length + 1);
  channels.forEach(({ samples }, c) => {
    for (let i = 0; i < count; i++) view.setFloat32((c * count + i) * FLOAT, samples[i]!, true);
  });
  return bytes;
}

export type TraceFileRead = { readonly kind: "read"; readonly trace: Trace } | { readonly kind: "bad"; readonly why: string };

export type TraceHeadRead =
  | { readonly kind: "head"; readonly head: TraceHead; /** Where the samples begin. */ readonly begin: number }
  | { readonly kind: "bad"; readonly why: string };

/** Looks at a trace file, not packed: its head, and whether it is as long as that says. */
export function readTraceHead(bytes: Uint8Array): TraceHeadRead {
  const bad = (why: string): TraceHeadRead => ({ kind: "bad", why });
  const end = bytes.subarray(0, MOST_HEAD).indexOf(LINE_END);
  if (end < 0) return bad("it has no head");
  const head = traceHead.safeParse(parsed(String.fromCharCode(...bytes.subarray(0, end))));
  if (!head.success)
    return bad(`its head is not one of a trace (${head.error.issues[0]?.path.join(".")}: ${head.error.issues[0]?.message})`);
  const { count, channels } = head.data;
  if (count * channels.length > MOST_KEPT_SAMPLES) return bad(`it has more than ${MOST_KEPT_SAMPLES / 1e6} million samples`);
  const wanted = end + 1 + count * channels.length * FLOAT;
  if (bytes.length !== wanted) return bad(`it has ${bytes.length} bytes in place of ${wanted}`);
  return { kind: "head", head: head.data, begin: end + 1 };
}

/** Whether this machine keeps numbers as the file does, least significant byte first. */
const IS_LIKE_FILE = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1;

/** The numbers that a copy of a part of a file holds. */
function floatsOf(bytes: Uint8Array<ArrayBuffer>): Float32Array {
  if (IS_LIKE_FILE) return new Float32Array(bytes.buffer);
  const view = new DataView(bytes.buffer);
  return Float32Array.from({ length: bytes.length / FLOAT }, (_, i) => view.getFloat32(i * FLOAT, true));
}

/** Reads a trace file, not packed. */
export function readTraceFile(bytes: Uint8Array): TraceFileRead {
  const looked = readTraceHead(bytes);
  if (looked.kind === "bad") return looked;
  const { count, channels, startS, rateHz } = looked.head;
  return {
    kind: "read",
    trace: {
      startS,
      rateHz,
      count,
      channels: channels.map(({ name, unit }, c) => {
        const begin = looked.begin + c * count * FLOAT;
        // Not by `slice`: that of a Buffer is a view.
        const own = new Uint8Array(count * FLOAT);
        own.set(bytes.subarray(begin, begin + own.length));
        return { name, unit, samples: floatsOf(own) };
      }),
    },
  };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
