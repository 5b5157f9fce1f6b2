import type { TraceNote, TraceProblem } from "@rheonom/core/waveform";

/** What is visible of a trace, in samples, and where the cursors stand, in samples too. */
export interface Sight {
  readonly from: number;
  readonly to: number;
  readonly a: number;
  readonly b: number;
}

/** Samples that are visible at least. */
const LEAST_SEEN = 8;

export const wholeOf = (count: number): Sight => ({ from: 0, to: count, a: Math.round(count * 0.25), b: Math.round(count * 0.75) });

/** Zooms by a factor around a share of the width, and stays within the trace. */
export function zoomed(s: Sight, count: number, factor: number, around: number): Sight {
  const width = Math.min(count, Math.max(LEAST_SEEN, (s.to - s.from) * factor));
  const from = s.from + (s.to - s.from) * around - width * around;
  return held({ ...s, from, to: from + width }, count);
}

/** Moves by a share of what is visible. */
export const panned = (s: Sight, count: number, share: number): Sight => {
  const by = (s.to - s.from) * share;
  return held({ ...s, from: s.from + by, to: s.to + by }, count);
};

/** Shows samples from one to another with a tenth of room at either side, and puts the cursors there. */
export function shownAround(s: Sight, count: number, from: number, to: number): Sight {
  const room = Math.max(LEAST_SEEN, (to - from) / 10);
  return held({ ...s, from: from - room, to: Math.max(to + room, from + LEAST_SEEN), a: from, b: Math.min(count - 1, to) }, count);
}

function held(s: Sight, count: number): Sight {
  const width = Math.min(count, Math.round(s.to - s.from));
  const from = Math.min(count - width, Math.max(0, Math.round(s.from)));
  return { ...s, from, to: from + width };
}

/** Puts a cursor at a sample. */
export const withCursor = (s: Sight, count: number, which: "a" | "b", at: number): Sight => ({
  ...s,
  [which]: Math.min(count - 1, Math.max(0, Math.round(at))),
});

/** Moves a cursor by hundredths of what is visible, one sample at least. */
export const cursorMoved = (s: Sight, count: number, which: "a" | "b", hundredths: number): Sight =>
  withCursor(s, count, which, s[which] + Math.sign(hundredths) * Math.max(1, (Math.abs(hundredths) * (s.to - s.from)) / 100));

/** The window between the cursors: [from, to), two samples at least. */
export const windowOf = ({ a, b }: Sight, count: number): readonly [from: number, to: number] => {
  const from = Math.min(a, b, count - 2);
  return [from, Math.max(from + 2, Math.max(a, b) + 1)];
};

const PREFIXES = [
  [1, ""],
  [1e-3, "m"],
  [1e-6, "µ"],
  [1e-9, "n"],
] as const;

const NOTHING = 1e-12;

/** A number with a prefix: 0.00052 s is "520 µs". `digits` that count. */
export function scaled(value: number, unit: string, digits = 4): string {
  // What is left of rounding is nothing.
  if (Math.abs(value) < NOTHING) return `0 ${unit}`;
  if (!Number.isFinite(value)) return `${value} ${unit}`;
  const [size, prefix] =
    Math.abs(value) >= 1e6
      ? ([1e6, "M"] as const)
      : Math.abs(value) >= 1e3
        ? ([1e3, "k"] as const)
        : (PREFIXES.find(([p]) => Math.abs(value) >= p) ?? PREFIXES[3]);
  return `${Number((value / size).toPrecision(digits))} ${prefix}${unit}`;
}

/** What went wrong with a file, and what to do. */
export function problemWords(p: TraceProblem): string {
  switch (p.code) {
    case "empty":
      return "The file is empty.";
    case "binary":
      return "This is no table and no WAV file. Export the trace as CSV.";
    case "no numbers":
      return "No line of numbers was found. Export the trace as CSV, with one line a sample.";
    case "one sample":
      return "There is only one sample. A trace has two at least.";
    case "time backwards":
      return `The time goes backwards in line ${p.line}. Export one recording at a time, or say below that the column is no time.`;
    case "time stands still":
      return `The same time stands in line ${p.line} and the line before. Export with more digits, or say below that the column is no time.`;
    case "rate wanted":
      return "The file says neither times nor a rate. Type below how many samples a second there are.";
    case "too many samples":
      return `More than ${p.most / 1e6} million samples. Export a shorter part, or fewer channels.`;
  }
}

/** What was odd and could be put up with. */
export function noteWords(n: TraceNote): string {
  switch (n.code) {
    case "lines passed over":
      return `${n.count} ${n.count === 1 ? "line is" : "lines are"} no samples and passed over, the first is line ${n.first}.`;
    case "gaps":
      return `${n.samples} samples are missing; the trace has gaps there.`;
    case "uneven steps":
      return "The times are uneven; samples are put on an even clock.";
    case "signals left out":
      return `${n.count} ${n.count === 1 ? "signal is" : "signals are"} left out: of several bits, or more than eight.`;
    case "channels left out":
      return `${n.count} channels more than eight are left out.`;
  }
}
