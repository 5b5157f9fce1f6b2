import { stateKey, type VehicleState } from "../circuit/index.ts";
import { codeName, silentIn } from "../codes/index.ts";
import { judgePath, shownBy, type Stretch, type PathJudgement } from "../diagnosis/index.ts";
import { loadsOf, lookupOf, type Harness } from "../harness/index.ts";
import { clampFacts, readingsAroundMend, voltFacts } from "./evidence.ts";
import type { JobView, ReadingView } from "./fold.ts";
import { complainedOf } from "./question.ts";

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

/** What was wrong and is no drop: what a part did, a code, a module that did not answer. */
export interface ProofCheck {
  readonly kind: "part" | "code" | "module";
  readonly what: string;
  /** In which it is to be done again. */
  readonly state: VehicleState;
  readonly before: string;
  /** What it should be. */
  readonly sound: string;
  /** What it is since the mend; undefined until somebody has said or read it. */
  readonly after: string | undefined;
  readonly outcome: "proven" | "still failing" | "not repeated";
}

export interface Proof {
  readonly pairs: readonly ProofPair[];
  readonly checks: readonly ProofCheck[];
  readonly outcome: "no mend" | "nothing failed before" | "proven" | "open";
}

/** Sets each test that failed before the mend beside its repetition in the same state. */
export function buildProof(harness: Harness, view: JobView): Proof {
  if (view.mends.every((m) => m.struck !== undefined)) return { pairs: [], checks: [], outcome: "no mend" };
  const before = readingsAroundMend(view, "before");
  const after = readingsAroundMend(view, "after");
  const groups = new Map<string, ReadingView>();
  for (const r of before) if (r.struck === undefined) groups.set(`${stateKey(r.data.state)}|${r.data.load}`, r);
  const repeated = repetitions(after);
  const byId = new Map(before.map((r) => [r.id, r]));
  const pairs = [...groups.values()].flatMap((sample) => pairsOf(harness, view, sample, before, after, byId, repeated));
  const checks = [...partChecks(harness, view), ...scanChecks(view)];
  const all = [...pairs, ...checks];
  if (all.length === 0) return { pairs, checks, outcome: "nothing failed before" };
  return { pairs, checks, outcome: all.every((p) => p.outcome === "proven") ? "proven" : "open" };
}

const mendsOf = (view: JobView): number => view.mends.filter((m) => m.struck === undefined).length;

/** Does it work now? Each line of the complaint that stands, by the latest word on it since the last mend. */
function partChecks(harness: Harness, view: JobView): ProofCheck[] {
  const mends = mendsOf(view);
  const { parts } = lookupOf(harness);
  const checks = new Map<string, ProofCheck>();
  for (const line of complainedOf(view)) {
    const { observe, state, word } = line.data;
    if (observe.kind !== "part" || word === undefined || !parts.has(observe.part) || line.mendsBefore >= mends) continue;
    const sound = soundWord(harness, state, observe.part);
    if (sound === undefined || sound === word) continue;
    const again = view.seen.findLast(
      ({ struck, mendsBefore, data }) =>
        struck === undefined &&
        mendsBefore === mends &&
        data.observe.kind === "part" &&
        data.observe.part === observe.part &&
        stateKey(data.state) === stateKey(state),
    );
    const after = again?.data.word;
    checks.set(
      `${observe.part} ${stateKey(state)}`,
      checkOf({ kind: "part", what: observe.part, state, before: word, sound, after }, after === sound),
    );
  }
  return [...checks.values()];
}

const soundWords = new WeakMap<Harness, Map<string, string | undefined>>();
/** What a part of the sound vehicle does in a state. */
function soundWord(harness: Harness, state: VehicleState, part: string): string | undefined {
  const known = soundWords.get(harness) ?? new Map<string, string | undefined>();
  soundWords.set(harness, known);
  const key = `${part} ${stateKey(state)}`;
  if (!known.has(key)) {
    const shown = shownBy(harness, { state, observe: { kind: "part", part } }, []);
    known.set(key, shown.kind === "word" ? shown.word : undefined);
  }
  return known.get(key);
}

/**
 * Codes that were there, and modules that did not answer, at the last scan before the first mend, by the latest scan since the last that was made with key and engine as then. A code that was
 * active must not be active any more; one that was only remembered must be gone. What a module that does not answer now might have says nothing.
 */
function scanChecks(view: JobView): ProofCheck[] {
  const mends = mendsOf(view);
  const scans = view.scans.filter((s) => s.struck === undefined);
  const before = scans.findLast((s) => s.mendsBefore === 0);
  if (before === undefined) return [];
  const { scan, state } = before.data;
  const now = scans.findLast((s) => s.mendsBefore === mends && s.data.state.key === state.key && s.data.state.engine === state.engine)?.data
    .scan;
  const mute = new Set(now === undefined ? [] : silentIn(now));
  const active = scan.codes.filter((c) => c.status === "active");
  const codes = new Map((active.length > 0 ? active : scan.codes).map((c) => [codeName(c), c]));
  return [
    ...[...codes].map(([what, c]): ProofCheck => {
      const found = now?.codes.find((x) => codeName(x) === what);
      const after = now === undefined || (found === undefined && mute.has(c.module)) ? undefined : (found?.status ?? "absent");
      const isGood = after === "absent" || (c.status === "active" && after !== "active");
      return checkOf(
        { kind: "code", what, state, before: c.status, sound: c.status === "active" ? "not active" : "absent", after },
        isGood,
      );
    }),
    ...silentIn(scan).map((what): ProofCheck => {
      const answers = now?.modules.find((m) => m.id === what)?.answers;
      const after = answers === undefined ? undefined : answers ? "answers" : "no answer";
      return checkOf({ kind: "module", what, state, before: "no answer", sound: "answers", after }, answers === true);
    }),
  ];
}

const checkOf = (check: Omit<ProofCheck, "outcome">, isGood: boolean): ProofCheck => ({
  ...check,
  outcome: check.after === undefined ? "not repeated" : isGood ? "proven" : "still failing",
});

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
