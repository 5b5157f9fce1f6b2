import { MOST_CHANNELS, type Channel, type Trace } from "./trace.ts";

export type VcdRead =
  { readonly kind: "read"; readonly trace: Trace; readonly leftOut: number } | { readonly kind: "bad"; readonly why: string };

const UNITS: Readonly<Record<string, number>> = { s: 1, ms: 1e-3, us: 1e-6, ns: 1e-9, ps: 1e-12, fs: 1e-15 };
/** Samples of all channels at most. */
const MOST_SAMPLES = 12e6;
/** Samples between the two changes that are nearest to each other. */
const PER_CHANGE = 8;
/** A share of the changes may be nearer than that: glitches. */
const NEAREST_SHARE = 0.02;

/** Whether a file begins as a value change dump. */
export const isVcd = (head: string): boolean => /^\s*\$(date|version|timescale|comment|scope|var)\b/.test(head);

/**
 * Reads a value change dump (IEEE 1364-2005, 18.2): signals of one bit, as 0 and 1 on an even clock that is fine enough for their changes. Unknown and high-impedance values are gaps. Signals of several bits,
 * real numbers, and those beyond eight, are left out and counted.
 */
export function readVcd(text: string): VcdRead {
  const bad = (why: string): VcdRead => ({ kind: "bad", why });
  const scale = /\$timescale\s+(1|10|100)\s*(s|ms|us|ns|ps|fs)\s+\$end/.exec(text);
  if (scale === null) return bad("it says no time scale");
  const unitS = Number(scale[1]) * UNITS[scale[2]!]!;
  const begin = text.indexOf("$enddefinitions");
  if (begin < 0) return bad("its definitions do not end");
  const names = new Map<string, string>();
  let leftOut = 0;
  for (const [, width, id, name] of text.slice(0, begin).matchAll(/\$var\s+\w+\s+(\d+)\s+(\S+)\s+(\S+)(?:\s+\[[^\]]*\])?\s+\$end/g)) {
    if (width !== "1" || (names.size >= MOST_CHANNELS && !names.has(id!))) leftOut++;
    else if (!names.has(id!)) names.set(id!, name!);
  }
  if (names.size === 0) return bad("it has no signal of one bit");
  const changes = new Map([...names.keys()].map((id) => [id, { times: [] as number[], values: [] as number[] }]));
  let [now, last] = [0, -1];
  let first: number | undefined;
  const body = text.slice(text.indexOf("$end", begin) + 4);
  for (const token of body.split(/\s+/)) {
    const sign = token[0];
    if (sign === "#") {
      now = Number(token.slice(1));
      if (!Number.isFinite(now)) return bad(`“${token.slice(0, 20)}” is no time`);
      if (now < last) return bad(`the time goes backwards at #${now}`);
      last = now;
      first ??= now;
    } else if (sign === "0" || sign === "1" || sign === "x" || sign === "X" || sign === "z" || sign === "Z") {
      const of = changes.get(token.slice(1));
      if (of === undefined) continue;
      const value = sign === "0" ? 0 : sign === "1" ? 1 : NaN;
      if (Object.is(of.values.at(-1), value)) continue;
      if (of.times.at(-1) === now) of.values[of.values.length - 1] = value;
      else {
        of.times.push(now);
        of.values.push(value);
      }
    }
  }
  if (first === undefined || last <= first) return bad("it has no changes over time");
  const steps = [...changes.values()].flatMap(({ times }) => times.slice(1).map((t, i) => t - times[i]!)).sort((p, q) => p - q);
  const nearest = steps[Math.floor(steps.length * NEAREST_SHARE)] ?? last - first;
  const most = Math.floor(MOST_SAMPLES / names.size) - 1;
  const stepUnits = Math.max(1, nearest / PER_CHANGE, (last - first) / most);
  const count = Math.max(2, Math.floor((last - first) / stepUnits) + 1);
  const channels = [...names].map(([id, name]): Channel => {
    const { times, values } = changes.get(id)!;
    const samples = new Float32Array(count).fill(NaN);
    times.forEach((t, k) => {
      const from = Math.max(0, Math.ceil((t - first) / stepUnits));
      const to = k + 1 < times.length ? Math.ceil((times[k + 1]! - first) / stepUnits) : count;
      samples.fill(values[k]!, from, Math.min(count, to));
    });
    return { name, unit: "", samples };
  });
  return { kind: "read", trace: { startS: first * unitS, rateHz: 1 / (stepUnits * unitS), count, channels }, leftOut };
}
