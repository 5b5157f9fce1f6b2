import type { JobSummary } from "@rheonom/contract/light";

/** One person's open jobs, in the order in which they are promised. */
export interface Lane {
  readonly person: string;
  readonly jobs: readonly JobSummary[];
  /** Hours of work that are still to be done on them. */
  readonly hours: number;
}

export interface PlannerDay {
  readonly lanes: readonly Lane[];
  /** What cannot be worked on now, in the order in which the waits end. */
  readonly waiting: readonly JobSummary[];
}

/** Lanes that are shown at most. */
const MOST_LANES = 12;

/** Whether a job waits for something that is not there yet. `now`: the minute by the shop's clock, as 2026-12-01T10:00. */
export const isWaiting = ({ waits, until }: Pick<JobSummary, "waits" | "until">, now: string): boolean =>
  waits !== "" && (until === "" || until > (until.includes("T") ? now : now.slice(0, 10)));

/** Whether the promised time has come. */
export const isLate = ({ promised }: Pick<JobSummary, "promised">, now: string): boolean => promised !== "" && promised <= now;

/** The shop's open jobs by who has them. `people`: whoever has a lane even without a job. */
export function dayOf(jobs: readonly JobSummary[], people: readonly string[], now: string): PlannerDay {
  const open = jobs.filter((j) => j.stage !== "closed");
  const names = [...new Set([...people, ...open.map((j) => j.whose)])].filter((name) => name !== "").slice(0, MOST_LANES);
  const ready = open.filter((j) => !isWaiting(j, now));
  const lanes = [...(ready.some((j) => !names.includes(j.whose)) ? [""] : []), ...names].map((person) => {
    const own = ready.filter((j) => (person === "" ? !names.includes(j.whose) : j.whose === person)).sort(byPromise);
    return { person, jobs: own, hours: own.reduce((sum, j) => sum + j.hoursOpen, 0) };
  });
  const waiting = open.filter((j) => isWaiting(j, now)).sort((p, q) => compare(p.until || LAST, q.until || LAST));
  return { lanes, waiting };
}

/** After every day. */
const LAST = "9";
const compare = (p: string, q: string): number => (p < q ? -1 : p > q ? 1 : 0);
const byPromise = (p: JobSummary, q: JobSummary): number =>
  compare(p.promised || LAST, q.promised || LAST) || compare(p.openedAt, q.openedAt);

/** "2.5 h". */
export const hoursText = (hours: number): string => `${Number(hours.toFixed(1))} h`;
