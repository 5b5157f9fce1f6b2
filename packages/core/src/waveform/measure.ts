/** What is measured of a channel between two samples. Levels in the channel's unit, times in s. Undefined where the window does not show it. */
export interface Measures {
  readonly min: number;
  readonly max: number;
  readonly mean: number;
  readonly rms: number;
  readonly peakToPeak: number;
  /** Most usual levels below and above the middle, by histogram: what a pulse rests at, without its overshoot. */
  readonly low: number;
  readonly high: number;
  /** Crossings of the middle upwards and downwards. */
  readonly edges: number;
  readonly periodS: number | undefined;
  readonly frequencyHz: number | undefined;
  /** Share of a period that is spent above the middle, 0 to 1. */
  readonly duty: number | undefined;
  /** Mean time above the middle. */
  readonly pulseS: number | undefined;
  /** Mean time from 10 to 90 % of the way between low and high, and back. */
  readonly riseS: number | undefined;
  readonly fallS: number | undefined;
  /** Standard deviation of the periods. */
  readonly jitterS: number | undefined;
  /** Samples that were measured; the others were gaps. */
  readonly samples: number;
}

/** Bins of the histogram in which levels are sought. */
const BINS = 256;
/** Share of the swing that a signal must come back by before another crossing counts: noise on a slow edge is no edge. */
const HYSTERESIS = 0.1;

/** Finest division in which the ends that are trimmed are counted. */
const TRIM_BINS = 4096;

/**
 * Measures samples [from, to). `trim`: share of the time at either end of the range in which no level is sought, such as the kick of a winding; then what rings at an edge is no edge of its own either. Each crossing is placed between two samples by a straight line, so that times are finer than the sampling; what they are uncertain by is about the
 * noise divided by the slope there. Throws RangeError when the window holds no sample.
 */
export function measure(samples: Float32Array, rateHz: number, from = 0, to = samples.length, trim = 0): Measures {
  let [min, max, sum, squares, count] = [Infinity, -Infinity, 0, 0, 0];
  for (let i = from; i < to; i++) {
    const v = samples[i]!;
    // A gap is neither low nor high.
    if (Number.isNaN(v)) continue;
    if (v < min) min = v;
    if (v > max) max = v;
    sum += v;
    squares += v * v;
    count++;
  }
  if (count === 0) throw new RangeError(`no sample between ${from} and ${to}`);
  const peakToPeak = max - min;
  const { low, high } =
    trim > 0
      ? medianLevels(samples, from, to, trimmed(samples, from, to, { min, max, count, trim }))
      : levelsOf(samples, from, to, min, max);
  const all = crossingsOf(samples, from, to, low, high);
  const crossings = trim > 0 ? withoutGlitches(all) : all;
  const periods = periodsOf(crossings.ups.length >= 2 ? crossings.ups : crossings.downs, crossings.gaps).map((p) => p / rateHz);
  const period = meanOf(periods);
  const pulses = pulsesOf(crossings).map((n) => n / rateHz);
  const pulse = meanOf(pulses);
  return {
    min,
    max,
    mean: sum / count,
    rms: Math.sqrt(squares / count),
    peakToPeak,
    low,
    high,
    edges: crossings.ups.length + crossings.downs.length,
    periodS: period,
    frequencyHz: period === undefined ? undefined : 1 / period,
    duty: period === undefined || pulse === undefined ? undefined : Math.min(1, pulse / period),
    pulseS: pulse,
    riseS: meanOf(crossings.rises.map((n) => n / rateHz)),
    fallS: meanOf(crossings.falls.map((n) => n / rateHz)),
    jitterS: periods.length < 2 ? undefined : Math.sqrt(periods.reduce((s, p) => s + (p - period!) ** 2, 0) / (periods.length - 1)),
    samples: count,
  };
}

const meanOf = (list: readonly number[]): number | undefined =>
  list.length === 0 ? undefined : list.reduce((sum, v) => sum + v, 0) / list.length;

/** Lengths from each crossing to the next, in samples; what a gap lies in is none. */
const periodsOf = (crossings: readonly number[], gaps: readonly number[]): number[] =>
  crossings.slice(1).flatMap((at, i) => (hasGap(gaps, crossings[i]!, at) ? [] : [at - crossings[i]!]));

/** Whether one of the gaps, in order, lies between two samples. */
function hasGap(gaps: readonly number[], from: number, to: number): boolean {
  let [low, high] = [0, gaps.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (gaps[middle]! < from) low = middle + 1;
    else high = middle;
  }
  return low < gaps.length && gaps[low]! < to;
}

/** The range without what lies beyond it for less than a share of the time at either end. */
function trimmed(
  samples: Float32Array,
  from: number,
  to: number,
  of: { readonly min: number; readonly max: number; readonly count: number; readonly trim: number },
): readonly [min: number, max: number] {
  const swing = of.max - of.min;
  if (swing === 0) return [of.min, of.max];
  const counts = new Float64Array(TRIM_BINS);
  for (let i = from; i < to; i++) {
    const v = samples[i]!;
    if (!Number.isNaN(v)) counts[Math.min(TRIM_BINS - 1, Math.floor(((v - of.min) / swing) * TRIM_BINS))]! += 1;
  }
  const least = of.trim * of.count;
  const end = (bins: readonly number[]): number => {
    let sum = 0;
    return bins.find((b) => (sum += counts[b]!) > least)!;
  };
  const up = Array.from(counts.keys());
  const [bottom, top] = [end(up), end(up.toReversed())];
  return [of.min + (bottom / TRIM_BINS) * swing, of.min + ((top + 1) / TRIM_BINS) * swing];
}

/** The medians below and above the middle of a range: of a level that rises or falls its middle. */
function medianLevels(
  samples: Float32Array,
  from: number,
  to: number,
  [bottom, top]: readonly [number, number],
): { readonly low: number; readonly high: number } {
  if (top <= bottom) return { low: bottom, high: top };
  const middle = (bottom + top) / 2;
  const sides: readonly [number[], number[]] = [[], []];
  // A few thousand of them tell as much as all.
  const step = Math.max(1, Math.floor((to - from) / MEDIAN_OF));
  for (let i = from; i < to; i += step) {
    const v = samples[i]!;
    if (v >= bottom && v <= top) sides[v < middle ? 0 : 1].push(v);
  }
  const [low, high] = sides.map((side) => side.sort((p, q) => p - q)[side.length >> 1]);
  return { low: low ?? bottom, high: high ?? top };
}
const MEDIAN_OF = 50_000;

/** The fullest bins below and above the middle. A signal that has no swing has one level. */
function levelsOf(
  samples: Float32Array,
  from: number,
  to: number,
  min: number,
  max: number,
): { readonly low: number; readonly high: number } {
  const swing = max - min;
  if (swing === 0) return { low: min, high: max };
  const counts = new Float64Array(BINS);
  const sums = new Float64Array(BINS);
  for (let i = from; i < to; i++) {
    const v = samples[i]!;
    if (!(v >= min && v <= max)) continue;
    const bin = Math.min(BINS - 1, Math.floor(((v - min) / swing) * BINS));
    counts[bin]! += 1;
    sums[bin]! += v;
  }
  const half = BINS >> 1;
  // A flat part fills a few bins beside each other; they are taken together.
  const fullest = (begin: number, end: number): number => {
    let [best, most] = [begin, -1];
    for (let bin = begin; bin < end; bin++) {
      const sum = near(counts, bin, begin, end);
      if (sum > most) [best, most] = [bin, sum];
    }
    return near(sums, best, begin, end) / near(counts, best, begin, end);
  };
  return { low: fullest(0, half), high: fullest(half, BINS) };
}

/** Bins on either side that count as the same level. */
const BESIDE = 2;
function near(list: Float64Array, bin: number, begin: number, end: number): number {
  let sum = 0;
  for (let i = Math.max(begin, bin - BESIDE); i <= Math.min(end - 1, bin + BESIDE); i++) sum += list[i]!;
  return sum;
}

/** Places of crossings and lengths of edges, in samples and parts of one. */
export interface Crossings {
  readonly ups: readonly number[];
  readonly downs: readonly number[];
  readonly rises: readonly number[];
  readonly falls: readonly number[];
  /** First samples of gaps. */
  readonly gaps: readonly number[];
}

/** Crossings of the middle between two levels, in samples [from, to). */
export function crossingsOf(samples: Float32Array, from: number, to: number, low: number, high: number): Crossings {
  const [ups, downs, rises, falls, gaps]: [number[], number[], number[], number[], number[]] = [[], [], [], [], []];
  const swing = high - low;
  if (swing <= 0) return { ups, downs, rises, falls, gaps };
  const middle = low + swing / 2;
  const [upper, lower] = [middle + HYSTERESIS * swing, middle - HYSTERESIS * swing];
  const [ten, ninety] = [low + 0.1 * swing, low + 0.9 * swing];
  let state: "unknown" | "low" | "high" = "unknown";
  // The latest crossing of the middle, of a tenth and of nine tenths in either direction, while it is not known yet whether an edge comes of it.
  let [up, down, upTen, downNinety] = [NaN, NaN, NaN, NaN];
  let [rising, falling] = [NaN, NaN];
  let last = NaN;
  for (let i = from; i < to; i++) {
    const v = samples[i]!;
    if (Number.isNaN(v)) {
      // What happens in a gap is not known: no edge is counted over it.
      if (!Number.isNaN(last)) gaps.push(i);
      [state, last, up, down, upTen, downNinety, rising, falling] = ["unknown", NaN, NaN, NaN, NaN, NaN, NaN, NaN];
      continue;
    }
    const at = (level: number): number => i - 1 + (level - last) / (v - last);
    if (last < ten && v >= ten) upTen = at(ten);
    if (last > ninety && v <= ninety) downNinety = at(ninety);
    if (last < middle && v >= middle) up = at(middle);
    if (last > middle && v <= middle) down = at(middle);
    if (v >= upper && state !== "high") {
      if (state === "low" && !Number.isNaN(up)) {
        ups.push(up);
        rising = upTen;
        falling = NaN;
      }
      state = "high";
    } else if (v <= lower && state !== "low") {
      if (state === "high" && !Number.isNaN(down)) {
        downs.push(down);
        falling = downNinety;
        rising = NaN;
      }
      state = "low";
    }
    if (!Number.isNaN(rising) && last < ninety && v >= ninety) {
      rises.push(at(ninety) - rising);
      rising = NaN;
    }
    if (!Number.isNaN(falling) && last > ten && v <= ten) {
      falls.push(at(ten) - falling);
      falling = NaN;
    }
    last = v;
  }
  return { ups, downs, rises, falls, gaps };
}

/** Stretches of less than this share of the longest one are the ringing of an edge. */
const GLITCH = 0.01;

/** Crossings without those that a signal comes back from at once. */
function withoutGlitches({ ups, downs, rises, falls, gaps }: Crossings): Crossings {
  const all = [...ups.map((at) => ({ at, up: true })), ...downs.map((at) => ({ at, up: false }))].sort((p, q) => p.at - q.at);
  const least = GLITCH * all.reduce((most, c, i) => (i === 0 ? 0 : Math.max(most, c.at - all[i - 1]!.at)), 0);
  const kept: typeof all = [];
  for (const c of all) {
    if (kept.length > 0 && c.up !== kept.at(-1)!.up && c.at - kept.at(-1)!.at < least) kept.pop();
    else if (kept.at(-1)?.up !== c.up) kept.push(c);
  }
  return { ups: kept.flatMap((c) => (c.up ? [c.at] : [])), downs: kept.flatMap((c) => (c.up ? [] : [c.at])), rises, falls, gaps };
}

/** Lengths from each upward crossing to the next downward one, in samples. */
function pulsesOf({ ups, downs, gaps }: Crossings): number[] {
  const made: number[] = [];
  let d = 0;
  for (const up of ups) {
    while (d < downs.length && downs[d]! <= up) d++;
    if (d < downs.length && !hasGap(gaps, up, downs[d]!)) made.push(downs[d]! - up);
  }
  return made;
}
