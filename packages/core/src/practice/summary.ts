import { catalogueOf } from "../faults/index.ts";
import type { Harness } from "../harness/index.ts";
import { unreachable } from "../quantity/index.ts";
import type { NoticedBy } from "./complaint.ts";
import { fixedOrder, halfSplit, type Strategy } from "./baselines.ts";
import { practise, type Run } from "./technician.ts";
import { chanceOf, type Truth } from "./truth.ts";

/** How the proposals did over many faults. */
export interface Summary {
  readonly cases: number;
  /** Share of cases in which the right thing was first in the end. */
  readonly rightFirst: number;
  /** Share in which a part that was not at fault would have been renewed on the tool's word. */
  readonly wrongPart: number;
  /** Share in which there was not enough to act within the steps allowed. */
  readonly notEnough: number;
  readonly meanTests: number;
  readonly p95Tests: number;
  readonly meanMinutes: number;
}

export interface Practice extends Summary {
  readonly baselines: { readonly halfSplit: Summary; readonly fixedOrder: Summary };
  readonly perFamily: Readonly<Record<string, Summary>>;
  /** By who notices. */
  readonly perComplaint: Readonly<Record<string, Summary>>;
  /** Of all faults tried, the share that each notices, and that nobody does. */
  readonly noticed: Readonly<Record<NoticedBy | "nobody", number>>;
}

/** "open", "resistance", "short" and so on, for a table. */
export function familyOf(t: Truth): string {
  const { effect } = t.fault;
  switch (effect) {
    case "short to wire":
      return "wire to wire";
    case "water bridge":
    case "short to ground":
    case "short to feed":
    case "shorted inside":
      return effect;
    case "open":
    case "stuck open":
      return "open or dead";
    case "series":
      return "resistance";
    case "stuck closed":
    case "holds":
    case "setting":
    case "lead":
      return "other";
    default:
      return unreachable(effect);
  }
}

/** Faults of a circuit with a severity each, spread evenly over all of them; the same for the same seed. All when `sample` is not said. */
export function truthsOf(harness: Harness, sample: number | undefined, seed: number): readonly Truth[] {
  const all = catalogueOf(harness).flatMap((fault) => fault.severities.map((severity) => ({ fault, severity })));
  if (sample === undefined || sample >= all.length) return all;
  const step = all.length / sample;
  const from = chanceOf(seed)() * step;
  return Array.from({ length: sample }, (_, i) => all[Math.floor(from + i * step)]!);
}

const NOTICED_BY: readonly NoticedBy[] = ["driver", "lamp", "scan", "meter"];

/** Lets the simulated technician work through faults, by the proposals and by two rules. Faults that nobody would notice are left out. */
export function practiseAll(
  harness: Harness,
  truths: readonly Truth[],
  seed: number,
  withBaselines = true,
  after: (done: number) => void = () => {},
): Practice {
  const runs: Record<"proposed" | "halfSplit" | "fixedOrder", Run[]> = { proposed: [], halfSplit: [], fixedOrder: [] };
  truths.forEach((truth, i) => {
    const by = (strategy?: Strategy): Run | undefined =>
      practise(harness, [truth], { chance: chanceOf(seed + i), ...(strategy === undefined ? {} : { strategy }) });
    const run = by();
    if (run !== undefined) {
      runs.proposed.push(run);
      if (withBaselines) {
        runs.halfSplit.push(by(halfSplit)!);
        runs.fixedOrder.push(by(fixedOrder)!);
      }
    }
    after(i + 1);
  });
  const families = [...new Set(runs.proposed.map((r) => familyOf(r.truth[0]!)))].sort();
  const by = (who: NoticedBy): readonly Run[] => runs.proposed.filter((r) => r.complaint.by === who);
  const share = (n: number): number => Number((n / Math.max(1, truths.length)).toFixed(4));
  return {
    ...summarise(runs.proposed),
    baselines: { halfSplit: summarise(runs.halfSplit), fixedOrder: summarise(runs.fixedOrder) },
    perComplaint: Object.fromEntries(NOTICED_BY.flatMap((who) => (by(who).length === 0 ? [] : [[who, summarise(by(who))] as const]))),
    noticed: {
      driver: share(by("driver").length),
      lamp: share(by("lamp").length),
      scan: share(by("scan").length),
      meter: share(by("meter").length),
      nobody: share(truths.length - runs.proposed.length),
    },
    perFamily: Object.fromEntries(families.map((f) => [f, summarise(runs.proposed.filter((r) => familyOf(r.truth[0]!) === f))])),
  };
}

/** Counts over many runs: share found, tests and minutes to the end (mean and quantiles), by family. */
export function summarise(runs: readonly Run[]): Summary {
  const share = (of: (r: Run) => boolean): number => (runs.length === 0 ? 0 : runs.filter(of).length / runs.length);
  const mean = (of: (r: Run) => number): number => (runs.length === 0 ? 0 : runs.reduce((s, r) => s + of(r), 0) / runs.length);
  const tests = runs.map((r) => r.steps.length).sort((p, q) => p - q);
  return {
    cases: runs.length,
    rightFirst: share((r) => r.right),
    wrongPart: share((r) => !r.right && r.enough?.yes === true && r.enough.act === "renew"),
    notEnough: share((r) => r.enough?.yes !== true),
    meanTests: mean((r) => r.steps.length),
    p95Tests: tests[Math.max(0, Math.ceil(0.95 * tests.length) - 1)] ?? 0,
    meanMinutes: mean((r) => r.minutes),
  };
}
