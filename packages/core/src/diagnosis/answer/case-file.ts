import { DOUBTFUL } from "../belief/belief.ts";
import { z } from "zod";
import { vehicleState } from "../../circuit/index.ts";
import { FAULT_EFFECTS } from "../../faults/index.ts";
import { harnessSchema, type Harness } from "../../harness/index.ts";
import { INSTRUMENTS, leadRefusals } from "../effort/candidate-test.ts";
import { diagnose, type Diagnosis, type Question } from "./diagnose.ts";
import { circumstance, evidence } from "../evidence/evidence.ts";
import { observable } from "../evidence/kinds/index.ts";
import { accessOf, cautionsOf } from "../effort/cautions.ts";
import { isOnlyNotAsked, notAskedOf } from "./not-asked.ts";
import { questionedOf, referencesOf } from "./questions.ts";
import { overheatingOf } from "./held-on.ts";
import { type RankedTest, worthOf } from "../next-test/rank.ts";
import { ownDoing } from "../predict/own-doing.ts";
import { discardedOf, expectedOf, misfitOf, suspectsOf, testWords } from "./explain.ts";
import { observableWords, resultWords } from "../evidence/describe.ts";

/** A case as a file: the vehicle, the complaint, and all that was found. Either `harness` or `notation`. */
export const caseFile = z.object({
  harness: harnessSchema.optional(),
  notation: z.string().max(2_000_000).optional(),
  /** What the vehicle has; everything when left out. */
  options: z.array(z.string().max(24)).max(60).optional(),
  complaint: z.object({
    words: z.string().max(2000).default(""),
    /** Parts that do not do what they should. */
    focus: z.array(z.string().max(40)).max(20),
    /** The state in which it shows. */
    state: vehicleState,
    /** Share of the time that it shows; 1 for always. */
    presence: z.number().min(0.01).max(1).default(1),
  }),
  evidence: z.array(evidence).max(500).default([]),
  circumstances: z.array(circumstance).max(100).default([]),
  instruments: z.array(z.enum(INSTRUMENTS)).default([...INSTRUMENTS]),
  ageYears: z.number().min(0).max(60).optional(),
});
export type CaseFile = z.infer<typeof caseFile>;

const reason = z.object({ evidence: z.string(), words: z.string(), measured: z.string(), predicted: z.string() });

export const caseAnswer = z.object({
  suspects: z.array(
    z.object({
      element: z.string(),
      other: z.string().optional(),
      with: z.string().optional(),
      mode: z.string(),
      words: z.string(),
      mend: z.string(),
      severity: z.string().nullable(),
      effect: z.enum(FAULT_EFFECTS),
      seriesOhms: z.number().nullable(),
      probability: z.number(),
      for: z.array(reason),
      against: z.array(reason),
      /** What made it likelier or less likely before anything was measured, and by how much. */
      background: z.array(z.string()),
    }),
  ),
  discarded: z.array(z.object({ element: z.string(), reason })),
  next: z.array(
    z.object({
      kind: z.string(),
      words: z.string(),
      state: vehicleState,
      observe: observable,
      minutes: z.number(),
      /** How to get there. */
      access: z.array(z.string()),
      cautions: z.array(z.string()),
      bits: z.number(),
      expected: z.object({ sound: z.string(), suspects: z.array(z.object({ element: z.string(), shows: z.string() })) }),
    }),
  ),
  enoughToAct: z.object({
    yes: z.boolean(),
    act: z.enum(["mend", "renew"]).nullable(),
    element: z.string().nullable(),
    probability: z.number(),
    /** What mends it, in trade words. */
    how: z.string().nullable(),
    missing: z.array(z.object({ what: z.string(), words: z.string() })),
    /** Chance that it is something else, minutes of work that would be for nothing, whether a part would have been bought, and what it would be then. */
    ifWrong: z.object({ chance: z.number(), minutes: z.number(), part: z.boolean(), instead: z.string().nullable() }).nullable(),
  }),
  /** Codes that the vehicle sets because something is unplugged, pulled or jumpered, and what is to be undone for them to go. */
  ownDoing: z.array(z.object({ code: z.string(), because: z.array(z.string()) })),
  /** Evidence that can hardly be meant as it stands. */
  questioned: z.array(z.object({ evidence: z.string(), words: z.string() })),
  /** Black-lead points that a suspect may lift. */
  references: z.array(z.object({ place: z.string(), words: z.string() })),
  /** Parts that nobody asked for anything in the state of the complaint: what has to be done for a sound one to work. */
  notAsked: z.array(z.object({ part: z.string(), words: z.string(), state: vehicleState })),
  /** Windings that a likely suspect holds on, which deliver nothing and overheat. */
  overheating: z.array(z.object({ part: z.string(), amps: z.number(), because: z.string(), words: z.string() })),
  /** Readings that fit nothing else that was found, with the chance that they are wrong. */
  doubtful: z.array(z.object({ evidence: z.string(), words: z.string(), chance: z.number() })),
  /** What it may mean that nothing fits; null while something does. */
  misfit: z.string().nullable(),
  /** Evidence that should not have been taken in that way. */
  refused: z.array(z.object({ evidence: z.string(), reason: z.string(), instead: z.string() })),
});
export type CaseAnswer = z.infer<typeof caseAnswer>;

const MOST_NEXT = 8;

const NOTHING_SUSPECTED = {
  suspects: [],
  discarded: [],
  next: [],
  enoughToAct: { yes: false, act: null, element: null, probability: 0, how: null, missing: [], ifWrong: null },
  references: [],
  overheating: [],
  misfit: null,
} satisfies Partial<CaseAnswer>;

/** The question that a file asks of a harness, which must be the one that its names are from. */
export const questionOf = (file: CaseFile, harness: Harness): Question => ({
  harness,
  focus: file.complaint.focus,
  state: file.complaint.state,
  presence: file.complaint.presence,
  evidence: file.evidence,
  circumstances: file.circumstances,
  instruments: file.instruments,
  ...(file.ageYears === undefined ? {} : { ageYears: file.ageYears }),
});

/** Everything that can be said of a case, as plain data. `next`: how far it is looked for the next test, which may take longer than all the rest. */
/** How far it is looked for the next test. */
export type SearchExtent = "none" | "at hand" | "as needed";

/** What the findings of a question amount to, and where to look next. */
export const answerCase = (q: Question, next: SearchExtent = "as needed"): CaseAnswer => answerFrom(diagnose(q), q, next);

/** The same of a question that was weighed: `d` is what `diagnose` says of `q`. */
export function answerFrom(d: Diagnosis, q: Question, next: SearchExtent): CaseAnswer {
  const { harness } = q;
  // As long as the rest of the vehicle was not looked through, nothing is enough.
  const enough = d.isNarrow ? undefined : d.enough;
  const notAsked = notAskedOf(d, q);
  const said = { ...saidOf(d, q), notAsked: notAsked.map((x) => ({ ...x })) };
  // Nothing is suspected of what nobody asked for anything.
  if (isOnlyNotAsked(q, notAsked)) return { ...NOTHING_SUSPECTED, ...said };
  const suspects = suspectsOf(d, q.evidence, q.circumstances);
  return {
    ...said,
    suspects: suspects.map((s) => ({ ...s, for: [...s.for], against: [...s.against], background: [...s.background] })),
    discarded: discardedOf(d, q.evidence).map((x) => ({ ...x })),
    next: (next === "none" ? [] : shownOf(d.next(next))).map((t) => {
      const expected = expectedOf(d, t, suspects);
      return {
        kind: t.kind,
        words: testWords(harness, t),
        state: t.state,
        observe: t.observe,
        minutes: Number(t.minutes.toFixed(1)),
        access: [...accessOf(harness, t)],
        cautions: [...cautionsOf(harness, t)],
        bits: Number(t.bits.toFixed(3)),
        expected: { sound: expected.sound, suspects: [...expected.suspects] },
      };
    }),
    enoughToAct: {
      ...NOTHING_SUSPECTED.enoughToAct,
      ...enough,
      missing: (enough?.missing ?? []).map(({ what, words }) => ({ what, words })),
      ifWrong: enough === undefined ? null : { ...enough.ifWrong, instead: enough.ifWrong.instead ?? null },
    },
    references: referencesOf(d, q.evidence).map((x) => ({ ...x })),
    overheating: overheatingOf(d, q).map((x) => ({ ...x })),
    misfit: misfitOf(d, q.evidence) ?? null,
  };
}

/** Tests that are shown: the best ones, and among them one by scope where that tells a fair share of the best. */
function shownOf(ranked: readonly RankedTest[]): readonly RankedTest[] {
  const best = ranked.slice(0, MOST_NEXT);
  const byScope = ranked.find((t) => t.observe.kind === "level" || t.observe.kind === "duty");
  if (
    byScope === undefined ||
    best.includes(byScope) ||
    worthOf(byScope.bits, byScope.minutes) < FAIR_SHARE * worthOf(best[0]!.bits, best[0]!.minutes)
  )
    return best;
  return [...best.slice(0, MOST_NEXT - 1), byScope];
}
/** Of what the best test tells in a minute. */
const FAIR_SHARE = 0.3;

/** What is said of the evidence itself, whatever is suspected. */
function saidOf(d: Diagnosis, { harness, evidence }: Question): Pick<CaseAnswer, "ownDoing" | "questioned" | "doubtful" | "refused"> {
  return {
    ownDoing: ownDoing(d.oracle, evidence).map(({ code, because }) => ({ code, because: [...because] })),
    questioned: questionedOf(harness, evidence).map((x) => ({ ...x })),
    doubtful: evidence.flatMap((e, i) =>
      d.belief.doubt[i]! > DOUBTFUL
        ? [
            {
              evidence: e.id,
              words: `${observableWords(harness, e.observe)}: ${resultWords(e.observe, e.result)}`,
              chance: d.belief.doubt[i]!,
            },
          ]
        : [],
    ),
    refused: evidence.flatMap((e) => {
      return leadRefusals(harness, e).map((r) => ({
        evidence: e.id,
        reason: r.reason,
        instead: r.instead,
      }));
    }),
  };
}
