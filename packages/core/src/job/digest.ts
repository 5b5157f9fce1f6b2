import { z } from "zod";
import { codeName } from "../codes/index.ts";
import type { LogEntry } from "./entry.ts";
import type { ComplaintData, EventOf } from "./events.ts";
import { NO_PLAN, stageOf, type Stage } from "./fold.ts";

/** Raised when what a digest holds, or how it is made, changes: stored ones of another version are made anew from their logs. */
export const DIGEST_VERSION = 3;

/**
 * What the board and the rules about the next event need of a job, in a few hundred bytes whatever the length of the log. It is the fold of the
 * log (`foldJob`) without readings, codes and the like, and is carried on from event to event.
 */
export const jobDigest = z.object({
  /** Places of the log that are taken: the next entry's. */
  entries: z.number().int().min(0),
  openedAt: z.string(),
  openedBy: z.string(),
  lastAt: z.string(),
  /** Who made the last entry. */
  lastBy: z.string(),
  /** Whose job it is said to be, what it waits for, and until which day. */
  plan: z.object({
    whose: z.string(),
    waits: z.string(),
    until: z.string(),
    promised: z.string().optional(),
    /** Hours of work in all. */
    hours: z.number().optional(),
  }),
  /** Hours of labour of the latest estimate; null where there is none. */
  estimatedHours: z.number().nullable(),
  /** Minutes worked on it so far; null where nobody has said. */
  minutes: z.number().nullable(),
  vehicle: z.string(),
  registration: z.string(),
  vin: z.string(),
  words: z.string(),
  /** The vehicle of the shop that its wiring is from, with its options; null where it is from none. */
  wiring: z.object({ id: z.string(), options: z.array(z.string()) }).nullable(),
  hasCircuit: z.boolean(),
  isClosed: z.boolean(),
  /** Ids of what is temporarily changed, neither undone nor explained. */
  tray: z.array(z.string()),
  mends: z.array(
    z.object({ id: z.string(), position: z.number().int(), struck: z.boolean(), words: z.string(), at: z.string(), found: z.string() }),
  ),
  /** Parts that were complained of, and codes that were read, with the entries that say so. */
  told: z.array(z.object({ id: z.string(), parts: z.array(z.string()), codes: z.array(z.string()) })),
  /** When the customer's own data were taken out; "" while they are there. */
  customerRemoved: z.string(),
  /** Whether any reading was ever taken, struck or not. */
  hasReading: z.boolean(),
  /** Unstruck readings by how many mends, struck or not, came before them. */
  readings: z.array(z.number().int()),
  /** Ids of struck readings. */
  struck: z.array(z.string()),
  /** When somebody should ask whether it came back; null when nobody need. */
  watch: z.object({ until: z.string(), distance: z.string(), what: z.string() }).nullable().default(null),
  /** Of the entry that was chained last; "" before there was one. Whoever stores an entry sets it. */
  hash: z.string().default(""),
});
export type JobDigest = z.infer<typeof jobDigest>;

/** Where an entry of the same log stands, counted from 0, and of which type it is. */
export interface EntryPlace {
  readonly type: string;
  readonly position: number;
}

const EMPTY: JobDigest = {
  entries: 0,
  openedAt: "",
  openedBy: "",
  lastAt: "",
  lastBy: "",
  plan: NO_PLAN,
  estimatedHours: null,
  minutes: null,
  vehicle: "",
  registration: "",
  vin: "",
  words: "",
  wiring: null,
  hasCircuit: false,
  isClosed: false,
  tray: [],
  mends: [],
  told: [],
  customerRemoved: "",
  hasReading: false,
  readings: [0],
  struck: [],
  watch: null,
  hash: "",
};

/**
 * The digest after one more entry, which stands at `position`. `before`: undefined ahead of the first. `find` names the place of an earlier entry by its id, undefined when the log holds none.
 */
export function advanceDigest(
  before: JobDigest | undefined,
  entry: LogEntry,
  position: number,
  find: (id: string) => EntryPlace | undefined,
): JobDigest {
  const b = before ?? { ...EMPTY, openedAt: entry.at, openedBy: entry.by, lastAt: entry.at };
  const next = {
    ...b,
    entries: position + 1,
    lastAt: entry.type !== "unreadable" && entry.at > b.lastAt ? entry.at : b.lastAt,
    lastBy: entry.type === "unreadable" ? b.lastBy : entry.by,
  };
  switch (entry.type) {
    case "job-opened":
    case "complaint-changed":
      // Whoever changes it may have named a customer anew.
      return { ...next, ...headOf(entry.data), customerRemoved: "" };
    case "circuit-set":
      return { ...next, hasCircuit: true, wiring: wiringOf(entry.data.vehicle) };
    case "reading-taken":
      return { ...next, hasReading: true, readings: b.readings.map((n, i) => (i === b.mends.length ? n + 1 : n)) };
    case "temporary-made":
      return { ...next, tray: [...b.tray, entry.id] };
    case "temporary-undone":
    case "temporary-explained":
      return { ...next, tray: b.tray.filter((id) => id !== entry.data.target) };
    case "mend-made":
      return {
        ...next,
        mends: [
          ...b.mends,
          {
            id: entry.id,
            position,
            struck: false,
            words: `${entry.data.at}: ${entry.data.method}`,
            at: entry.data.at,
            found: entry.data.found.slice(0, MOST_FOUND),
          },
        ],
        readings: [...b.readings, 0],
      };
    case "struck":
      return strike(next, entry.data.target, find(entry.data.target));
    case "return-watched":
      return { ...next, watch: entry.data.until === "" && entry.data.distance === "" ? null : entry.data };
    case "planned":
      return { ...next, plan: planOf(entry.data) };
    case "estimate-made":
      return { ...next, estimatedHours: labourHours(entry.data) };
    case "time-told":
      return { ...next, minutes: entry.data.minutes };
    case "seen":
      return entry.data.wrong && entry.data.observe.kind === "part" ? tell(next, entry.id, [entry.data.observe.part], []) : next;
    case "codes-read":
      return tell(next, entry.id, [], entry.data.scan.codes.map(codeName));
    case "customer-removed":
      return { ...next, customerRemoved: entry.at };
    case "job-closed":
      return { ...next, isClosed: true };
    case "job-reopened":
      return { ...next, isClosed: false };
    default:
      return next;
  }
}

/** Entries that tell of parts or codes, and codes of one of them, at most; characters of what was found. */
const MOST_TOLD = 40;
const MOST_FOUND = 200;
const tell = (d: JobDigest, id: string, parts: string[], codes: string[]): JobDigest =>
  d.told.length >= MOST_TOLD ? d : { ...d, told: [...d.told, { id, parts, codes: [...new Set(codes)].slice(0, MOST_TOLD) }] };

/** Parts that were complained of, and codes that were read: each once, without what was struck. */
export const toldOfDigest = ({ told }: JobDigest): { readonly parts: readonly string[]; readonly codes: readonly string[] } => ({
  parts: [...new Set(told.flatMap((t) => t.parts))],
  codes: [...new Set(told.flatMap((t) => t.codes))],
});

/** What nobody has said is left out, so that the digest is the same however it was made. */
const planOf = ({ whose, waits, until, promised, hours }: EventOf<"planned">["data"]): JobDigest["plan"] => ({
  whose,
  waits,
  until,
  ...(promised === undefined || promised === "" ? {} : { promised }),
  ...(hours === undefined ? {} : { hours }),
});

const labourHours = ({ lines }: EventOf<"estimate-made">["data"]): number =>
  lines.reduce((sum, l) => sum + (l.kind === "labour" ? l.quantity : 0), 0);

/** Hours of a job that nobody has given any. */
const USUAL_HOURS = 1;
/** Hours of work that are still to be done on a job, by its plan, else by its estimate. */
export const openHours = ({ plan, estimatedHours, minutes, isClosed }: JobDigest): number =>
  isClosed ? 0 : Math.max(0, (plan.hours ?? estimatedHours ?? USUAL_HOURS) - (minutes ?? 0) / 60);

const wiringOf = (pin: { readonly id: string; readonly options: readonly string[] } | undefined): JobDigest["wiring"] =>
  pin === undefined ? null : { id: pin.id, options: [...pin.options] };

const headOf = (c: ComplaintData): Pick<JobDigest, "vehicle" | "registration" | "vin" | "words"> => ({
  vehicle: c.vehicle,
  registration: c.registration,
  vin: c.vin,
  words: c.words,
});

function strike(d: JobDigest, target: string, place: EntryPlace | undefined): JobDigest {
  switch (place?.type) {
    case "reading-taken": {
      if (d.struck.includes(target)) return d;
      const bucket = d.mends.filter((m) => m.position < place.position).length;
      return { ...d, struck: [...d.struck, target], readings: d.readings.map((n, i) => (i === bucket ? n - 1 : n)) };
    }
    case "mend-made":
      return { ...d, mends: d.mends.map((m) => (m.id === target ? { ...m, struck: true } : m)) };
    case "temporary-made":
      return { ...d, tray: d.tray.filter((id) => id !== target) };
    case "seen":
    case "codes-read":
      return { ...d, told: d.told.filter((t) => t.id !== target) };
    default:
      return d;
  }
}

/** What was repaired and stands, in a few words each. */
export const repairsOfDigest = ({ mends }: JobDigest): readonly string[] => mends.flatMap((m) => (m.struck ? [] : [m.words]));

/** Whose job it is: who was named, else whoever worked on it last. */
export const whoseOfDigest = ({ plan, lastBy }: JobDigest): string => (plan.whose === "" ? lastBy : plan.whose);

/** How far the work has come. */
export function stageOfDigest(d: JobDigest): Stage {
  const unstruck = d.mends.filter((m) => !m.struck);
  // Index of the last mend that stands: readings in later buckets were taken after it.
  const last = d.mends.findLastIndex((m) => !m.struck);
  return stageOf({
    closed: d.isClosed,
    circuit: d.hasCircuit,
    anyReading: d.hasReading,
    mended: unstruck.length > 0,
    repeated: d.readings.some((n, i) => i > last && n > 0),
  });
}
