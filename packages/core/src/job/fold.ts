import { unreachable } from "../quantity/index.ts";
import type { RuleSet } from "../limits/index.ts";
import type { ComplaintData, EventOf, JobEvent, TemporaryKind } from "./events.ts";

export interface ReadingView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly data: EventOf<"reading-taken">["data"];
  /** How many of the mends that stand had been made when it was taken. */
  readonly mendsBefore: number;
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
  /** Share of the time that the trouble is there; 1 until somebody says otherwise. */
  readonly presence: number;
  readonly tray: readonly TrayItem[];
  readonly mends: readonly MendView[];
  readonly notes: readonly {
    readonly id: string;
    readonly at: string;
    readonly by: string;
    readonly text: string;
    readonly struck: string | undefined;
  }[];
  readonly closed: { readonly at: string; readonly by: string; readonly data: EventOf<"job-closed">["data"] } | undefined;
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
/** While the log is being read nobody may have said how often the trouble comes. */
type Folding = Omit<JobView, "stage" | "presence"> & { readonly presence: number | undefined };

/** Events in the order of the log → the view of the job. Undefined when there are none. */
export function foldJob(events: readonly JobEvent[]): JobView | undefined {
  const first = events[0];
  if (first === undefined) return undefined;
  let view: Folding = {
    id: first.jobId,
    openedAt: first.at,
    openedBy: first.by,
    lastAt: first.at,
    complaint: EMPTY_COMPLAINT,
    circuit: undefined,
    found: [],
    rules: "usual",
    readings: [],
    seen: [],
    wiggles: [],
    scans: [],
    clears: 0,
    presence: undefined,
    tray: [],
    mends: [],
    notes: [],
    closed: undefined,
    people: [],
  };
  const place = new Map<string, number>();
  events.forEach((event, i) => {
    view = apply(view, event);
    place.set(event.id, i);
  });
  // Counted at the end, since a mend may be struck later.
  const mends = view.mends.filter((m) => m.struck === undefined).map((m) => place.get(m.id)!);
  const readings = view.readings.map((r) => ({ ...r, mendsBefore: mends.filter((m) => m < place.get(r.id)!).length }));
  const seen = view.seen.map((s) => ({ ...s, mendsBefore: mends.filter((m) => m < place.get(s.id)!).length }));
  const wiggles = view.wiggles.map((w) => ({ ...w, mendsBefore: mends.filter((m) => m < place.get(w.id)!).length }));
  const scans = view.scans.map((x) => ({ ...x, mendsBefore: mends.filter((m) => m < place.get(x.id)!).length }));
  // Nobody has said how often it comes: one that could not be reproduced comes and goes.
  const presence = view.presence ?? (view.complaint.reproduced === "no" ? NOT_REPRODUCED_PRESENCE : 1);
  const counted = { ...view, readings, seen, wiggles, scans, presence };
  return { ...counted, stage: stageOf(counted) };
}

function apply(view: Folding, event: JobEvent): Folding {
  const people = view.people.includes(event.by) ? view.people : [...view.people, event.by];
  const next = { ...view, people, lastAt: event.at > view.lastAt ? event.at : view.lastAt };
  const stamp = { id: event.id, at: event.at, by: event.by };
  switch (event.type) {
    case "job-opened":
    case "complaint-changed":
      return { ...next, complaint: event.data };
    case "circuit-set":
      return { ...next, circuit: { notation: event.data.notation, at: event.at, vehicle: event.data.vehicle } };
    case "rules-chosen":
      return { ...next, rules: event.data.rules };
    case "reading-taken":
      return { ...next, readings: [...view.readings, { ...stamp, data: event.data, mendsBefore: 0, struck: undefined }] };
    case "seen":
      return { ...next, seen: [...view.seen, { ...stamp, data: event.data, mendsBefore: 0, struck: undefined }] };
    case "wiggled":
      return { ...next, wiggles: [...view.wiggles, { ...stamp, data: event.data, mendsBefore: 0, struck: undefined }] };
    case "codes-read":
      return {
        ...next,
        scans: [...view.scans, { ...stamp, data: event.data, mendsBefore: 0, clearsBefore: view.clears, struck: undefined }],
      };
    case "codes-cleared":
      return { ...next, clears: view.clears + 1 };
    case "presence-told":
      return { ...next, presence: event.data.share };
    case "struck":
      return strike(next, event.data.target, event.data.why);
    case "temporary-made": {
      const { kind, at: place, to, note } = event.data;
      return { ...next, tray: [...view.tray, { ...stamp, kind, place, to, note, ended: undefined }] };
    }
    case "temporary-undone":
      return endTemporary(next, event.data.target, { how: "undone", at: event.at, why: "" });
    case "temporary-explained":
      return endTemporary(next, event.data.target, { how: "explained", at: event.at, why: event.data.why });
    case "mend-made":
      return { ...next, mends: [...view.mends, { ...stamp, data: event.data, struck: undefined }] };
    case "note-added":
      return { ...next, notes: [...view.notes, { ...stamp, text: event.data.text, struck: undefined }] };
    case "found-different":
      return { ...next, found: [...view.found, { ...stamp, data: event.data, promoted: undefined, struck: undefined }] };
    case "found-promoted": {
      const { target, version } = event.data;
      return { ...next, found: view.found.map((f) => (f.id === target ? { ...f, promoted: version } : f)) };
    }
    case "job-closed":
      return { ...next, closed: { at: event.at, by: event.by, data: event.data } };
    case "job-reopened":
      return { ...next, closed: undefined };
    default:
      return unreachable(event);
  }
}

function strike(view: Folding, target: string, why: string): Folding {
  const mark = <T extends { id: string; struck: string | undefined }>(items: readonly T[]): readonly T[] =>
    items.map((i) => (i.id === target ? { ...i, struck: why } : i));
  return {
    ...view,
    readings: mark(view.readings),
    seen: mark(view.seen),
    wiggles: mark(view.wiggles),
    scans: mark(view.scans),
    mends: mark(view.mends),
    notes: mark(view.notes),
    found: mark(view.found),
    tray: view.tray.filter((t) => t.id !== target),
  };
}

function endTemporary(view: Folding, target: string, ended: TrayItem["ended"]): Folding {
  return { ...view, tray: view.tray.map((t) => (t.id === target && t.ended === undefined ? { ...t, ended } : t)) };
}

/** How far the work has come: the first thing that is still missing. */
function stageOf(view: Folding): Stage {
  if (view.closed !== undefined) return "closed";
  if (view.circuit === undefined) return view.readings.length === 0 ? "circuit" : "trace";
  const mends = view.mends.filter((m) => m.struck === undefined);
  const standing = view.readings.filter((r) => r.struck === undefined);
  if (mends.length === 0) return "trace";
  return standing.some((r) => r.mendsBefore === mends.length) ? "record" : "prove";
}

/** What is still unplugged, pulled, jumpered, pierced, fitted or off. */
export const openTray = (view: JobView): readonly TrayItem[] => view.tray.filter((t) => t.ended === undefined);
