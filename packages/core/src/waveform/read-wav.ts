import { MOST_CHANNELS, type Channel, type Trace } from "./trace.ts";

export type WavRead = { readonly kind: "read"; readonly trace: Trace } | { readonly kind: "bad"; readonly why: string };

const PCM = 1;
const FLOAT = 3;
const EXTENSIBLE = 0xfffe;

/**
 * Reads a WAV file (RIFF, Microsoft Multimedia Programming Interface 1.0) of whole numbers of 8 to 32 bits or of floats as raw samples, −1 to 1 of full scale: what a volt is there nobody has
 * written into it.
 */
export function readWav(bytes: Uint8Array): WavRead {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const tag = (at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));
  const bad = (why: string): WavRead => ({ kind: "bad", why });
  if (bytes.length < 12 || tag(0) !== "RIFF" || tag(8) !== "WAVE") return bad("it does not begin as a WAV file does");
  let form: { readonly code: number; readonly channels: number; readonly rateHz: number; readonly bits: number } | undefined;
  let at = 12;
  while (at + 8 <= bytes.length) {
    const [name, size] = [tag(at), view.getUint32(at + 4, true)];
    const begin = at + 8;
    if (name === "fmt ") {
      if (size < 16 || begin + 16 > bytes.length) return bad("its form is cut off");
      const code = view.getUint16(begin, true);
      form = {
        code: code === EXTENSIBLE && size >= 26 && begin + 26 <= bytes.length ? view.getUint16(begin + 24, true) : code,
        channels: view.getUint16(begin + 2, true),
        rateHz: view.getUint32(begin + 4, true),
        bits: view.getUint16(begin + 14, true),
      };
    } else if (name === "data") {
      if (form === undefined) return bad("its samples come ahead of their form");
      return samplesOf(view, begin, Math.min(size, bytes.length - begin), form);
    }
    // Chunks begin at even places.
    at = begin + size + (size & 1);
  }
  return bad("it holds no samples");
}

function samplesOf(
  view: DataView,
  begin: number,
  size: number,
  { code, channels, rateHz, bits }: { readonly code: number; readonly channels: number; readonly rateHz: number; readonly bits: number },
): WavRead {
  const width = bits / 8;
  const read = READERS[`${code} ${bits}`];
  if (read === undefined) return { kind: "bad", why: `its samples are in a form that is not read (${code}, ${bits} bits)` };
  if (channels === 0 || rateHz === 0) return { kind: "bad", why: "its form says no channel, or no rate" };
  const count = Math.floor(size / (width * channels));
  if (count < 2) return { kind: "bad", why: "it holds fewer than two samples" };
  const made = Array.from({ length: Math.min(MOST_CHANNELS, channels) }, (_, c): Channel => {
    const samples = new Float32Array(count);
    for (let i = 0; i < count; i++) samples[i] = read(view, begin + (i * channels + c) * width);
    return { name: `Channel ${c + 1}`, unit: "", samples };
  });
  return { kind: "read", trace: { startS: 0, rateHz, count, channels: made } };
}

const READERS: Readonly<Record<string, (view: DataView, at: number) => number>> = {
  // Eight bits are counted from the middle.
  [`${PCM} 8`]: (v, at) => (v.getUint8(at) - 128) / 128,
  [`${PCM} 16`]: (v, at) => v.getInt16(at, true) / 2 ** 15,
  [`${PCM} 24`]: (v, at) => ((v.getInt8(at + 2) << 16) | v.getUint16(at, true)) / 2 ** 23,
  [`${PCM} 32`]: (v, at) => v.getInt32(at, true) / 2 ** 31,
  [`${FLOAT} 32`]: (v, at) => v.getFloat32(at, true),
  [`${FLOAT} 64`]: (v, at) => v.getFloat64(at, true),
};
