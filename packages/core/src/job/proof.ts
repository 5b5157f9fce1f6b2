import { stateKey, type VehicleState } from "../circuit/index.ts";
import { judgePath, type Stretch, type PathJudgement } from "../diagnosis/index.ts";
import { loadsOf, type Harness } from "../harness/index.ts";
import { clampFacts, readingsAroundMend, voltFacts } from "./evidence.ts";
import type { JobView, ReadingView } from "./fold.ts";

/** A test that failed before the mend, and what became of it. */
export interface ProofPair {
  readonly load: string;
  readonly state: VehicleState;
  readonly before: Stretch;
  /** The same steps measured after the mend; undefined until all of them are. */
  readonly after: { readonly dropVolts: number; readonly limitVolts: number; readonly soundDropVolts: number } | undefined;
  /** The readings that made the failed test, each with its repetition. */
  readonly readings: readonly { readonly before: ReadingView; readonly after: ReadingView | undefined }[];
  readonly outcome: "proven" | "still failing" | "not repeated" | "cannot judge";
  readonly beforeTrace: PathJudgement;
  readonly afterTrace: PathJudgement | undefined;
}

export interface Proof {
  readonly pairs: readonly ProofPair[];
  readonly outcome: "no mend" | "nothing failed before" | "proven" | "open";
}

/** Sets each test that failed before the mend beside its repetition in the same state. */
export function buildProof(harness: Harness, view: JobView): Proof {
  if (view.mends.every((m) => m.struck !== undefined)) return { pairs: [], outcome: "no mend" };
  const before = readingsAroundMend(view, "before");
  const after = readingsAroundMend(view, "after");
  const groups = new Map<string, ReadingView>();
  for (const r of before) if (r.struck === undefined) groups.set(`${stateKey(r.data.state)}|${r.data.load}`, r);
  const repeated = repetitions(after);
  const byId = new Map(before.map((r) => [r.id, r]));
  const pairs = [...groups.values()].flatMap((sample) => pairsOf(harness, view, sample, before, after, byId, repeated));
  if (pairs.length === 0) return { pairs, outcome: "nothing failed before" };
  return { pairs, outcome: pairs.every((p) => p.outcome === "proven") ? "proven" : "open" };
}

function pairsOf(
  harness: Harness,
  view: JobView,
  sample: ReadingView,
  before: readonly ReadingView[],
  after: readonly ReadingView[],
  byId: ReadonlyMap<string, ReadingView>,
  repeated: ReadonlyMap<string, ReadingView>,
): ProofPair[] {
  const { state, load } = sample.data;
  if (!loadsOf(harness).some((l) => l.id === load)) return [];
  const judge = (readings: readonly ReadingView[]): PathJudgement | undefined => {
    const trace = judgePath(harness, state, load, view.rules, voltFacts(readings, state), clampFacts(readings, state));
    return "stretches" in trace ? trace : undefined;
  };
  const beforeTrace = judge(before);
  const afterTrace = judge(after);
  if (beforeTrace === undefined) return [];
  return beforeTrace.stretches
    .filter((s) => s.verdict === "suspect")
    .map((failed) => {
      const covering = (afterTrace?.stretches ?? []).filter((s) => s.steps.some((i) => failed.steps.includes(i)));
      const covered = failed.steps.every((i) => covering.some((s) => s.steps.includes(i)));
      const limits = covering.map((s) => s.limitVolts);
      const outcome = ((): ProofPair["outcome"] => {
        if (!covered) return "not repeated";
        if (covering.some((s) => s.verdict === "suspect")) return "still failing";
        return covering.every((s) => s.verdict === "sound") ? "proven" : "cannot judge";
      })();
      const readings = failed.readings.flatMap((id) => {
        const old = byId.get(id);
        return old === undefined ? [] : [{ before: old, after: repeated.get(testKey(old)) }];
      });
      return {
        load,
        state,
        before: failed,
        after: covered
          ? {
              dropVolts: covering.reduce((sum, s) => sum + s.dropVolts, 0),
              limitVolts: limits.reduce<number>((sum, l) => sum + (l ?? 0), 0),
              soundDropVolts: covering.reduce((sum, s) => sum + s.soundDropVolts, 0),
            }
          : undefined,
        readings,
        outcome,
        beforeTrace,
        afterTrace,
      };
    });
}

const testKey = ({ data }: ReadingView): string => `${stateKey(data.state)} ${JSON.stringify(data.leads)}`;

/** The latest standing reading of each leads and state. */
const repetitions = (after: readonly ReadingView[]): ReadonlyMap<string, ReadingView> =>
  new Map(after.filter((r) => r.struck === undefined).map((r) => [testKey(r), r]));
