import type { Potentials } from "./potentials.ts";
import type { Staircase, Step } from "./staircase.ts";

/** A stretch between two places whose difference is known, before judging. */
export interface RawStretch {
  readonly from: number;
  readonly to: number;
  readonly steps: readonly number[];
  readonly dropVolts: number;
  readonly uncertaintyVolts: number;
  readonly readings: readonly string[];
}

/** Cuts the path at every measured place; inner stretches are taken out of wider ones that a separate chain of readings gave. */
export function rawStretches(staircase: Staircase, potentials: Potentials): RawStretch[] {
  const count = staircase.places.length;
  const found: RawStretch[] = [];
  for (let i = 0; i < count - 1; i++) {
    for (let j = i + 1; j < count; j++) {
      const d = potentials.difference(staircase.places[i]!, staircase.places[j]!);
      if (d === undefined) continue;
      const steps = Array.from({ length: j - i }, (_, k) => i + k);
      found.push({ from: i, to: j, steps, dropVolts: d.volts, uncertaintyVolts: d.uncertaintyVolts, readings: d.readings });
      break;
    }
  }
  return found.flatMap((wide) => {
    const inner = found.filter((n) => n !== wide && n.from >= wide.from && n.to <= wide.to && n.steps.length < wide.steps.length);
    const outermost = inner.filter((n) => !inner.some((m) => m !== n && m.from <= n.from && m.to >= n.to));
    if (outermost.length === 0) return [wide];
    const covered = new Set(outermost.flatMap((n) => n.steps));
    const steps = wide.steps.filter((s) => !covered.has(s));
    if (steps.length === 0) return [];
    return [
      {
        from: wide.from,
        to: wide.to,
        steps,
        dropVolts: wide.dropVolts - outermost.reduce((sum, n) => sum + n.dropVolts, 0),
        uncertaintyVolts: Math.hypot(wide.uncertaintyVolts, ...outermost.map((n) => n.uncertaintyVolts)),
        readings: [...new Set([...wide.readings, ...outermost.flatMap((n) => n.readings)])],
      },
    ];
  });
}

/** The steps that a stretch covers. */
export const stepsOf = (staircase: Staircase, raw: RawStretch): readonly Step[] => raw.steps.map((s) => staircase.steps[s]!);
const soundDrop = (steps: readonly Step[]): number => steps.reduce((sum, s) => sum + s.soundDropVolts, 0);

/** The conductor stretch that drops most beyond what is sound, if any drops clearly more. */
export function tallestExcess(staircase: Staircase, raw: readonly RawStretch[]): RawStretch | undefined {
  let best: RawStretch | undefined;
  let most = 0;
  for (const r of raw) {
    const steps = stepsOf(staircase, r);
    if (steps.some((s) => s.limitVolts === undefined)) continue;
    const excess = r.dropVolts - soundDrop(steps) - r.uncertaintyVolts;
    if (excess > most) {
      best = r;
      most = excess;
    }
  }
  return best;
}
