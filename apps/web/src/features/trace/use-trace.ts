import { useEffect, useMemo, useRef, useState, type RefObject } from "react";
import { useSearchParams } from "react-router";
import { describeState, type VehicleState } from "@rheonom/core/circuit";
import {
  RESULT_WORDS,
  type CaseAnswer,
  type Observable,
  type ResultWord,
  readWord,
  type Standing,
  type Test,
} from "@rheonom/core/diagnosis";
import { partNameIn, type Harness } from "@rheonom/core/harness";
import type { Leads } from "@rheonom/core/instruments";
import { describeLeads, isAdvised, observedBy, openTray, readingsAroundMend } from "@rheonom/core/job";
import type { BenchKept } from "@rheonom/contract/api";
import type { Hit } from "@rheonom/drawing/scene";
import { useMeter, type MeterUse } from "../../job/instrument/use-meter.ts";
import { useKeepBenchMutation, useLookMutation, useSimulateMutation } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { benchChanged, stateChanged, type BenchDraft } from "../../job/bench.ts";
import { useJobContext, type JobContext } from "../../job/job-context.ts";
import { loadOnBench, questionOnBench } from "../../job/question-on-bench.ts";
import { leadsOnBench } from "../../job/reading.ts";
import { draftOfJob, stateOnBench } from "../../job/state-of-job.ts";
import { useShortcuts } from "../../job/shortcuts.ts";
import { useAppDispatch, useAppSelector } from "../../job/store.ts";
import { toast } from "../../ui/toast.tsx";
import type { PathShown } from "../../worker/queries.ts";
import { useDiagnosis, type Asking, type Diagnosing } from "../../worker/use-diagnosis.ts";
import { useForesight } from "../../worker/use-foresight.ts";
import { useQuery, useSame, type Computed } from "../../worker/use-query.ts";
import type { Hands } from "./do-test.tsx";
import { stays, temporaryFor } from "./prepare.ts";
import type { EntryHandle, ReadingEntryProps } from "./reading-entry.tsx";
import { actWords, afterPick, nextInShort, presenceSaid, proposalsOf, type PresentWord, type Proposed } from "./trace-model.ts";

export type Simulate = (leads: Leads, moving?: string) => Promise<{ readonly text: string } | { readonly message: string }>;

/** Everything that the Trace screen shows and does. */
export interface TraceBench extends Pick<JobContext, "job" | "record" | "showTray"> {
  readonly harness: Harness;
  readonly load: string;
  readonly state: VehicleState;
  readonly draft: BenchDraft;
  readonly selected: string | undefined;
  /** The procedure that is open, and its target. */
  readonly procedure: { readonly id: string; readonly target: string } | undefined;
  readonly closed: boolean;
  readonly computed: Computed<PathShown | string>;
  readonly shown: PathShown | undefined;
  /** The tool says what it thinks. */
  readonly advised: boolean;
  /** Undefined while nothing was found. */
  readonly question: Asking | undefined;
  readonly diagnosing: Diagnosing;
  /** The ranking of what stands in the log; undefined while there is none that is current. */
  readonly ranked: CaseAnswer | undefined;
  /** Why what is selected is, or is not, among the suspects. */
  readonly standing: Computed<Standing>;
  readonly hands: Hands;
  readonly present: PresentWord;
  /** Undefined where no simulated vehicle answers. */
  readonly simulate: Simulate | undefined;
  readonly meter: MeterUse;
  readonly change: (part: Partial<BenchDraft>) => void;
  readonly changeState: (part: Partial<VehicleState>) => void;
  readonly setPresent: (word: PresentWord) => void;
  readonly goTo: (address: Readonly<Record<string, string>>) => void;
  readonly pick: (hit: Hit) => void;
  readonly putLeads: (red: string, black: string) => void;
  /** What may be done next, one of them in sight; what was proposed before the latest finding is none. */
  readonly proposals: readonly Proposed[];
  readonly proposed: Proposed | undefined;
  readonly proposedAt: number;
  readonly another: () => void;
  /** A state in which a good one of this load works, as long as nothing was found. */
  readonly working: VehicleState | undefined;
  readonly isEnough: boolean;
  readonly wordButtons: RefObject<HTMLDivElement | null>;
  readonly takeNext: () => void;
  /** Answers the proposed test with a word that was typed; with a message where it does not. */
  readonly sayWord: (typed: string) => string | undefined;
  readonly keepReading: ReadingEntryProps["onReading"];
}

/** The bench of a job: what stands on it, what the model says of it, and what can be done. `entry`: the form that readings are typed into. */
export function useTrace(harness: Harness, entry: RefObject<EntryHandle | null>): TraceBench {
  const { job, record, showTray } = useJobContext();
  const { view } = job;
  const dispatch = useAppDispatch();
  const [params, setParams] = useSearchParams();
  const [kept] = useState(() => draftOfJob(job.id, view, job.bench));
  const draft = useAppSelector((s) => s.bench[job.id]) ?? kept;
  const [present, setPresent] = useState<PresentWord>("not stated");

  const load = loadOnBench(harness, view, params.get("load") ?? (job.bench?.load || undefined));
  const closed = view.closed !== undefined;
  const state = useMemo(() => stateOnBench(draft.state, harness, view), [draft.state, harness, view]);
  const readings = useMemo(() => readingsAroundMend(view, "after"), [view]);
  const computed = useQuery("path", harness, { state, load, rules: view.rules, readings });
  const shown = typeof computed.value === "object" ? computed.value : undefined;
  const advised = isAdvised(view);
  const question = useMemo(() => questionOnBench(harness, view, readings, load, state), [harness, view, readings, load, state]);
  const diagnosing = useDiagnosis(harness, question);
  const selected = params.get("at") ?? undefined;
  const isCurrent = !diagnosing.busy || diagnosing.better;
  // Nobody waits for it as for the next test, which stands first.
  const standing = useQuery(
    "standing",
    harness,
    question === undefined || selected === undefined || !isCurrent ? undefined : { question, name: selected },
  );

  const placed = useMemo((): Test | undefined => {
    const leads = closed ? undefined : leadsOnBench(harness, draft);
    return leads === undefined ? undefined : { state, observe: observedBy(leads) };
  }, [closed, harness, draft, state]);
  useForesight(harness, question, readings, placed);

  const part = partNameIn(load);
  // Asked only as long as nothing is known, to begin with.
  const working = useQuery("symptomState", harness, question === undefined ? { part, word: "none", wrong: true } : undefined).value;

  const change: TraceBench["change"] = (part) => void dispatch(benchChanged({ jobId: job.id, change: part, before: kept }));
  const changeState: TraceBench["changeState"] = (part) => void dispatch(stateChanged({ jobId: job.id, change: part, before: kept }));
  const goTo: TraceBench["goTo"] = (address) =>
    setParams(
      (before) => {
        for (const [key, value] of Object.entries(address)) before.set(key, value);
        return before;
      },
      { replace: true },
    );
  const wordButtons = useRef<HTMLDivElement>(null);
  const putLeads: TraceBench["putLeads"] = (red, black) => {
    change({ red, black, mode: "volts", armed: "red" });
    entry.current?.focus("value");
  };
  const pick: TraceBench["pick"] = (hit) => {
    goTo({ at: hit.id });
    const { change: part, focus } = afterPick(draft, hit);
    if (Object.keys(part).length > 0) change(part);
    if (focus !== undefined) entry.current?.focus(focus);
  };
  const said = presenceSaid(view.presence, present);
  /** The key and switches as they are asked for; what is unplugged, bridged or fitted goes on the list of things to undo. */
  const prepare = (wanted: VehicleState): void => {
    const { key, engine, on, asleep = [], inputs = {} } = wanted;
    changeState({ key, engine, on, asleep, inputs });
    for (const item of openTray(view)) if (!stays(item, wanted)) record({ type: "temporary-undone", data: { target: item.id } });
    for (const made of temporaryFor(harness, state, wanted)) record({ type: "temporary-made", data: made });
  };
  const lookAt = useLook(job.id);
  const look: Hands["look"] = async (at, observe, wrong) => {
    const found = await lookAt(at, observe);
    if ("message" in found) return found.message;
    const { word, value } = found;
    if (word !== undefined && isResultWord(word))
      record({ type: "seen", data: { state: at, observe, word, wrong: wrong && word !== "full", ...said } });
    else if (value !== undefined) record({ type: "seen", data: { state: at, observe, value, wrong: false, ...said } });
    else return "The simulated vehicle shows nothing there that can be recorded.";
    return undefined;
  };
  const hands: Hands = {
    harness,
    state,
    onSeen: (data) => record({ type: "seen", data: { ...data, ...said } }),
    onLeads: (o) => {
      if (o.kind === "amps") change({ around: o.around, mode: "amps" });
      else change({ red: o.red, black: o.black, mode: o.kind, armed: "red" });
      entry.current?.focus("value");
    },
    onPrepare: prepare,
    look: job.simulated ? look : undefined,
  };
  const { answer } = diagnosing;
  const ranked = question === undefined || !isCurrent ? undefined : answer;
  const ofPath =
    !advised || shown?.answer.next === undefined || (question !== undefined && !isCurrent)
      ? undefined
      : { leads: shown.answer.next, words: shown.next ?? "" };
  const proposals = proposalsOf(ranked, ofPath, state);
  const [another, setAnother] = useState<{ readonly of: CaseAnswer | undefined; readonly at: number }>({ of: undefined, at: 0 });
  const at = another.of === ranked ? Math.min(another.at, Math.max(0, proposals.length - 1)) : 0;
  const proposed = ranked?.enoughToAct.yes === true ? undefined : proposals[at];
  /** Brings the proposed state about and puts the leads there, or the cursor on what can be said. */
  const takeNext = (): void => {
    if (proposed === undefined) return;
    const { observe: o, state: wanted } = proposed.test;
    if (describeState(wanted) !== describeState(state)) prepare(wanted);
    if (o.kind === "volts" || o.kind === "ohms" || o.kind === "amps") hands.onLeads(o);
    else requestAnimationFrame(() => wordButtons.current?.querySelector("button")?.focus());
  };
  const sayWord: TraceBench["sayWord"] = (typed) => {
    if (proposed === undefined) return "No test is proposed that a word answers. Type what the meter shows, such as 12.31.";
    const { observe, state: wanted } = proposed.test;
    const read = readWord(observe, typed);
    if (read.kind === "measured") return "The next test is measured: type what the meter shows, such as 12.31.";
    if (read.kind === "other") return `“${typed.slice(0, 20)}” does not answer the next test. Type ${orList(read.words)}.`;
    // Who says what it does there has brought it about.
    if (describeState(wanted) !== describeState(state)) prepare(wanted);
    hands.onSeen({ state: wanted, observe, word: read.word, wrong: false });
    return undefined;
  };
  const keepReading: TraceBench["keepReading"] = (data) => {
    record({ type: "reading-taken", data: { ...data, state, load, ...said } });
    if (data.leads.quantity !== "amps") goTo({ at: data.leads.red });
  };
  const simulate = useSimulate(job.id, state);
  const next =
    ranked?.enoughToAct.yes === true
      ? actWords(ranked.enoughToAct)
      : proposed === undefined
        ? ""
        : nextInShort(harness, proposed.test.observe);
  useKeepBench(
    closed
      ? undefined
      : {
          jobId: job.id,
          state: draft.state,
          setAt: draft.setAt,
          load: params.get("load") ?? "",
          next: next.slice(0, MOST_NEXT),
          entries: job.events.length,
        },
  );

  const meter = useMeter(
    job.id,
    job.view,
    harness,
    state,
    draft,
    closed,
    () => entry.current?.takeMeter(),
    () => entry.current?.isPlacing() ?? false,
    () => entry.current?.isReading() ?? false,
  );

  useShortcuts({
    redLead: () => entry.current?.focus("red"),
    blackLead: () => entry.current?.focus("black"),
    reading: () => entry.current?.focus("value"),
    takeNext,
    undo: () => {
      const last = closed ? undefined : readings.findLast((r) => r.struck === undefined);
      if (last === undefined) return;
      record({ type: "struck", data: { target: last.id, why: "mistyped" } });
      toast(`Struck: ${describeLeads(last.data.leads)}, ${last.data.text}. The log keeps it.`);
    },
    // A reading typed with no field in focus is meant for the reading's field.
    digit: (digit) => {
      change({ text: draft.text + digit });
      entry.current?.focus("value", "end");
    },
    ...(job.simulated ? { simulate: () => entry.current?.simulate() } : {}),
  });
  useEffect(() => {
    if (!closed) entry.current?.focus("red");
  }, [closed, entry]);

  const test = params.get("test") ?? "";
  return {
    job,
    record,
    showTray,
    harness,
    load,
    state,
    draft,
    selected,
    standing,
    procedure: test === "" ? undefined : { id: test, target: params.get("on") ?? "" },
    closed,
    computed,
    shown,
    advised,
    question,
    diagnosing,
    ranked,
    hands,
    present,
    simulate: job.simulated ? simulate : undefined,
    meter,
    change,
    changeState,
    setPresent,
    goTo,
    pick,
    putLeads,
    takeNext,
    sayWord,
    keepReading,
    proposals,
    proposed,
    proposedAt: at,
    another: () => setAnother({ of: ranked, at: (at + 1) % Math.max(1, proposals.length) }),
    working,
    isEnough: ranked?.enoughToAct.yes === true,
    wordButtons,
  };
}

const orList = (words: readonly string[]): string => `${words.slice(0, -1).join(", ")} or ${words.at(-1)}`;

/** How long the bench rests before it is kept, ms. */
const KEEP_AFTER_MS = 1200;
/** Characters of the next test that the board shows at most. */
const MOST_NEXT = 160;

/** Keeps with the job what stands on its bench, so that another device or a colleague finds it so. Undefined: nothing is kept. */
function useKeepBench(
  bench: ({ readonly jobId: string; readonly setAt: number } & Pick<BenchKept, "state" | "load" | "next" | "entries">) | undefined,
): void {
  const by = useAppSelector((s) => s.session.person);
  const [keep] = useKeepBenchMutation();
  const same = useSame(bench);
  useEffect(() => {
    if (same === undefined || by === "") return;
    const timer = setTimeout(() => {
      const { setAt, ...rest } = same;
      // Nobody waits for it; what does not arrive is kept with the next change.
      void keep({ ...rest, by, at: new Date(setAt === 0 ? Date.now() : setAt).toISOString() });
    }, KEEP_AFTER_MS);
    return () => clearTimeout(timer);
  }, [same, by, keep]);
}

const ALL_WORDS: readonly string[] = Object.values(RESULT_WORDS).flat();
const isResultWord = (word: string): word is ResultWord => ALL_WORDS.includes(word);

function useLook(jobId: string) {
  const [look] = useLookMutation();
  return async (state: VehicleState, observe: Observable) => {
    const answer = await look({ jobId, state, observe });
    return "error" in answer ? { message: failureOf(answer.error).message } : answer.data;
  };
}

function useSimulate(jobId: string, state: VehicleState): Simulate {
  const [simulate] = useSimulateMutation();
  return async (leads, moving) => {
    const answer = await simulate({ jobId, leads, state, ...(moving === undefined ? {} : { moving }) });
    if ("error" in answer) return { message: failureOf(answer.error).message };
    return answer.data.kind === "void" ? { message: answer.data.message } : { text: answer.data.text };
  };
}
