import type { Evidence } from "../evidence/evidence.ts";
import type { Oracle } from "../predict/oracle.ts";
import { isScale } from "../evidence/kind.ts";
import { kindOf } from "../evidence/kinds/index.ts";
import { scaled, sigmaOf } from "../evidence/likelihood.ts";
import type { Predicted } from "../evidence/predicted.ts";
import { besideOf, type Hypothesis } from "../hypotheses/space.ts";
import type { Weigher } from "./weigher.ts";

/** Into how many parts the stretch of severities around a hypothesis is split, and the best of them once more; what lies between is read off straight lines. */
const PARTS = 4;
/** Steps between two that were solved, on which likelihoods are taken, and the finest that a severity is said to. */
const BETWEEN = 6;
/** Values that differ by less than this share are one. */
const SAME = 1e-6;

/** How well predictions fit pieces of evidence, by evidence index. */
export interface Fits {
  /** Natural logarithm of how well a prediction explains it. */
  readonly logAt: (evidence: number, p: Predicted) => number;
  readonly known: Weigher["known"];
}

interface Solved {
  /** Place in the stretch, 0 to 1 on a logarithmic scale. */
  readonly x: number;
  readonly of: readonly Predicted[];
}

/**
 * The mean likelihood over the severities around a hypothesis, as a logarithm, and the severity that fits best. Only a few severities are solved, always the same ones, so that a further
 * reading finds them done.
 */
export function refine(
  oracle: Oracle,
  evidence: readonly Evidence[],
  c: Hypothesis,
  { logAt, known }: Fits,
): { readonly log: number; readonly best: Hypothesis } {
  const [low, high] = stretchOf(c);
  const caseAt = (x: number): Hypothesis => oracle.at(c, Number((low * (high / low) ** x).toPrecision(4)));
  const kept = evidence.map((_, i) => known(i));
  const solve = (x: number): Solved => {
    const at = caseAt(x);
    return {
      x,
      of: evidence.map((e, i) => {
        const p = kept[i]!.refined.get(at.index) ?? oracle.predict(e, at);
        kept[i]!.refined.set(at.index, p);
        return p;
      }),
    };
  };
  const fitted = (solved: readonly Solved[], jumps: ReadonlySet<number> = new Set()): { readonly log: number; readonly best: number } => {
    const points = pointsOn(solved);
    const way = `${c.index} ${solved.map((s) => s.x).join(" ")} / ${[...jumps].join(" ")}`;
    const isWhole = !oracle.isDeferred(c);
    return bestOf(
      points,
      evidence.map((e, i) => {
        const { between, there } = kept[i]!;
        const key = `${there} ${way}`;
        const logs = between.get(key) ?? logsOn(e, i, solved, points, { logAt, jumps });
        if (isWhole) between.set(key, logs);
        return logs;
      }),
    );
  };
  const borders = (from: number, to: number): number[] => Array.from({ length: PARTS + 1 }, (_, k) => from + ((to - from) * k) / PARTS);
  // The ends too, which are those of the stretches beside it: nothing falls between two. The hypothesis itself is known already.
  const own = Math.log(c.severity / low) / Math.log(high / low);
  const coarse = inOrder([...borders(0, 1).map(solve), { x: own, of: evidence.map((e) => oracle.predict(e, c)) }]);
  const rough = fitted(coarse);
  // Where a fuse or contact lets go within a part, the straight line over it points to its border: what lies on the other side is looked at too.
  const parts = new Set(
    [rough.best - NEAR_BORDER, rough.best + NEAR_BORDER].map((x) => Math.min(PARTS - 1, Math.max(0, Math.floor(x * PARTS)))),
  );
  const inside = [...parts].flatMap((part) =>
    borders(part / PARTS, (part + 1) / PARTS)
      .slice(1, -1)
      .map(solve),
  );
  // A straight line over a fuse that lets go runs through volts that stand nowhere: where the best place is on a steep one, its middle is solved.
  let solved = inOrder([...coarse, ...inside]);
  const jumps = new Set<number>();
  let fine = fitted(solved, jumps);
  for (let round = 0; round < MOST_HALVED; round++) {
    const k = Math.max(0, solved.findIndex((s) => s.x >= fine.best) - 1);
    const [from, to] = [solved[k]!, solved[k + 1]];
    if (to === undefined || jumps.has(from.x) || !isSteep(evidence, from, to)) break;
    const middle = solve((from.x + to.x) / 2);
    const half = jumpIn(evidence, from, middle, to);
    if (half !== undefined) jumps.add(half === "lower" ? from.x : middle.x);
    solved = inOrder([...solved, middle]);
    fine = fitted(solved, jumps);
  }
  const steps = PARTS * PARTS * BETWEEN;
  return { log: fine.log, best: caseAt((Math.min(steps - 1, Math.floor(fine.best * steps)) + 0.5) / steps) };
}

/**
 * How well a severity near a hypothesis may explain all of the evidence at once, as a logarithm, with nothing solved for it: on straight lines between the hypothesis and the severities
 * beside it. Tells what is worth refining.
 */
export function promise(oracle: Oracle, evidence: readonly Evidence[], c: Hypothesis, { logAt, known }: Fits): number {
  const solved = [...besideOf(oracle.space, c), c]
    .flatMap((h) => (h === undefined || !(h.severity > 0) ? [] : [h]))
    .sort((p, q) => p.severity - q.severity);
  const own = solved.indexOf(c);
  const sums = new Float64Array(AHEAD.length);
  evidence.forEach((e, i) => {
    const { between, there } = known(i);
    const key = `${there} ${c.index} ahead`;
    const logs =
      between.get(key) ??
      Float64Array.from(AHEAD, (x) => {
        const [from, to] = [solved[own + (x < 0 ? -1 : 0)], solved[own + (x > 0 ? 1 : 0)]];
        if (from === undefined || to === undefined) return -Infinity;
        const [p, q] = [oracle.predict(e, from), oracle.predict(e, to)];
        return logAt(i, x === 0 ? p : onLine(e.observe, p, q, x < 0 ? 1 + x : x));
      });
    if (!oracle.isDeferred(c)) between.set(key, logs);
    for (let k = 0; k < sums.length; k++) sums[k]! += logs[k]!;
  });
  return Math.max(...sums);
}
/** Places between a severity and the ones beside it at which it is looked ahead, as shares of the way. */
const AHEAD = [-0.5, -0.35, -0.2, -0.1, 0, 0.1, 0.2, 0.35, 0.5] as const;

/** A stretch is halved so often at most. */
const MOST_HALVED = 4;
/** A straight line that rises by more standard deviations may lead over a jump. */
const STEEP_SIGMAS = 30;
/** A middle that is nearer to one end than this share of the way stands on one side of a jump. */
const BESIDE_JUMP = 0.1;

const riseOf = ({ observe }: Evidence, from: Predicted, to: Predicted): number => scaled(observe, to.value) - scaled(observe, from.value);

const isSteep = (evidence: readonly Evidence[], from: Solved, to: Solved): boolean =>
  evidence.some(
    (e, i) =>
      isScale(kindOf(e.observe).read) && Math.abs(riseOf(e, from.of[i]!, to.of[i]!)) > STEEP_SIGMAS * sigmaOf(e.observe, from.of[i]!.value),
  );

/** In which half a reading jumps; undefined where all of them go evenly. */
function jumpIn(evidence: readonly Evidence[], from: Solved, middle: Solved, to: Solved): "lower" | "upper" | undefined {
  for (const [i, e] of evidence.entries()) {
    const [p, m, q] = [from.of[i]!, middle.of[i]!, to.of[i]!];
    if (!isScale(kindOf(e.observe).read) || !(Math.abs(riseOf(e, p, q)) > STEEP_SIGMAS * sigmaOf(e.observe, p.value))) continue;
    const share = riseOf(e, p, m) / riseOf(e, p, q);
    if (share < BESIDE_JUMP) return "upper";
    if (share > 1 - BESIDE_JUMP) return "lower";
  }
  return undefined;
}

/** By their places, each place once. */
const inOrder = (solved: readonly Solved[]): readonly Solved[] =>
  solved.toSorted((p, q) => p.x - q.x).filter((s, i, all) => i === 0 || s.x - all[i - 1]!.x > LEAST_APART);
const LEAST_APART = 1e-6;
/** How near the border of a part the best place must be for the next part to be looked into as well. */
const NEAR_BORDER = 0.03;

interface Stretch {
  readonly x: number;
  readonly width: number;
}

/** Where likelihoods are taken: some between each two severities that were solved, in order. */
function pointsOn(solved: readonly Solved[]): readonly Stretch[] {
  return solved.slice(1).flatMap(({ x: next }, k) => {
    const { x } = solved[k]!;
    return Array.from({ length: BETWEEN }, (_, i) => ({ x: x + ((next - x) * (i + 0.5)) / BETWEEN, width: (next - x) / BETWEEN }));
  });
}

/** Natural logarithms of how well one piece of evidence is explained at each point. `jumps`: places behind which no straight line leads to the next. */
function logsOn(
  e: Evidence,
  i: number,
  solved: readonly Solved[],
  points: readonly Stretch[],
  { logAt, jumps }: Pick<Fits, "logAt"> & { readonly jumps: ReadonlySet<number> },
): Float64Array {
  const values = solved.map((s) => scaled(e.observe, s.of[i]!.value));
  const isFlat = values.every((v) => Object.is(v, values[0]) || Math.abs(v - values[0]!) <= SAME * Math.abs(v));
  if (isFlat && solved.every((s) => s.of[i]!.oscillating === solved[0]!.of[i]!.oscillating))
    return new Float64Array(points.length).fill(logAt(i, solved[0]!.of[i]!));
  return Float64Array.from(points, ({ x }) => logAt(i, predictionAt(e, solved, i, x, jumps)));
}

/** The logarithm of the mean likelihood over 0 to 1 of all evidence together, and where it is greatest. */
function bestOf(points: readonly Stretch[], byEvidence: readonly Float64Array[]): { readonly log: number; readonly best: number } {
  const logs = new Float64Array(points.length);
  for (const own of byEvidence) for (let k = 0; k < logs.length; k++) logs[k]! += own[k]!;
  let best = 0;
  for (let k = 1; k < logs.length; k++) if (logs[k]! > logs[best]!) best = k;
  const sum = points.reduce((s, p, k) => s + p.width * Math.exp(logs[k]! - logs[best]!), 0);
  return { log: logs[best]! + Math.log(sum), best: points[best]!.x };
}

/** What lies on the straight line between the two that were solved beside it; the nearer of them where there is none. */
function predictionAt({ observe }: Evidence, solved: readonly Solved[], i: number, x: number, jumps: ReadonlySet<number>): Predicted {
  const after = solved.findIndex((s) => s.x >= x);
  const [q, p] = [solved[after < 0 ? solved.length - 1 : after]!, solved[after < 0 ? solved.length - 1 : Math.max(0, after - 1)]!];
  const [from, to] = [p.of[i]!, q.of[i]!];
  const share = q.x === p.x ? 0 : (x - p.x) / (q.x - p.x);
  return jumps.has(p.x) ? (share < 0.5 ? from : to) : onLine(observe, from, to, share);
}

/** What stands a share of the way from one prediction to another; the nearer of them where no line leads over. */
function onLine(observe: Evidence["observe"], from: Predicted, to: Predicted, share: number): Predicted {
  if (from.oscillating === true || to.oscillating === true || !Number.isFinite(from.value) || !Number.isFinite(to.value))
    return share < 0.5 ? from : to;
  const value =
    observe.kind === "ohms"
      ? Math.exp((1 - share) * scaled(observe, from.value) + share * scaled(observe, to.value))
      : (1 - share) * from.value + share * to.value;
  return { ...(share < 0.5 ? from : to), value, low: value, high: value };
}

/** From half-way to the next lower severity to half-way to the next higher, as ratios; the ends reach as far out as in. */
function stretchOf({ fault: { severities }, severity }: Hypothesis): readonly [low: number, high: number] {
  const sorted = [...severities].filter((s) => s > 0).sort((p, q) => p - q);
  const i = sorted.indexOf(severity);
  const [below, above] = [sorted[i - 1], sorted[i + 1]];
  const down = below === undefined ? Math.sqrt((above ?? severity * 2) / severity) : Math.sqrt(severity / below);
  const up = above === undefined ? down : Math.sqrt(above / severity);
  return [severity / down, severity * up];
}
