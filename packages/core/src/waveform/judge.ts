import { formatAmps, formatSeconds, formatVolts } from "../quantity/index.ts";
import type { Measures } from "./measure.ts";

/** What a good circuit shows at a place, in V or A. */
export interface GoodTrace {
  readonly unit: "V" | "A";
  readonly measures: Measures;
  /** The longest time that it stays at one level, s. */
  readonly pauseS?: number | undefined;
  /** Levels and share of the time at the high one, %, as the circuit has them at rest in each phase: what evidence is weighed by. A winding's current that rises all the while is not at rest. */
  readonly steady?: { readonly low: number; readonly high: number; readonly dutyPercent: number } | undefined;
  /** Electrical frequency of the alternator while it turns, Hz. */
  readonly alternatorHertz?: number | undefined;
}

/** What was recorded there, in the same unit. */
export interface SeenTrace {
  readonly measures: Measures;
  /** The longest time at one level, s, and when it began. */
  readonly pause?: { readonly startS: number; readonly seconds: number } | undefined;
  /** Amplitudes at the alternator's frequency and at six times that, where its diodes follow each other. */
  readonly ripple?: { readonly own: number; readonly sixth: number } | undefined;
}

/** One sentence of the judgement. */
export interface TraceFinding {
  readonly isGood: boolean;
  readonly words: string;
}

/** Of the time at either end of the range: what a winding kicks is no level of a pulse. Both recordings are measured so. */
export const KICK_SHARE = 0.025;
/** A line that swings by less does not pulse, V or A. */
const LEAST_SWING = 0.5;
/** Levels are as good within this share and so much, V or A: a battery is not as full as the model's. */
const LEVEL_SHARE = 0.08;
const LEVEL = 0.2;
const DUTY = 0.03;
const FREQUENCY_SHARE = 0.08;
/** An amplitude below this share of a good one is told as such. */
const AMPLITUDE_SHARE = 0.85;
const SLOWER = 3;
/** Edges of less than this share of the amplitude say nothing. */
const EDGE_SHARE = 0.5;
/** A pause so many times as long as a good one's is a fault. */
const PAUSE_TIMES = 1.8;
const RIPPLE = 0.3;
const RIPPLE_TIMES = 2.5;

/** Whether a recording goes between two levels. */
const pulses = (m: Measures): boolean => m.edges >= 2 && m.duty !== undefined && m.high - m.low > LEAST_SWING;

/** Judges what was recorded by what a good circuit shows there: wrong things first. */
export function judgeTrace(good: GoodTrace, seen: SeenTrace): readonly TraceFinding[] {
  const show = good.unit === "A" ? formatAmps : formatVolts;
  const [g, s] = [good.measures, seen.measures];
  const factor = wrongFactor(g, s);
  if (factor !== undefined)
    return [
      {
        isGood: false,
        words: `This looks ${factor > 1 ? "ten times too small" : "ten times too large"}: probe × ${factor > 1 ? "10" : "0.1"}?`,
      },
    ];
  const found = pulses(g)
    ? pulses(s)
      ? bothPulse(good, seen, show)
      : [
          wrong(
            `No pulses: it stands at ${show(s.mean)}. Good: ${show(g.low)} to ${show(g.high)}, high for ${percent(g.duty)} of the time, ${hertz(g.frequencyHz)}.`,
          ),
        ]
    : pulses(s) && s.high - s.low > RIPPLE_TIMES * g.peakToPeak
      ? [wrong(`Pulses from ${show(s.low)} to ${show(s.high)} at ${hertz(s.frequencyHz)}, where a good circuit stands at ${show(g.mean)}.`)]
      : level(g, s, show);
  return [...found, ...rippleOf(good, seen, show)].sort((p, q) => Number(p.isGood) - Number(q.isGood));
}

const wrong = (words: string): TraceFinding => ({ isGood: false, words });
const fine = (words: string): TraceFinding => ({ isGood: true, words });
const percent = (share: number | undefined): string => (share === undefined ? "–" : `${Math.round(100 * share)} %`);
const hertz = (f: number | undefined): string => (f === undefined ? "–" : `${Number(f.toPrecision(3))} Hz`);
type Show = (value: number) => string;

const isNear = (seen: number, good: number): boolean => Math.abs(seen - good) <= LEVEL + LEVEL_SHARE * Math.abs(good);

/** Tenfold or a tenth of a good one all over: not the circuit, but how the probe was told. */
function wrongFactor(g: Measures, s: Measures): number | undefined {
  if (Math.abs(g.high) < 1) return undefined;
  const ratio = s.high / g.high;
  const isTenth = (r: number): boolean => r > 0.085 && r < 0.115;
  // A lost amplitude keeps one of its levels or its bottom; a wrong factor scales both.
  const scales = (by: number): boolean => Math.abs(s.low * by - g.low) <= LEVEL + LEVEL_SHARE * Math.abs(g.high);
  if (isTenth(ratio) && scales(10) && Math.abs(g.low) > LEVEL) return 10;
  if (isTenth(ratio) && !pulses(g) && !pulses(s) && scales(10)) return 10;
  return isTenth(1 / ratio) && scales(0.1) ? 0.1 : undefined;
}

function bothPulse({ measures: g, pauseS }: GoodTrace, { measures: s, pause }: SeenTrace, show: Show): readonly TraceFinding[] {
  const found: TraceFinding[] = [];
  const amplitude = (s.high - s.low) / (g.high - g.low);
  const [lowIsNear, highIsNear] = [isNear(s.low, g.low), isNear(s.high, g.high)];
  if (amplitude < AMPLITUDE_SHARE && !(lowIsNear && highIsNear))
    found.push(
      wrong(
        `Amplitude ${show(s.high - s.low)} of ${show(g.high - g.low)}: ${
          highIsNear
            ? `its low level of ${show(s.low)} does not reach ${show(g.low)}, a resistance towards what pulls it down`
            : lowIsNear
              ? `its high level of ${show(s.high)} does not reach ${show(g.high)}, a resistance towards what feeds it`
              : `from ${show(s.low)} to ${show(s.high)} in place of ${show(g.low)} to ${show(g.high)}`
        }.`,
      ),
    );
  else if (!lowIsNear) found.push(wrong(`Low level ${show(s.low)} in place of ${show(g.low)}.`));
  else if (!highIsNear) found.push(wrong(`High level ${show(s.high)} in place of ${show(g.high)}.`));
  else found.push(fine(`Levels ${show(s.low)} and ${show(s.high)}, as in a good circuit.`));
  found.push(
    Math.abs((s.duty ?? 0) - (g.duty ?? 0)) <= DUTY
      ? fine(`High for ${percent(s.duty)} of the time, as commanded.`)
      : wrong(`High for ${percent(s.duty)} of the time in place of ${percent(g.duty)}.`),
  );
  const [f, h] = [s.frequencyHz, g.frequencyHz];
  if (f !== undefined && h !== undefined)
    found.push(Math.abs(f / h - 1) <= FREQUENCY_SHARE ? fine(`${hertz(f)}, as commanded.`) : wrong(`${hertz(f)} in place of ${hertz(h)}.`));
  for (const [name, mine, theirs] of [
    ["Rises", s.riseS, g.riseS],
    ["Falls", s.fallS, g.fallS],
  ] as const)
    if (amplitude > EDGE_SHARE && mine !== undefined && theirs !== undefined && mine > SLOWER * theirs && mine > 0.02 * (s.periodS ?? 0))
      found.push(wrong(`${name} in ${formatSeconds(mine)}, a good one in ${formatSeconds(theirs)}.`));
  if (pause !== undefined && pauseS !== undefined && pause.seconds > PAUSE_TIMES * pauseS)
    found.push(wrong(`No pulse for ${formatSeconds(pause.seconds)} from ${Number(pause.startS.toPrecision(4))} s on.`));
  return found;
}

function level(g: Measures, s: Measures, show: Show): readonly TraceFinding[] {
  return [
    isNear(s.mean, g.mean)
      ? fine(`Stands at ${show(s.mean)}, as in a good circuit.`)
      : wrong(`Stands at ${show(s.mean)} in place of ${show(g.mean)}.`),
  ];
}

/** Ripple on what should stand still. */
function rippleOf({ measures: g, alternatorHertz }: GoodTrace, { measures: s, ripple }: SeenTrace, show: Show): readonly TraceFinding[] {
  if (pulses(g) || alternatorHertz === undefined) return [];
  if (s.peakToPeak < Math.max(RIPPLE, RIPPLE_TIMES * g.peakToPeak)) return [fine(`Ripple ${show(s.peakToPeak)} from peak to peak.`)];
  const ofADiode = ripple !== undefined && ripple.own > ripple.sixth;
  return [
    wrong(
      `Ripple ${show(s.peakToPeak)} from peak to peak, a good one ${show(g.peakToPeak)}${
        ofADiode ? `: most of it once a turn of the alternator's field (${hertz(alternatorHertz)}), as with a diode lost` : ""
      }.`,
    ),
  ];
}
