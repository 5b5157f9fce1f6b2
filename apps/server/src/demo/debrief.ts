import type { DebriefShown, PracticeResult } from "@rheonom/contract/practice";
import { REST_STATE } from "@rheonom/core/circuit";
import { findingsOf, type Evidence } from "@rheonom/core/diagnosis";
import { loadsOf } from "@rheonom/core/harness";
import { askedOfJob, evidenceAfter, foldJob, openTray, type JobView, type LogEntry } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import {
  debriefFrom,
  faultWords,
  gradeOf,
  isFamily,
  marksOf,
  misdrawnWords,
  scoreOf,
  type Act,
  type Conduct,
  type Played,
  type Walked,
  type Way,
  type Weights,
} from "@rheonom/core/practice";
import { formatOhms } from "@rheonom/core/quantity";
import { AppError } from "../errors.ts";
import { drawnFirst, vehicleOf, type HiddenOrNone } from "./stand-in.ts";

/** Findings that are gone through at most; what came behind them is left out. */
const MOST_STEPS = 60;

/** A debrief with what is kept of it, where the job was made to practise on. */
export type DebriefMade = DebriefShown & { readonly result?: PracticeResult };

/** A closed job on a simulated vehicle as it was played, for what is worked out of it. Throws AppError no-stand-in, no-circuit, and practice-open while it may still be played: until then nobody is told what is wrong. */
export function playedJob(entries: readonly LogEntry[], { truth, world }: HiddenOrNone, onProgress?: (share: number) => void): Played {
  const view = foldJob(entries);
  if (truth === undefined || view === undefined) throw new AppError("no-stand-in");
  if (view.closed === undefined) throw new AppError("practice-open");
  const harness = view.circuit === undefined ? undefined : parseNotation(view.circuit.notation).harness;
  if (harness === undefined) throw new AppError("no-circuit");
  const mends = view.mends.filter((m) => m.struck === undefined);
  const isTold = (e: Evidence): boolean => e.source === "customer";
  // What was found before each repair; behind the last one it is verified, and nothing is sought any more.
  const rounds = mends.length === 0 ? [evidenceAfter(view, 0)] : mends.map((_, i) => evidenceAfter(view, i));
  const found = rounds.map((r) => findingsOf(r.filter((e) => !isTold(e))));
  const acts = mends.map((m, i): Act => ({
    at: m.data.at,
    isReplaced: m.data.method === "part renewed",
    fault: m.data.fault,
    fuseAmps: m.data.fuseAmps,
    after: found.slice(0, i + 1).reduce((sum, r) => sum + r.length, 0),
  }));
  return {
    onProgress,
    question: { ...askedOfJob(harness, view, loadsOf(harness)[0]?.id ?? "", REST_STATE), harness },
    told: rounds[0]!.filter(isTold),
    found: found.flat().slice(0, MOST_STEPS),
    beside: world?.beside ?? [],
    vehicle: vehicleOf(entries, view, world) ?? harness,
    acts,
    truth,
    untimed: new Set(view.practice?.untimed),
  };
}

/** What a closed job comes to, of its two halves; `weights`: what a class has set, otherwise the usual ones. Throws what `playedJob` does. */
export function debriefJob(
  entries: readonly LogEntry[],
  hidden: HiddenOrNone,
  { walked, plan }: { readonly walked: Walked; readonly plan: Way | undefined },
  weights?: Weights,
): DebriefMade {
  const { world } = hidden;
  const played = playedJob(entries, hidden);
  const { truth, found } = played;
  const { harness } = played.question;
  const view = foldJob(entries)!;
  const made = debriefFrom(played, walked, plan);
  const score = scoreOf(
    harness,
    made,
    found.flatMap((f) => f.evidence),
    [...truth, ...(world?.beside ?? [])],
    conductOf(view),
    weights,
  );
  const result: PracticeResult | undefined =
    world === undefined || world.again === true || !isFamily(world.family)
      ? undefined
      : {
          jobId: view.id,
          by: view.closed!.by,
          at: view.closed!.at,
          vehicle: world.vehicle,
          family: world.family,
          difficulty: world.difficulty,
          isFound: made.isFound,
          score: score.total,
          grade: gradeOf(made),
          tests: made.mine.tests,
          minutes: made.mine.minutes,
          ...(made.plan === undefined ? {} : { planTests: made.plan.tests, planMinutes: made.plan.minutes }),
          marks: { ...marksOf(world.family, made, score) },
        };
  return {
    ...made,
    ...(result === undefined ? {} : { result }),
    score: { ...score, rows: [...score.rows], cost: { ...score.cost, parts: [...score.cost.parts] } },
    ...(world === undefined
      ? {}
      : {
          world: {
            family: world.family,
            seed: world.seed,
            difficulty: world.difficulty,
            twists: world.twists,
            presence: world.presence,
            ...(world.afterMinutes === undefined ? {} : { afterMinutes: world.afterMinutes }),
            beside: world.beside.map((f) => faultWords(f, formatOhms)),
            ...(world.misdrawn === undefined
              ? {}
              : { misdrawn: misdrawnWords(drawnFirst(entries, view, world) ?? harness, world.misdrawn) }),
          },
        }),
    truth: truth.map((f) => faultWords(f, formatOhms)),
    steps: made.steps.map(({ best, ...s }) => ({ ...s, ruledOut: [...s.ruledOut], ...(best === undefined ? {} : { best }) })),
    acts: made.acts.map((a) => ({ ...a })),
    lessons: [...made.lessons],
    plan: made.plan,
    provenAt: made.provenAt,
  };
}

/** How the work was done and left, from the log. */
function conductOf(view: JobView): Conduct {
  const mends = view.mends.filter((m) => m.struck === undefined);
  return {
    isVerified: mends.length > 0 && view.closed?.data.withoutProof === "",
    leftOnVehicle: openTray(view).length,
    isRecorded: mends.length > 0 && mends.every((m) => m.data.cause !== ""),
    cranked: view.practice?.cranked.length ?? 0,
    asked: (view.practice?.asked ?? 0) + (view.practice?.hints.length ?? 0),
  };
}
