import { unreachable } from "../quantity/index.ts";
import type { RuleSet } from "../limits/index.ts";
import type { Circumstance } from "../diagnosis/index.ts";
import type { LogEntry, UnreadableEntry } from "./entry.ts";
import type { ComplaintData, EventOf, JobEvent, TemporaryKind } from "./events.ts";
import { findingsIn, practiceAfter, type PracticeView } from "./practice-fold.ts";

export interface ReadingView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"reading-taken">["data"];
  /** How many of the mends that stand had been made when it was taken. */
  readonly mendsBefore: number;
  /** The last test of the meter that it came from; undefined where there was none, and for what was typed. */
  readonly check: EventOf<"meter-checked">["data"] | undefined;
  /** Why it was struck; undefined while it stands. */
  readonly struck: string | undefined;
}

/** Something temporarily changed on the vehicle. */
export interface TrayItem {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly kind: TemporaryKind;
  readonly place: string;
  readonly to: string;
  readonly note: string;
  readonly ended: { readonly how: "undone" | "explained"; readonly at: string; readonly why: string } | undefined;
}

export interface SeenView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"seen">["data"];
  readonly mendsBefore: number;
  readonly struck: string | undefined;
}

export interface WiggleView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"wiggled">["data"];
  readonly mendsBefore: number;
  readonly struck: string | undefined;
}

export interface ScanView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"codes-read">["data"];
  readonly mendsBefore: number;
  /** How often codes had been cleared before it was taken. */
  readonly clearsBefore: number;
  readonly struck: string | undefined;
}

export interface MendView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"mend-made">["data"];
  readonly struck: string | undefined;
}

export interface FoundView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"found-different">["data"];
  /** Version of the vehicle's wiring that took it in. */
  readonly promoted: number | undefined;
  readonly struck: string | undefined;
}

/** Something found that is not repaired now. */
export interface FindingView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"finding-kept">["data"];
  readonly struck: string | undefined;
}

/** A picture with the layer that is drawn over it. */
export interface PictureView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"picture-kept">["data"];
  readonly marks: EventOf<"picture-marked">["data"]["marks"];
  readonly struck: string | undefined;
}

/** A recording of a scope or logger. */
export interface TraceView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"trace-kept">["data"];
  readonly struck: string | undefined;
}

/** A meter's test. */
export interface MeterCheckView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"meter-checked">["data"];
  readonly struck: string | undefined;
}

export interface DriveView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"driven">["data"];
  readonly mendsBefore: number;
  readonly struck: string | undefined;
}

/** The neighbours of a damaged place: what was said of each wire last, and why the others were left. */
export interface NeighboursView {
  readonly of: string;
  readonly told: readonly { readonly wire: string; readonly verdict: EventOf<"neighbour-told">["data"]["verdict"] }[];
  readonly left: string | undefined;
}

/** The estimate that was made last, with the answer to it. */
export interface EstimateView {
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"estimate-made">["data"];
  readonly answer: { readonly at: string; readonly by: string; readonly data: EventOf<"estimate-answered">["data"] } | undefined;
}

export const STAGES = ["complaint", "circuit", "trace", "mend", "prove", "record"] as const;
export type Stage = (typeof STAGES)[number] | "closed";

/** A job as its log tells it. */
export interface JobView {
  readonly id: string;
  readonly openedAt: string;
  readonly openedBy: string;
  readonly lastAt: string;
  readonly complaint: ComplaintData;
  readonly circuit:
    { readonly notation: string; readonly at: string; readonly vehicle: EventOf<"circuit-set">["data"]["vehicle"] } | undefined;
  /** What was found otherwise on the vehicle than drawn. */
  readonly found: readonly FoundView[];
  readonly rules: RuleSet;
  readonly readings: readonly ReadingView[];
  /** What was seen, heard or asked. */
  readonly seen: readonly SeenView[];
  /** Readings watched while things were moved. */
  readonly wiggles: readonly WiggleView[];
  /** Codes and answers of the modules, in order of time. */
  readonly scans: readonly ScanView[];
  /** How often codes were cleared. */
  readonly clears: number;
  /** Whose job it is and what it waits for; empty until somebody has said. */
  readonly plan: EventOf<"planned">["data"];
  /** Minutes worked on it in all; undefined until somebody says. */
  readonly minutes: number | undefined;
  /** Similar closed jobs make some suspects likelier. */
  readonly weighsCases: boolean;
  /** What similar closed jobs make likelier. No fold of this log: set by whoever knows the shop's other jobs. */
  readonly similar?: readonly Circumstance[];
  /** When what tells whose vehicle it is was taken out; undefined while it is there. */
  readonly customerRemoved: string | undefined;
  /** Share of the time that the trouble is there; 1 until somebody says otherwise. */
  readonly presence: number;
  /** How it is practised; undefined for a job that is none to practise on. */
  readonly practice: PracticeView | undefined;
  readonly tray: readonly TrayItem[];
  readonly mends: readonly MendView[];
  readonly findings: readonly FindingView[];
  readonly neighbours: readonly NeighboursView[];
  /** Steps of repairs that are done, "C21.4 negative off". */
  readonly ticked: readonly string[];
  readonly estimate: EstimateView | undefined;
  /** Tests that cannot be repeated, with why. */
  readonly excused: readonly { readonly test: string; readonly why: string; readonly by: string }[];
  readonly drives: readonly DriveView[];
  readonly pictures: readonly PictureView[];
  readonly traces: readonly TraceView[];
  readonly meterChecks: readonly MeterCheckView[];
  /** Known-goods of the shelf that were held against what it shows. */
  readonly goodsUsed: readonly string[];
  /** When it was seen to that the engine may turn; undefined while nobody has. */
  readonly clearToCrank: { readonly at: string; readonly by: string } | undefined;
  /** When somebody should ask whether it has come back; undefined when nobody need. */
  readonly watch: EventOf<"return-watched">["data"] | undefined;
  readonly notes: readonly {
    readonly id: string;
    readonly at: string;
    readonly by: string;
    readonly text: string;
    readonly struck: string | undefined;
  }[];
  readonly closed: { readonly at: string; readonly by: string; readonly data: EventOf<"job-closed">["data"] } | undefined;
  /** Rows of the log that could not be read. */
  readonly unreadable: readonly UnreadableEntry[];
  readonly people: readonly string[];
  readonly stage: Stage;
}

/** A complaint nobody has said anything in yet. */
export const EMPTY_COMPLAINT: ComplaintData = {
  vehicle: "",
  registration: "",
  mileage: "",
  words: "",
  conditions: "",
  triedBefore: "",
  triedBy: "",
  warningLamps: [],
  reproduced: "not tried",
  reproducedHow: "",
  risk: "not judged",
  riskWhy: "",
  vin: "",
  circumstances: [],
  highVoltage: false,
};

/** Share of the time that a trouble is supposed to be there which the workshop could not bring about. */
export const NOT_REPRODUCED_PRESENCE = 0.3;
export const NO_PLAN: EventOf<"planned">["data"] = { whose: "", waits: "", until: "" };
/** What a view is gathered in while the log is read: lists that grow, so that a long log costs its length once. */
interface Gathering {
  head: Pick<
    JobView,
    | "complaint"
    | "circuit"
    | "rules"
    | "clears"
    | "closed"
    | "plan"
    | "estimate"
    | "watch"
    | "minutes"
    | "weighsCases"
    | "customerRemoved"
    | "practice"
    | "clearToCrank"
  > & {
    readonly presence: number | undefined;
    readonly lastAt: string;
  };
  readonly found: FoundView[];
  readonly readings: ReadingView[];
  readonly seen: SeenView[];
  readonly wiggles: WiggleView[];
  readonly scans: ScanView[];
  readonly tray: TrayItem[];
  readonly mends: MendView[];
  readonly findings: FindingView[];
  readonly neighbours: Map<string, { readonly told: Map<string, NeighboursView["told"][number]["verdict"]>; left: string | undefined }>;
  readonly ticked: Set<string>;
  readonly excused: Map<string, { readonly why: string; readonly by: string }>;
  readonly drives: DriveView[];
  readonly pictures: PictureView[];
  readonly traces: TraceView[];
  readonly meterChecks: MeterCheckView[];
  readonly goodsUsed: Set<string>;
  /** The layer over a picture that was drawn last. */
  readonly marks: Map<string, PictureView["marks"]>;
  readonly notes: JobView["notes"][number][];
  readonly unreadable: UnreadableEntry[];
  readonly people: Set<string>;
  /** Why an item was struck, by its id. */
  readonly struck: Map<string, string>;
  /** Ids of the entries read so far: what is said of an entry counts only after it. */
  readonly known: Set<string>;
  readonly promoted: Map<string, number>;
  readonly ended: Map<string, NonNullable<TrayItem["ended"]>>;
}

/** Entries in the order of the log → the view of the job. Undefined when there are none. */
export function foldJob(entries: readonly LogEntry[]): JobView | undefined {
  const first = entries[0];
  if (first === undefined) return undefined;
  const g: Gathering = {
    head: {
      complaint: EMPTY_COMPLAINT,
      circuit: undefined,
      rules: "usual",
      clears: 0,
      closed: undefined,
      plan: NO_PLAN,
      estimate: undefined,
      watch: undefined,
      minutes: undefined,
      weighsCases: true,
      customerRemoved: undefined,
      presence: undefined,
      practice: undefined,
      clearToCrank: undefined,
      lastAt: first.at,
    },
    found: [],
    readings: [],
    seen: [],
    wiggles: [],
    scans: [],
    tray: [],
    mends: [],
    findings: [],
    neighbours: new Map(),
    ticked: new Set(),
    excused: new Map(),
    drives: [],
    pictures: [],
    traces: [],
    meterChecks: [],
    goodsUsed: new Set(),
    marks: new Map(),
    notes: [],
    unreadable: [],
    people: new Set(),
    struck: new Map(),
    known: new Set(),
    promoted: new Map(),
    ended: new Map(),
  };
  const place = new Map<string, number>();
  entries.forEach((entry, i) => {
    if (entry.type === "unreadable") g.unreadable.push(entry);
    else {
      g.people.add(entry.by);
      if (entry.at > g.head.lastAt) g.head = { ...g.head, lastAt: entry.at };
      gather(g, entry);
    }
    g.known.add(entry.id);
    place.set(entry.id, i);
  });
  const marked = <T extends { readonly id: string }>(items: readonly T[]): T[] =>
    items.map((item) => (g.struck.has(item.id) ? { ...item, struck: g.struck.get(item.id) } : item));
  const mends = marked(g.mends);
  // Counted at the end, since a mend may be struck later.
  const unstruck = mends.filter((m) => m.struck === undefined).map((m) => place.get(m.id)!);
  const counted = <T extends { readonly id: string }>(items: readonly T[]): T[] =>
    marked(items).map((item) => ({ ...item, mendsBefore: countBelow(unstruck, place.get(item.id)!) }));
  const { lastAt, presence, ...head } = g.head;
  const meterChecks = marked(g.meterChecks);
  const standing = meterChecks.filter((c) => c.struck === undefined);
  const checkFor = ({ id, data }: ReadingView): ReadingView["check"] =>
    data.meter === undefined
      ? undefined
      : standing.findLast((c) => c.data.meter === data.meter!.name && place.get(c.id)! < place.get(id)!)?.data;
  const readings = counted(g.readings).map((r) => (r.data.meter === undefined ? r : { ...r, check: checkFor(r) }));
  const view: Omit<JobView, "stage"> = {
    id: first.jobId,
    openedAt: first.at,
    openedBy: first.by,
    lastAt,
    ...head,
    // Nobody has said how often it comes: one that could not be reproduced comes and goes.
    presence: presence ?? (head.complaint.reproduced === "no" ? NOT_REPRODUCED_PRESENCE : 1),
    found: marked(g.found).map((f) => ({ ...f, promoted: g.promoted.get(f.id) })),
    readings,
    seen: counted(g.seen),
    wiggles: counted(g.wiggles),
    scans: counted(g.scans),
    tray: g.tray.filter((t) => !g.struck.has(t.id)).map((t) => ({ ...t, ended: g.ended.get(t.id) })),
    mends,
    findings: marked(g.findings),
    neighbours: [...g.neighbours].map(([of, { told, left }]) => ({
      of,
      told: [...told].map(([wire, verdict]) => ({ wire, verdict })),
      left,
    })),
    ticked: [...g.ticked],
    excused: [...g.excused].map(([test, { why, by }]) => ({ test, why, by })),
    drives: counted(g.drives),
    traces: marked(g.traces),
    meterChecks,
    goodsUsed: [...g.goodsUsed],
    pictures: marked(g.pictures).map((p) => ({ ...p, marks: g.marks.get(p.id) ?? [] })),
    notes: marked(g.notes),
    unreadable: g.unreadable,
    people: [...g.people],
  };
  const stage = stageOf({
    closed: view.closed !== undefined,
    circuit: view.circuit !== undefined,
    anyReading: readings.length > 0,
    mended: unstruck.length > 0,
    repeated: readings.some((r) => r.struck === undefined && r.mendsBefore === unstruck.length),
  });
  return { ...view, stage };
}

/** How many of the rising numbers lie below one. */
function countBelow(rising: readonly number[], limit: number): number {
  let count = 0;
  while (count < rising.length && rising[count]! < limit) count++;
  return count;
}

function gather(g: Gathering, event: JobEvent): void {
  const stamp = { id: event.id, at: event.at, by: event.by };
  const practice = practiceAfter(g.head.practice, event, { found: findingsIn(g), isClear: g.head.clearToCrank !== undefined });
  if (practice !== g.head.practice) g.head = { ...g.head, practice };
  switch (event.type) {
    case "job-opened":
    case "complaint-changed":
      g.head = { ...g.head, complaint: event.data };
      return;
    case "circuit-set":
      g.head = { ...g.head, circuit: { notation: event.data.notation, at: event.at, vehicle: event.data.vehicle } };
      return;
    case "rules-chosen":
      g.head = { ...g.head, rules: event.data.rules };
      return;
    case "reading-taken":
      g.readings.push({ ...stamp, data: event.data, mendsBefore: 0, check: undefined, struck: undefined });
      return;
    case "seen":
      g.seen.push({ ...stamp, data: event.data, mendsBefore: 0, struck: undefined });
      return;
    case "wiggled":
      g.wiggles.push({ ...stamp, data: event.data, mendsBefore: 0, struck: undefined });
      return;
    case "codes-read":
      g.scans.push({ ...stamp, data: event.data, mendsBefore: 0, clearsBefore: g.head.clears, struck: undefined });
      return;
    case "codes-cleared":
      g.head = { ...g.head, clears: g.head.clears + 1 };
      return;
    case "planned":
      g.head = { ...g.head, plan: event.data };
      return;
    case "time-told":
      g.head = { ...g.head, minutes: event.data.minutes };
      return;
    case "cases-weighed":
      g.head = { ...g.head, weighsCases: event.data.weighed };
      return;
    case "customer-removed":
      g.head = { ...g.head, customerRemoved: event.at };
      return;
    case "clear-to-crank":
      g.head = { ...g.head, clearToCrank: { at: event.at, by: event.by } };
      return;
    case "practice-begun":
    case "hint-given":
    case "clock-turned":
    case "advice-asked":
      return;
    case "presence-told":
      g.head = { ...g.head, presence: event.data.share };
      return;
    case "struck":
      if (g.known.has(event.data.target)) g.struck.set(event.data.target, event.data.why);
      return;
    case "temporary-made": {
      const { kind, at: place, to, note } = event.data;
      g.tray.push({ ...stamp, kind, place, to, note, ended: undefined });
      return;
    }
    case "temporary-undone":
      endTemporary(g, event.data.target, { how: "undone", at: event.at, why: "" });
      return;
    case "temporary-explained":
      endTemporary(g, event.data.target, { how: "explained", at: event.at, why: event.data.why });
      return;
    case "mend-made":
      g.mends.push({ ...stamp, data: event.data, struck: undefined });
      return;
    case "finding-kept":
      g.findings.push({ ...stamp, data: event.data, struck: undefined });
      return;
    case "neighbour-told": {
      const { told } = neighboursOf(g, event.data.of);
      for (const wire of event.data.wires) told.set(wire, event.data.verdict);
      return;
    }
    case "neighbours-left":
      neighboursOf(g, event.data.of).left = event.data.why;
      return;
    case "step-ticked": {
      const key = stepKey(event.data.of, event.data.step);
      if (event.data.done) g.ticked.add(key);
      else g.ticked.delete(key);
      return;
    }
    case "estimate-made":
      g.head = { ...g.head, estimate: { at: event.at, by: event.by, data: event.data, answer: undefined } };
      return;
    case "estimate-answered":
      if (g.head.estimate !== undefined)
        g.head = { ...g.head, estimate: { ...g.head.estimate, answer: { at: event.at, by: event.by, data: event.data } } };
      return;
    case "test-excused":
      g.excused.set(event.data.test, { why: event.data.why, by: event.by });
      return;
    case "driven":
      g.drives.push({ ...stamp, data: event.data, mendsBefore: 0, struck: undefined });
      return;
    case "return-watched":
      g.head = { ...g.head, watch: event.data.until === "" && event.data.distance === "" ? undefined : event.data };
      return;
    case "note-added":
      g.notes.push({ ...stamp, text: event.data.text, struck: undefined });
      return;
    case "found-different":
      g.found.push({ ...stamp, data: event.data, promoted: undefined, struck: undefined });
      return;
    case "picture-kept":
      g.pictures.push({ ...stamp, data: event.data, marks: [], struck: undefined });
      return;
    case "trace-kept":
      g.traces.push({ ...stamp, data: event.data, struck: undefined });
      return;
    case "known-good-used":
      for (const item of event.data.items) g.goodsUsed.add(item);
      return;
    case "meter-checked":
      g.meterChecks.push({ ...stamp, data: event.data, struck: undefined });
      return;
    case "picture-marked":
      if (g.known.has(event.data.target)) g.marks.set(event.data.target, event.data.marks);
      return;
    case "found-promoted":
      if (g.known.has(event.data.target)) g.promoted.set(event.data.target, event.data.version);
      return;
    case "job-closed":
      g.head = { ...g.head, closed: { at: event.at, by: event.by, data: event.data } };
      return;
    case "job-reopened":
      g.head = { ...g.head, closed: undefined };
      return;
    default:
      return unreachable(event);
  }
}

/** A step of the repair of a place, as it is ticked. */
export const stepKey = (of: string, step: string): string => `${of} ${step}`;

function neighboursOf(
  g: Gathering,
  of: string,
): { readonly told: Map<string, NeighboursView["told"][number]["verdict"]>; left: string | undefined } {
  const known = g.neighbours.get(of) ?? { told: new Map(), left: undefined };
  g.neighbours.set(of, known);
  return known;
}

/** The first word about its end counts. */
function endTemporary(g: Gathering, target: string, ended: NonNullable<TrayItem["ended"]>): void {
  if (g.known.has(target) && !g.ended.has(target)) g.ended.set(target, ended);
}

/** How far the work has come: the first thing that is still missing. */
export function stageOf(log: {
  readonly closed: boolean;
  readonly circuit: boolean;
  /** Struck ones too. */
  readonly anyReading: boolean;
  /** A mend stands. */
  readonly mended: boolean;
  /** A reading that is not struck was taken after the last mend that is not. */
  readonly repeated: boolean;
}): Stage {
  if (log.closed) return "closed";
  if (!log.circuit) return log.anyReading ? "trace" : "circuit";
  if (!log.mended) return "trace";
  return log.repeated ? "record" : "prove";
}

/** What is still unplugged, pulled, jumpered, pierced, fitted or off. */
export const openTray = (view: JobView): readonly TrayItem[] => view.tray.filter((t) => t.ended === undefined);
