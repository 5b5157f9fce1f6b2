import { LEAST_BITS } from "../diagnosis/index.ts";
import type { Debrief } from "./debrief.ts";
import type { Family } from "./scenario/families.ts";
import type { Score, Scored } from "./score.ts";

/** What a practice job shows of whoever worked it, in the order in which it is learned. */
export const SKILLS = {
  sheet: "Read a diagram: follow feed and return",
  loaded: "Measure with current flowing",
  reference: "Black lead on a known point",
  ground: "Prove a ground under load",
  shared: "Find what failing parts share",
  relay: "A relay’s four circuits",
  lamp: "Find a short: lamp in series, one branch after the other",
  unplug: "Find what drags a line down by unplugging",
  scope: "Duty and levels: command and monitor wires",
  bus: "Buses: levels, termination, one module after the other",
  drain: "Find what drains the battery",
  intermittent: "Faults that come and go",
  tidy: "Put everything back",
  proof: "Verify the repair by the test that failed",
} as const;
export type Skill = keyof typeof SKILLS;
export const SKILL_IDS = Object.keys(SKILLS) as readonly Skill[];

/** What a fault of each family takes, the main thing first. */
export const SKILLS_OF: Readonly<Record<Family, readonly Skill[]>> = {
  "no crank": ["relay", "loaded"],
  "cranks, no start": ["shared", "relay"],
  charging: ["scope"],
  misfire: ["scope"],
  open: ["sheet"],
  "high resistance": ["loaded"],
  "bad ground": ["ground"],
  "shared return": ["shared", "ground"],
  "short to ground": ["lamp"],
  "short to supply": ["unplug"],
  "short between wires": ["unplug"],
  "5 V reference": ["unplug"],
  bus: ["bus"],
  "sensor or gauge": ["sheet"],
  "wrong fuse": ["sheet", "lamp"],
  drain: ["drain"],
  intermittent: ["intermittent"],
};

/** How well something was done, 0 to 1. */
export type Marks = Readonly<Partial<Record<Skill, number>>>;

/** Of a job's grade, what finding it counts; the rest is time. */
const FOUND_COUNTS = 0.6;

/** How a job went as a whole: found, and in what time against the first proposals. 0 to 1. */
export function gradeOf({ truths, truthsFound, mine, plan, isFound }: Debrief): number {
  const found = truths === 0 ? 0 : truthsFound / truths;
  const quick = !isFound ? 0 : plan === undefined || mine.minutes <= plan.minutes ? 1 : plan.minutes / mine.minutes;
  return FOUND_COUNTS * found + (1 - FOUND_COUNTS) * quick;
}

/** What a job tells of each skill that it asked for; those that it did not ask for are left out. */
export function marksOf(family: Family, debrief: Debrief, score: Score): Marks {
  const grade = gradeOf(debrief);
  const share = (id: Scored): number => {
    const row = score.rows.find((r) => r.id === id);
    return row === undefined || row.most === 0 ? 1 : row.points / row.most;
  };
  const before = debrief.steps.slice(0, debrief.provenAt);
  const telling = before.filter((s) => s.couldTell >= LEAST_BITS || s.told >= LEAST_BITS);
  const marks: Partial<Record<Skill, number>> = {
    ...(before.length === 0 ? {} : { loaded: telling.length / before.length }),
    ...(debrief.steps.length === 0 ? {} : { reference: share("reference") }),
    tidy: share("putBack"),
    proof: share("proof"),
  };
  // The time that a job took is told of what it mainly asks for; of the rest it says little.
  const [main] = SKILLS_OF[family];
  if (main !== undefined) marks[main] = marks[main] === undefined ? grade : (marks[main] + grade) / 2;
  return marks;
}

/** Families in which a skill is the main thing; empty for what every job shows. */
export const familiesFor = (skill: Skill): readonly Family[] =>
  (Object.keys(SKILLS_OF) as Family[]).filter((f) => SKILLS_OF[f][0] === skill);
