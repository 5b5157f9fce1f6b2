/** A stretch at one level. Times in s from the first sample. */
export interface Run {
  readonly isHigh: boolean;
  readonly startS: number;
  readonly endS: number;
}

/** Levels, in the samples' unit, above which a line is high and below which it is low; between them it stays what it was. */
export interface Thresholds {
  readonly rises: number;
  readonly falls: number;
}

/** The levels of a line over time, its edges placed between two samples where they cross the middle. A gap ends a stretch, and what follows begins anew. */
export function runsOf(samples: Float32Array, rateHz: number, { rises, falls }: Thresholds): readonly Run[] {
  const middle = (rises + falls) / 2;
  const runs: Run[] = [];
  let state: boolean | undefined;
  let [since, crossing] = [0, 0];
  let last = NaN;
  const end = (at: number): void => {
    if (state !== undefined && at > since) runs.push({ isHigh: state, startS: since / rateHz, endS: at / rateHz });
  };
  for (let i = 0; i < samples.length; i++) {
    // Nearly all of them stay on their side.
    const stays = state === true ? firstNotAbove(samples, i, middle) : state === false ? firstNotBelow(samples, i, middle) : i;
    if (stays > i) last = samples[stays - 1]!;
    i = stays;
    if (i >= samples.length) break;
    const v = samples[i]!;
    if (Number.isNaN(v)) {
      end(i);
      [state, last] = [undefined, NaN];
      continue;
    }
    if ((last < middle && v >= middle) || (last > middle && v <= middle)) crossing = i - 1 + (middle - last) / (v - last);
    last = v;
    const next = v >= rises ? true : v <= falls ? false : state;
    if (next === state || next === undefined) continue;
    const at = state === undefined ? i : crossing;
    end(at);
    [state, since] = [next, at];
  }
  end(samples.length);
  return runs;
}

/** The first sample from one on that is not above a level, or a gap; their number where there is none. */
function firstNotAbove(samples: Float32Array, from: number, level: number): number {
  let i = from;
  while (i < samples.length && samples[i]! > level) i++;
  return i;
}
function firstNotBelow(samples: Float32Array, from: number, level: number): number {
  let i = from;
  while (i < samples.length && samples[i]! < level) i++;
  return i;
}

/** Reads the level at rising times. */
export function levelReader(runs: readonly Run[]): (timeS: number) => boolean | undefined {
  let at = 0;
  return (timeS) => {
    while (at > 0 && runs[at]!.startS > timeS) at--;
    while (at < runs.length - 1 && runs[at]!.endS <= timeS) at++;
    const run = runs[at];
    return run !== undefined && run.startS <= timeS && timeS < run.endS ? run.isHigh : undefined;
  };
}
