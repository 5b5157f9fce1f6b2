import { turnsEngine } from "./cautions.ts";
import type { EventOf, JobEvent } from "./events.ts";
import type { JobView } from "./fold.ts";

/** How a job is practised, and how often advice was asked for. */
export interface PracticeView extends Readonly<EventOf<"practice-begun">["data"]> {
  readonly asked: number;
  /** Findings that stood when it was asked for last; undefined before it was. */
  readonly askedAt: number | undefined;
  /** What whoever teaches has said, in order. */
  readonly hints: readonly string[];
  /** Whoever teaches has stopped the clock. */
  readonly isStopped: boolean;
  /** Ids of what was found while it stood. */
  readonly untimed: readonly string[];
  /** Nobody had seen to it that the engine may turn, and it was cranked: ids of what was found then. */
  readonly cranked: readonly string[];
}

/** Entries of a log that found something, struck ones too. */
export const findingsIn = (of: Readonly<Record<"readings" | "seen" | "wiggles" | "scans", readonly unknown[]>>): number =>
  of.readings.length + of.seen.length + of.wiggles.length + of.scans.length;

/** Whether the tool says what it thinks of a job: in practice only where advice is on, was asked for since the latest finding, or the job is closed. */
export function isAdvised(view: JobView): boolean {
  const { practice } = view;
  if (practice === undefined || practice.advice === "on" || view.closed !== undefined) return true;
  return practice.advice === "asked" && practice.askedAt === findingsIn(view);
}

/** Entries of what was found. */
const FINDS: ReadonlySet<JobEvent["type"]> = new Set(["reading-taken", "seen", "wiggled", "codes-read"]);

/** What was found with the engine cranked, by whoever works on the job. */
function isCranked(event: JobEvent): boolean {
  if (event.type === "seen") return event.data.source !== "customer" && turnsEngine(event.data.state);
  return (event.type === "reading-taken" || event.type === "wiggled") && turnsEngine(event.data.state);
}

/**
 * How a job is practised after one more entry; the same value where it changes nothing. `found`: findings before it, struck ones too; `isClear`: somebody has seen to it that the
 * engine may turn.
 */
export function practiceAfter(
  before: PracticeView | undefined,
  event: JobEvent,
  { found, isClear }: { readonly found: number; readonly isClear: boolean },
): PracticeView | undefined {
  // As it was begun it is practised: nobody turns advice on later.
  if (before === undefined)
    return event.type === "practice-begun"
      ? { ...event.data, asked: 0, askedAt: undefined, hints: [], isStopped: false, untimed: [], cranked: [] }
      : undefined;
  switch (event.type) {
    case "hint-given":
      return { ...before, hints: [...before.hints, event.data.text] };
    case "clock-turned":
      return { ...before, isStopped: !event.data.running };
    case "advice-asked":
      return { ...before, asked: before.asked + 1, askedAt: found };
    default:
      return foundIn(before, event, isClear);
  }
}

function foundIn(before: PracticeView, event: JobEvent, isClear: boolean): PracticeView {
  const untimed = before.isStopped && FINDS.has(event.type) ? [...before.untimed, event.id] : before.untimed;
  const cranked = !isClear && isCranked(event) ? [...before.cranked, event.id] : before.cranked;
  return untimed === before.untimed && cranked === before.cranked ? before : { ...before, untimed, cranked };
}
