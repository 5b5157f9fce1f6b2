import { describeState, stateKey, type VehicleState } from "../circuit/index.ts";
import { codeName, silentIn } from "../codes/index.ts";
import { judgePath, loggedWords, shownBy, type Observable, type PathJudgement, type ResultWord, type Stretch } from "../diagnosis/index.ts";
import { loadsOf, lookupOf, partNameIn, type Component, type Harness } from "../harness/index.ts";
import { clampFacts, readingsAroundMend, voltFacts } from "./evidence.ts";
import type { JobView, ReadingView } from "./fold.ts";
import { failedTests } from "./proof-tests.ts";
import { complainedOf } from "./question.ts";

/** Share of the expected current from which on a clamp shows that the circuit was loaded. */
const LOADED_SHARE = 0.5;

/** A test that failed before the mend, and what became of it. */
export interface ProofPair {
  readonly load: string;
  readonly state: VehicleState;
  readonly before: Stretch;
  /** The same steps measured after the mend; undefined until all of them are. */
  readonly after: { readonly dropVolts: number; readonly limitVolts: number; readonly soundDropVolts: number } | undefined;
  /** The readings that made the failed test, each with its repetition. */
  readonly readings: readonly { readonly before: ReadingView; readonly after: ReadingView | undefined }[];
  /** "no current": repeated with a good result, but nothing shows that current flowed meanwhile; a released pedal or a second break reads the same. */
  readonly outcome: "proven" | "still failing" | "not repeated" | "cannot judge" | "no current" | "excused";
  /** What shows that current flowed after the repair; undefined where nothing does. */
  readonly loadedBy: string | undefined;
  readonly excuse: string | undefined;
  readonly beforeTrace: PathJudgement;
  readonly afterTrace: PathJudgement | undefined;
}

/** What was wrong and is no drop: what a part did, a code, a module that did not answer. */
export interface ProofCheck {
  readonly kind: "part" | "code" | "module" | "test";
  readonly what: string;
  /** What is to be observed again, for a test. */
  readonly observe: Observable | undefined;
  /** In which it is to be done again. */
  readonly state: VehicleState;
  readonly before: string;
  /** What it should be. */
  readonly sound: string;
  /** What it is since the mend; undefined until somebody has said or read it. */
  readonly after: string | undefined;
  readonly outcome: "proven" | "still failing" | "not repeated" | "excused";
  readonly excuse: string | undefined;
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
  const covered = new Set(pairs.map((p) => stateKey(p.state)));
  const checks = [...partChecks(harness, view, pairs), ...scanChecks(view), ...testChecks(harness, view, covered)];
  const all = [...pairs, ...checks];
  if (all.length === 0) return { pairs, checks, outcome: "nothing failed before" };
  // A reason is not a proof: where every test has only that, the job ends without one.
  const isProven = all.some((p) => p.outcome === "proven") && all.every((p) => p.outcome === "proven" || p.outcome === "excused");
  return { pairs, checks, outcome: isProven ? "proven" : "open" };
}

/** A test in words, which name it in the log as well. */
export const pairWords = (pair: Pick<ProofPair, "before" | "load" | "state">): string =>
  `drop from ${pair.before.fromPlace} to ${pair.before.toPlace} with ${pair.load} on (${describeState(pair.state)})`.slice(0, 300);
/** The same of what is not a drop. */
export const checkWords = (check: Pick<ProofCheck, "kind" | "what" | "state">): string =>
  `${check.kind === "part" ? "does" : check.kind} ${check.what}${check.kind === "part" ? " work" : ""} (${describeState(check.state)})`.slice(
    0,
    300,
  );

const excuseFor = (view: JobView, words: string): string | undefined => view.excused.find((e) => e.test === words)?.why;

const mendsOf = (view: JobView): number => view.mends.filter((m) => m.struck === undefined).length;

/** What was not said of a part before the repair. */
export const NOT_SAID = "not said";

/** Does it work now? Each line of the complaint that stands, and each load whose path failed, by the latest word on it since the last mend. */
function partChecks(harness: Harness, view: JobView, pairs: readonly ProofPair[]): ProofCheck[] {
  const mends = mendsOf(view);
  const { parts } = lookupOf(harness);
  const checks = new Map<string, ProofCheck>();
  for (const line of complainedOf(view)) {
    const { observe, state, word } = line.data;
    if (observe.kind !== "part" || word === undefined || !parts.has(observe.part) || line.mendsBefore >= mends) continue;
    const sound = soundWord(harness, state, observe.part);
    if (sound === undefined || sound === word) continue;
    const after = doesNow(view, observe.part, state);
    checks.set(
      `${observe.part} ${stateKey(state)}`,
      checkOf(view, { kind: "part", what: observe.part, state, before: word, sound, after }, after === sound),
    );
  }
  for (const { load, state } of pairs) {
    const what = partNameIn(load);
    const key = `${what} ${stateKey(state)}`;
    const part = parts.get(what);
    // A module does its work unseen; it answers or does not.
    if (checks.has(key) || part === undefined || isModule(part)) continue;
    const sound = soundWord(harness, state, what);
    if (sound !== "full") continue;
    const after = doesNow(view, what, state);
    checks.set(key, checkOf(view, { kind: "part", what, state, before: NOT_SAID, sound, after }, after === sound));
  }
  return [...checks.values()];
}

const isModule = (part: Component): boolean => part.kind === "device" && part.device === "module";

/** The latest word on what a part does in a state since the last mend. */
function doesNow(view: JobView, part: string, state: VehicleState): ResultWord | undefined {
  const mends = mendsOf(view);
  return view.seen.findLast(
    ({ struck, mendsBefore, data }) =>
      struck === undefined &&
      mendsBefore === mends &&
      data.observe.kind === "part" &&
      data.observe.part === part &&
      stateKey(data.state) === stateKey(state),
  )?.data.word;
}

/**
 * What shows that current flowed through a path after the repair, in words: a clamp on it, its load that was seen to work, or its module that answered. Without any of them a good drop says
 * nothing, as a circuit that is off or broken elsewhere drops none either.
 */
function loadedBy(
  harness: Harness,
  view: JobView,
  load: string,
  state: VehicleState,
  trace: PathJudgement | undefined,
): string | undefined {
  const mends = mendsOf(view);
  const part = partNameIn(load);
  const links = new Set(trace?.staircase.steps.map((s) => s.link.id));
  const clamp = view.readings.findLast(
    ({ struck, mendsBefore, data: { leads, shown, state: then } }) =>
      struck === undefined &&
      mendsBefore === mends &&
      leads.quantity === "amps" &&
      links.has(leads.around) &&
      stateKey(then) === stateKey(state) &&
      shown.kind === "value" &&
      Math.abs(shown.value) >= LOADED_SHARE * (trace?.staircase.loadAmps ?? 0),
  );
  if (clamp !== undefined) return `clamp: ${clamp.data.text}`;
  const word = doesNow(view, part, state);
  if (word !== undefined && word === soundWord(harness, state, part)) return `${part} works`;
  const scan = view.scans.findLast((s) => s.struck === undefined && s.mendsBefore === mends && s.data.state.key === state.key)?.data.scan;
  return scan?.modules.some((m) => m.id === part && m.answers) === true ? `${part} responds` : undefined;
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
        view,
        { kind: "code", what, state, before: c.status, sound: c.status === "active" ? "not active" : "absent", after },
        isGood,
      );
    }),
    ...silentIn(scan).map((what): ProofCheck => {
      const answers = now?.modules.find((m) => m.id === what)?.answers;
      const after = answers === undefined ? undefined : answers ? "answers" : "no answer";
      return checkOf(view, { kind: "module", what, state, before: "no answer", sound: "answers", after }, answers === true);
    }),
  ];
}

const testChecks = (harness: Harness, view: JobView, covered: ReadonlySet<string>): ProofCheck[] =>
  failedTests(harness, view, covered).map(({ isGood, observe, ...t }) =>
    checkOf(view, { ...t, kind: "test", what: loggedWords(observe), observe }, isGood),
  );

type Asked = Omit<ProofCheck, "outcome" | "excuse" | "observe"> & { readonly observe?: Observable };
function checkOf(view: JobView, asked: Asked, isGood: boolean): ProofCheck {
  const check = { observe: undefined, ...asked };
  const excuse = excuseFor(view, checkWords(check));
  const outcome = check.after === undefined ? (excuse === undefined ? "not repeated" : "excused") : isGood ? "proven" : "still failing";
  return { ...check, outcome, excuse };
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
      const excuse = excuseFor(view, pairWords({ before: failed, load, state }));
      const loaded = loadedBy(harness, view, load, state, afterTrace ?? beforeTrace);
      const outcome = ((): ProofPair["outcome"] => {
        if (!covered) return excuse === undefined ? "not repeated" : "excused";
        if (covering.some((s) => s.verdict === "suspect")) return "still failing";
        if (!covering.every((s) => s.verdict === "sound")) return excuse === undefined ? "cannot judge" : "excused";
        return loaded !== undefined ? "proven" : excuse === undefined ? "no current" : "excused";
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
        loadedBy: loaded,
        excuse,
        beforeTrace,
        afterTrace,
      };
    });
}

const testKey = ({ data }: ReadingView): string => `${stateKey(data.state)} ${JSON.stringify(data.leads)}`;

/** The latest standing reading of each leads and state. */
const repetitions = (after: readonly ReadingView[]): ReadonlyMap<string, ReadingView> =>
  new Map(after.filter((r) => r.struck === undefined).map((r) => [testKey(r), r]));
