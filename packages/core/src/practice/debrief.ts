import { stateKey, type Fault } from "../circuit/index.ts";
import {
  diagnose,
  expectedBitsOf,
  LEAST_BITS,
  observableWords,
  resultWords,
  shownBy,
  inWords,
  testsOf,
  workClock,
  testWords,
  WIRE_COLOUR,
  type Diagnosis,
  type Evidence,
  type Finding,
  type Question,
} from "../diagnosis/index.ts";
import { lookupOf, partNameIn, type Harness } from "../harness/index.ts";
import { endsFault, placesOfFault } from "./fault-places.ts";
import { judgedFault, type FaultJudged, type FaultSaid } from "./fault-type.ts";
import { otherColoursAt } from "./misdrawn.ts";
import { peopleWhoErr } from "./people.ts";
import { resultOf } from "./truth.ts";
import { truthFrom } from "./truth-from.ts";

/** What somebody did in the end, or thought to be the end. `after`: findings that stood before it. */
export interface Act {
  readonly at: string;
  readonly isReplaced: boolean;
  readonly after: number;
  /** What was wrong, in the words of whoever repaired it. */
  readonly fault?: FaultSaid | undefined;
  /** Rating of the fuse that was put in, A. */
  readonly fuseAmps?: number | undefined;
}

/** A job as it was worked, from the complaint on. */
export interface Played {
  /** Without evidence. */
  readonly question: Omit<Question, "evidence">;
  /** What the customer and the vehicle told before anything was tried. */
  readonly told: readonly Evidence[];
  /** What was found since, in order. */
  readonly found: readonly Finding[];
  readonly acts: readonly Act[];
  readonly truth: readonly Fault[];
  /** What is not as it should be beside it. */
  readonly beside?: readonly Fault[];
  /** The vehicle as it is, where the diagram is not right everywhere. */
  readonly vehicle?: Harness;
  /** Entries that were found while the clock stood. */
  readonly untimed?: ReadonlySet<string>;
  /** Told the share that is worked out. */
  readonly onProgress?: ((share: number) => void) | undefined;
}

/** What stood at a moment. Shares of the belief, 0 to 1. */
export interface Moment {
  /** Of what is really wrong. */
  readonly truth: number;
  readonly leading: string;
  readonly share: number;
  readonly isEnough: boolean;
}

export interface DebriefStep extends Moment {
  /** Entry of the log that it is. */
  readonly entry: string;
  readonly words: string;
  readonly result: string;
  readonly minutes: number;
  /** What it could tell when it was chosen, and what it did, bits. */
  readonly couldTell: number;
  readonly told: number;
  /** What would have told more in a minute; undefined where nothing would. */
  readonly best: { readonly words: string; readonly minutes: number; readonly bits: number } | undefined;
  readonly ruledOut: readonly string[];
  /** In the state in which the fault shows. */
  readonly inState: boolean;
}

export interface ActJudged extends Act {
  readonly isRight: boolean;
  /** What was said of the fault where it lies: type and resistance; undefined where nothing was said. */
  readonly said: FaultJudged | undefined;
  /** What the evidence gave it when it was done. */
  readonly share: number;
  readonly wasEnough: boolean;
  /** What was missing where the evidence gave it enough share all the same, in words; "" otherwise. */
  readonly missing: string;
  /** A part was replaced where something in it or around it could have been mended. */
  readonly isNeedless: boolean;
}

/** A way from the complaint to enough. */
export interface Way {
  readonly tests: number;
  readonly minutes: number;
}

export interface Debrief {
  readonly start: Moment;
  readonly steps: readonly DebriefStep[];
  readonly acts: readonly ActJudged[];
  readonly mine: Way;
  /** By the first proposal each time, on the same vehicle; undefined where that does not come to an end. */
  readonly plan: Way | undefined;
  /** The step with which it was proven, counted from 1; undefined where it never was. */
  readonly provenAt: number | undefined;
  readonly isFound: boolean;
  /** How many faults there were, and how many of them were repaired. */
  readonly truths: number;
  readonly truthsFound: number;
  /** What to practise, from what was done; at most three. */
  readonly lessons: readonly string[];
}

/** Suspects below this share are ruled out. */
const LEFT = 0.005;
/** A test that tells so many times more in a minute is named as the better one. */
const BETTER = 1.2;
/** The steps take so much of the work, the plan the rest. */
export const STEPS_SHARE = 0.7;
/** The plan takes no more tests than this. */
const MOST_PLANNED = 40;
const MOST_RULED_OUT = 6;

/** A job gone through, without what it is held against. */
export type Walked = Omit<Debrief, "plan" | "lessons">;

/** Goes through a job step by step with the belief of the engine at each, and holds it against the way of the first proposals. */
export function debriefOf(played: Played): Debrief {
  const { onProgress } = played;
  const walked = walkOf({ ...played, onProgress: (share) => onProgress?.(STEPS_SHARE * share) });
  return debriefFrom(played, walked, planOf({ ...played, onProgress: (share) => onProgress?.(STEPS_SHARE + (1 - STEPS_SHARE) * share) }));
}

/** The same of its two halves, each of which may be worked out by itself. */
export function debriefFrom(played: Played, walked: Walked, plan: Way | undefined): Debrief {
  const made = { ...walked, plan };
  return { ...made, lessons: [...coloursMissed(played), ...lessonsOf(made)].slice(0, MOST_LESSONS) };
}
const MOST_LESSONS = 3;

/** Each step of a job with the belief of the engine, and what was done in the end. */
export function walkOf(played: Played): Walked {
  const { question, told, found, truth } = played;
  const { harness } = question;
  // How the vehicle stands after so many findings decides what the next test costs.
  const at = (count: number): Diagnosis => {
    const evidence = found.slice(0, count).flatMap((f) => f.evidence);
    return diagnose({ ...question, evidence: [...told, ...evidence], vehicleNow: evidence.at(-1)?.state ?? question.state });
  };
  const shows = stateKey(question.state);
  const clock = workClock(harness, question.state);
  let before = at(0);
  const start = momentOf(before, harness, truth);
  const steps: DebriefStep[] = [];
  const beliefs: Diagnosis[] = [before];
  found.forEach((finding, i) => {
    const tests = testsOf(finding);
    const worked = tests.reduce((sum, test) => sum + clock(test), 0);
    const minutes = played.untimed?.has(finding.entry) === true ? 0 : worked;
    const isScan = finding.evidence[0]?.source === "scan";
    // Once it is proven there is nothing better to do; nor is there where somebody begins with a scan.
    const isBest = before.enough?.yes === true || (isScan && i === 0);
    const [best] = isBest ? [] : before.next("at hand");
    const after = at(i + 1);
    const told = entropyOf(before) - entropyOf(after);
    // What all modules together may say is not gone through ahead: a scan could tell what it told.
    const couldTell = Math.max(...tests.map((test) => (isScan ? undefined : expectedBitsOf(before, test)) ?? Math.max(0, told)));
    const isBetter = best !== undefined && best.bits / best.minutes > BETTER * (couldTell / Math.max(worked, LEAST_MINUTES));
    steps.push({
      ...momentOf(after, harness, truth),
      entry: finding.entry,
      ...wordsOf(harness, finding),
      minutes,
      couldTell,
      told,
      best: isBetter ? { words: testWords(harness, best), minutes: best.minutes, bits: best.bits } : undefined,
      ruledOut: ruledOut(before, after),
      inState: finding.evidence.some((e) => stateKey(e.state) === shows),
    });
    before = after;
    beliefs.push(after);
    played.onProgress?.((i + 1) / found.length);
  });
  const acts = played.acts.map((act): ActJudged => {
    const then = beliefs[Math.min(act.after, beliefs.length - 1)]!;
    return {
      ...act,
      isRight: truth.some((f) => endsFault(harness, f, act.at)),
      said: judgedFault(
        harness,
        truth.filter((f) => endsFault(harness, f, act.at)),
        act.fault,
      ),
      share: shareOf(then, [act.at]),
      wasEnough: then.enough?.yes === true,
      missing: missingFor(then, act.at),
      isNeedless: act.isReplaced && !truth.some((f) => endsFault(harness, f, act.at) && isOfPart(harness, f)),
    };
  });
  const enoughAt = [start, ...steps].findIndex((m) => m.isEnough);
  const provenAt = enoughAt < 0 ? undefined : enoughAt;
  const mine = { tests: steps.length, minutes: steps.reduce((sum, s) => sum + s.minutes, 0) };
  const truthsFound = truth.filter((f) => acts.some((a) => endsFault(harness, f, a.at))).length;
  const isFound = truthsFound === truth.length;
  return { start, steps, acts, mine, provenAt, isFound, truths: truth.length, truthsFound };
}

/** Readings at a wire of another colour than drawn, where nobody noted one. */
function coloursMissed({ question: { harness }, found, vehicle = harness }: Played): readonly string[] {
  const isNoted = found.some((f) => f.evidence.some((e) => e.observe.kind === "check" && e.observe.what === WIRE_COLOUR));
  const places = isNoted ? [] : found.flatMap((f) => testsOf(f).flatMap((t) => otherColoursAt(harness, vehicle, t.observe)));
  return places.length === 0
    ? []
    : [
        `A lead stood at ${list([...new Set(places)])}, where the wire has another colour than drawn, and nobody noted it: compare the colour before a reading counts.`,
      ];
}

/** What kept a repair that was likely enough from being proven. */
function missingFor({ enough }: Diagnosis, at: string): string {
  if (enough === undefined || !namesSame(enough.element, at) || enough.missing.some((m) => m.what === "belief")) return "";
  return enough.missing[0]?.words ?? "";
}
/** A cavity or terminal is of the part that it is named after. */
const namesSame = (p: string, q: string): boolean => p === q || p.startsWith(`${q}.`) || q.startsWith(`${p}.`);

/** What was done for a finding, and what it showed. */
function wordsOf(harness: Harness, { evidence }: Finding): Pick<DebriefStep, "words" | "result"> {
  const [first] = evidence;
  if (first === undefined) return { words: "", result: "" };
  if (first.source !== "scan")
    return {
      words: evidence.map((e) => observableWords(harness, e.observe)).join("; "),
      result: evidence.map((e) => inWords(resultWords(e.observe, e.result))).join("; "),
    };
  const codes = evidence.flatMap((e) => (e.observe.kind === "code" ? [e.observe.code] : []));
  const silent = evidence.flatMap((e) =>
    e.observe.kind === "answers" && e.result.kind === "word" && e.result.word === "no" ? [e.observe.module] : [],
  );
  const told = [codes.join(", "), silent.length === 0 ? "" : `no response: ${silent.join(", ")}`].filter((w) => w !== "");
  return { words: "scan of all modules", result: told.join("; ") || "no code, all respond" };
}

/** Whether a fault is in a part and not in what joins parts: then the part is replaced. */
const isOfPart = (harness: Harness, fault: Fault): boolean => {
  const name = "link" in fault ? partNameIn(fault.link) : fault.kind === "settings" ? fault.component : "";
  const part = lookupOf(harness).parts.get(name);
  return part !== undefined && part.kind !== "connector" && part.kind !== "ground" && part.kind !== "splice";
};

/** No test takes less, minutes. */
const LEAST_MINUTES = 0.1;

function momentOf(d: Diagnosis, harness: Harness, truth: readonly Fault[]): Moment {
  const { repairs } = d.oracle.space;
  const top = repairs.reduce((best, r) => (d.belief.repairs[r.index]! > d.belief.repairs[best]! ? r.index : best), 0);
  return {
    truth: shareOf(
      d,
      truth.flatMap((f) => placesOfFault(harness, f)),
    ),
    leading: repairs[top]?.element ?? "",
    share: Math.min(1, d.belief.repairs[top] ?? 0),
    isEnough: d.enough?.yes === true,
  };
}

function shareOf(d: Diagnosis, names: readonly string[]): number {
  const named = new Set(names.map((n) => n.toLowerCase()));
  return Math.min(
    1,
    d.oracle.space.repairs.reduce((sum, r) => sum + (named.has(r.element.toLowerCase()) ? d.belief.repairs[r.index]! : 0), 0),
  );
}

/** Of what is to be mended, bits. */
function entropyOf({ belief, oracle }: Diagnosis): number {
  return -oracle.space.repairs.reduce((sum, r) => {
    const p = Math.min(1, belief.repairs[r.index]!);
    return p > 0 ? sum + p * Math.log2(p) : sum;
  }, 0);
}

/** What was left before and is no more, heaviest first. */
function ruledOut(before: Diagnosis, after: Diagnosis): readonly string[] {
  const left = new Map(after.oracle.space.repairs.map((r) => [r.element, after.belief.repairs[r.index]!]));
  return [...before.oracle.space.repairs]
    .filter((r) => before.belief.repairs[r.index]! > LEFT && (left.get(r.element) ?? 0) <= LEFT)
    .sort((p, q) => before.belief.repairs[q.index]! - before.belief.repairs[p.index]!)
    .slice(0, MOST_RULED_OUT)
    .map((r) => r.element);
}

/**
 * The way of the first proposal each time, from the same complaint, on a vehicle with these faults. Where the complaint names no part, it begins with the finding that the job began
 * with. A look sees what more people see than not, as on the simulated vehicle.
 */
export function planOf({ question, told, found, truth, beside = [], vehicle = question.harness, onProgress }: Played): Way | undefined {
  const { harness } = question;
  const clock = workClock(harness, question.state);
  const truths = truth.map((f) => truthFrom(harness, f));
  const begun = told.length === 0 ? found.slice(0, 1) : [];
  let evidence = [...told, ...begun.flatMap((f) => f.evidence)];
  let vehicleNow = evidence.at(-1)?.state ?? question.state;
  let minutes = begun.flatMap(testsOf).reduce((sum, test) => sum + clock(test), 0);
  for (let tests = begun.length; tests < MOST_PLANNED; tests++) {
    onProgress?.(tests / (tests + 4));
    const d = diagnose({ ...question, evidence, vehicleNow });
    if (d.enough?.yes === true) return { tests, minutes };
    const [next] = d.next();
    if (next === undefined) return undefined;
    const test = { state: next.state, observe: next.observe };
    minutes += clock(test);
    vehicleNow = next.state;
    const result = BY_HAND.has(next.observe.kind)
      ? resultOf(vehicle, test, truths, true, () => 0.5, peopleWhoErr(1), beside)
      : shownBy(vehicle, test, [...truth, ...beside]);
    const colours = otherColoursAt(harness, vehicle, test.observe).map((at): Evidence => ({
      id: `plan ${tests} ${at}`,
      state: test.state,
      observe: { kind: "check", at, what: WIRE_COLOUR },
      result: { kind: "word", word: "otherwise" },
      source: "technician",
    }));
    evidence = [...evidence, { id: `plan ${tests}`, ...test, result, source: "technician" }, ...colours];
  }
  return undefined;
}

/** What eyes and hands tell, not an instrument. */
const BY_HAND: ReadonlySet<string> = new Set(["look", "wiggle", "swap"]);

/** Minutes beyond the plan that are worth a word, as a share of it. */
const MUCH_LONGER = 1.5;

/** What to practise, the dearest first. */
function lessonsOf({ steps, acts, mine, plan, provenAt, isFound }: Omit<Debrief, "lessons">): readonly string[] {
  const lessons: string[] = [];
  const wrong = acts.filter((a) => !a.isRight);
  const parts = wrong.filter((a) => a.isReplaced);
  if (parts.length > 0)
    lessons.push(
      `${list(parts.map((a) => a.at))} ${parts.length === 1 ? "was" : "were"} replaced without cure: prove supply, ground and command at a part before it is replaced.`,
    );
  else if (wrong.length > 0)
    lessons.push(`${list(wrong.map((a) => a.at))}: repaired without cure. Measure across what is suspected before it is opened.`);
  const early = acts.find((a) => a.isRight && !a.wasEnough);
  if (early !== undefined)
    lessons.push(
      early.missing === ""
        ? `${early.at} was right, but the evidence gave it ${Math.round(100 * early.share)} %: next time it may be another one. One reading that tells it from the rest is missing.`
        : `${early.at} was right and all but sure, yet not proven: ${early.missing}.`,
    );
  // Once it is proven nothing can tell more; that is another lesson.
  const empty = steps.slice(0, provenAt).filter((s) => s.couldTell < LEAST_BITS && s.told < LEAST_BITS);
  const idle = empty.filter((s) => !s.inState);
  if (idle.length > 0)
    lessons.push(
      `${idle.length} of ${steps.length} tests could tell nothing in that state: set the state in which the fault shows, with current flowing, before measuring.`,
    );
  const known = empty.filter((s) => s.inState);
  if (known.length > 0)
    lessons.push(
      `${known.length} of ${steps.length} tests could only show what was known by then, such as ${known[0]!.words}: ask what a test would rule out before the leads go there.`,
    );
  const beyond = provenAt === undefined ? [] : steps.slice(provenAt);
  if (beyond.length > 0)
    lessons.push(
      `It was proven after ${provenAt} ${provenAt === 1 ? "test" : "tests"}; ${beyond.length} more followed (${minutesWords(beyond.reduce((sum, s) => sum + s.minutes, 0))}).`,
    );
  const dear = steps.reduce<DebriefStep | undefined>(
    (worst, s) => (s.best !== undefined && (worst === undefined || s.minutes > worst.minutes) ? s : worst),
    undefined,
  );
  if (plan !== undefined && mine.minutes > MUCH_LONGER * plan.minutes && dear?.best !== undefined)
    lessons.push(
      `${minutesWords(mine.minutes)} where ${minutesWords(plan.minutes)} would do. The dearest detour: ${dear.words}; ${dear.best.words} would have told ${dear.best.bits.toFixed(1)} bits in ${minutesWords(dear.best.minutes)}.`,
    );
  if (!isFound && lessons.length === 0)
    lessons.push("It was not found: go on from the last step and measure what the leading suspects tell apart.");
  return lessons;
}

const minutesWords = (minutes: number): string => `${minutes < 10 ? minutes.toFixed(1) : Math.round(minutes)} min`;
const list = (names: readonly string[]): string =>
  names.length < 2 ? (names[0] ?? "") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)!}`;
