import { createEmptyCard, fsrs, Rating, type Card, type Grade } from "ts-fsrs";
import type { Learning, PracticeResult } from "@rheonom/contract/practice";
import { familiesFor, SKILL_IDS, SKILLS, type Family, type Skill } from "@rheonom/core/practice";

/** A standard spaced-repetition scheduler, without chance in its intervals, so that the same jobs give the same plan. */
const scheduler = fsrs({ enable_fuzz: false });

/** Marks below these are a failure, hard, good; above them it was easy. */
const STEPS: readonly (readonly [below: number, rating: Grade])[] = [
  [0.4, Rating.Again],
  [0.7, Rating.Hard],
  [0.9, Rating.Good],
  [Infinity, Rating.Easy],
];
export const ratingOf = (mark: number): Grade => STEPS.find(([below]) => mark < below)![1];

/** Below this chance of recall a skill is due. */
const DUE_RECALL = 0.9;
/** Latest marks that tell the level. */
const LATEST = 5;

type SkillState = Learning["skills"][number];

/** What is asked for next, and why. */
export interface NextAsk {
  readonly family: Family | undefined;
  readonly difficulty: number;
  readonly words: string;
}

/** Where somebody stands, from what their practice jobs came to, oldest first. */
export function learningOf(results: readonly PracticeResult[], now: Date): Learning {
  const curve = results.map((_, i) => latestOf(results.slice(0, i + 1).map((r) => r.grade)));
  return { results: [...results], curve, skills: SKILL_IDS.map((id) => stateOf(id, results, now)), next: nextFor(results, now).words };
}

function stateOf(id: Skill, results: readonly PracticeResult[], now: Date): SkillState {
  const told = results.flatMap((r) => (r.marks[id] === undefined ? [] : [{ at: new Date(r.at), mark: r.marks[id] }]));
  const base = { id, words: SKILLS[id], jobs: told.length };
  if (told.length === 0) return base;
  let card: Card = createEmptyCard(told[0]!.at);
  for (const { at, mark } of told) card = scheduler.next(card, at, ratingOf(mark)).card;
  const { mean, error } = latestOf(told.map((t) => t.mark));
  const recall = scheduler.get_retrievability(card, now, false);
  return { ...base, level: mean, error, recall, due: card.due.toISOString() };
}

/** Standard error of a single mark, before there are others to tell. */
const ONE_ALONE = 0.25;

/** The mean of the latest of some marks, at least one, and its standard error. */
function latestOf(marks: readonly number[]): { readonly mean: number; readonly error: number } {
  const latest = marks.slice(-LATEST);
  const mean = latest.reduce((sum, m) => sum + m, 0) / latest.length;
  const squares = latest.reduce((sum, m) => sum + (m - mean) ** 2, 0);
  return { mean, error: latest.length < 2 ? ONE_ALONE : Math.sqrt(squares / (latest.length - 1) / latest.length) };
}

/** A skill is sought by families of its own; what every job shows comes with any. */
const isSought = (id: Skill): boolean => familiesFor(id).length > 0;

/** Difficulty for somebody of whom nothing is known, and what the grade of the latest jobs adds at most. */
const FIRST_DIFFICULTY = 0.2;
const GRADE_ADDS = 0.6;

/** What a job takes beyond the plan at most, in plans; as much where nothing is known of a skill. */
const MOST_EXCESS = 3;

/** How much there is to save by practising a skill: what its latest job took beyond the plan, and what is forgotten meanwhile, in every kind of fault that asks for it. */
function needOf({ now, recall = 1 }: SkillState & { readonly now?: number | undefined }, families: readonly Family[]): number {
  const excess = now === undefined ? MOST_EXCESS : Math.min(MOST_EXCESS, 1 / Math.max(now, 0.01) - 1);
  return families.length * (excess + (1 - recall) * (MOST_EXCESS - excess));
}

/**
 * What somebody should practise next: the skill with most to win, by its latest mark, what the scheduler thinks is forgotten meanwhile, and how many kinds of faults ask for it.
 * As hard as the latest jobs went well.
 */
export function nextFor(results: readonly PracticeResult[], now: Date): NextAsk {
  const grade = results.length === 0 ? 0 : latestOf(results.map((r) => r.grade)).mean;
  const difficulty = FIRST_DIFFICULTY + GRADE_ADDS * grade;
  const states = SKILL_IDS.filter(isSought).map((id) => ({
    state: { ...stateOf(id, results, now), now: results.findLast((r) => r.marks[id] !== undefined)?.marks[id] },
    families: familiesFor(id),
  }));
  const chosen = states.reduce((best, s) => (needOf(s.state, s.families) > needOf(best.state, best.families) ? s : best));
  const { jobs, recall = 1, words } = chosen.state;
  const why = jobs === 0 ? "not practised yet" : recall < DUE_RECALL ? "due again" : "most to win";
  return { family: chosen.families[jobs % chosen.families.length], difficulty, words: `${words}: ${why}` };
}
