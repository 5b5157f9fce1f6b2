import {
  type Harness,
  lookupOf,
  partNameIn,
  type Monitor,
  netAt,
  partOfPlace,
  pinPlace,
  roleOfPlace,
  type SharedNode,
  sharedNodes,
} from "../harness/index.ts";
import { codeName, compareScans, type CodeEntry, type Scan } from "./scan.ts";

/** What a code is to the trouble. */
export type Role = "cause" | "consequence" | "own doing" | "history";

export interface Triaged {
  readonly entry: CodeEntry;
  readonly role: Role;
  readonly reason: string;
  /** The code or silent module that it follows from. */
  readonly of: string | undefined;
  /** From clearing and looking again; undefined while nobody has. */
  readonly came: "back at once" | "not back" | undefined;
}

export interface Triage {
  readonly codes: readonly Triaged[];
  readonly silent: readonly string[];
  /** Modules that did not answer and, with the key and engine as they were, need not. */
  readonly notExpected: readonly string[];
  /** What to work first: a silent module, a code or what several share, why, the parts behind it, and the place that they share. */
  readonly first: { readonly what: string; readonly why: string; readonly parts: readonly string[]; readonly at?: string } | undefined;
  /** What the parts behind the codes and the silent modules share, and the working ones do not. */
  readonly shared: readonly SharedNode[];
}

export interface TriageAsk {
  readonly harness: Harness;
  readonly scan: Scan;
  /** The scan before the codes were cleared; undefined while they were not. */
  readonly beforeClear?: Scan | undefined;
  /** What was done to the vehicle that would set a code on a sound one, by module and code. */
  readonly doneBy: (code: string) => readonly string[];
  /** Volts across the battery; undefined while nobody measured. */
  readonly batteryVolts?: number | undefined;
  /** Parts that were seen to work. */
  readonly works: readonly string[];
}

/** Modules that did not answer although they should have. */
export const silentIn = (scan: Scan): readonly string[] => scan.modules.flatMap((m) => (m.answers || m.asleep === true ? [] : [m.id]));

/** Below this share of nominal, modules complain of their supply, whatever else is wrong. */
const LOW_SHARE = 0.98;

/** Sorts codes into causes and what follows from them. The same scan always gives the same answer. */
export function triage(ask: TriageAsk): Triage {
  const { harness, scan, beforeClear } = ask;
  const silent = silentIn(scan);
  const notExpected = scan.modules.flatMap((m) => (!m.answers && m.asleep === true ? [m.id] : []));
  const back = beforeClear === undefined ? undefined : compareScans(beforeClear.codes, scan.codes);
  const codes = scan.codes.map((entry): Triaged => {
    const came = back === undefined ? undefined : back.stayed.some((s) => s.now === entry) ? ("back at once" as const) : undefined;
    return { entry, came, ...roleOf(ask, silent, entry, monitorsOf(harness, entry)) };
  });
  const away = (back?.gone ?? []).map((entry): Triaged => ({
    entry,
    role: "history",
    came: "not back",
    of: undefined,
    reason:
      "gone since the codes were cleared: repaired, if it stays away over a drive in which its monitor runs; back on the way, it is intermittent",
  }));
  const failing = [
    ...new Set([
      ...codes.filter((c) => c.role === "cause" || c.role === "consequence").flatMap((c) => partsOf(harness, c.entry)),
      ...silent,
    ]),
  ].filter((id) => lookupOf(harness).parts.has(id));
  const works = ask.works.filter((id) => lookupOf(harness).parts.has(id) && !failing.includes(id));
  const shared = failing.length < 2 ? [] : sharedNodes(harness, failing, works).slice(0, 12);
  const first = togetherOf(harness, codes, silent, shared) ?? firstOf(harness, codes, silent);
  return { codes: [...codes, ...away], silent, notExpected, first, shared };
}

/** What sets a code on this vehicle. A tool may add a failure type, as in "U0140-87", that the vehicle's list does not tell apart. */
export const monitorsOfCode = (harness: Harness, name: string): readonly Monitor[] =>
  harness.monitors?.filter((m) => m.code === name || name.startsWith(`${m.code}-`)) ?? [];

/** Monitors of a harness that set a code; those of the module that has it where there are any. */
export function monitorsOf(harness: Harness, entry: CodeEntry): readonly Monitor[] {
  const all = monitorsOfCode(harness, codeName(entry));
  const own = all.filter((m) => m.module === entry.module);
  return own.length > 0 ? own : entry.module === "" ? all : [];
}

/** What the vehicle's own list says that a code means. */
export const codeText = (harness: Harness, entry: CodeEntry): string | undefined => monitorsOf(harness, entry)[0]?.text;

function roleOf(
  ask: TriageAsk,
  silent: readonly string[],
  entry: CodeEntry,
  monitors: readonly Monitor[],
): Pick<Triaged, "role" | "reason" | "of"> {
  const { harness, scan } = ask;
  const done = ask.doneBy(entry.code);
  if (done.length > 0) return { role: "own doing", reason: `set by what was done here: ${done.join(", ")}`, of: undefined };
  const mute = monitors.find((m) => m.silent !== undefined)?.silent;
  if (mute !== undefined && silent.includes(mute))
    return { role: "consequence", reason: `${mute} does not answer: its feed, its ground or its bus`, of: mute };
  if (mute !== undefined && entry.status !== "active")
    return { role: "history", reason: `${mute} answers now: communication was lost earlier`, of: mute };
  if (mute === undefined && /^U0[12]/.test(entry.code) && silent.length > 0)
    return {
      role: "consequence",
      reason: `word of a module is missing, and ${silent.join(", ")} ${silent.length === 1 ? "is" : "are"} silent`,
      of: silent[0],
    };
  if (isOfSupply(harness, entry, monitors) && ask.batteryVolts !== undefined && ask.batteryVolts < LOW_SHARE * harness.nominalVolts)
    return {
      role: "consequence",
      reason: `the battery stands at ${ask.batteryVolts.toFixed(1)} V: charge it, clear, and look again`,
      of: "battery",
    };
  const reference = referenceBehind(harness, scan.codes, entry, monitors);
  if (reference !== undefined)
    return {
      role: "consequence",
      reason: `its sensor hangs on the reference that ${codeName(reference)} complains of`,
      of: codeName(reference),
    };
  if (/^U0[45]/.test(entry.code)) {
    const owner = scan.codes.find((c) => c.module !== entry.module && !c.code.startsWith("U"));
    if (owner !== undefined)
      return {
        role: "consequence",
        reason: `set on the data of another module: go to ${owner.module}, which owns the input`,
        of: codeName(owner),
      };
  }
  if (entry.status === "permanent" && !scan.codes.some((c) => c !== entry && c.module === entry.module && codeName(c) === codeName(entry)))
    return {
      role: "history",
      reason: "permanent: it outlives a repair, and clearing, until its monitor has run and passed; drive the cycle for that",
      of: undefined,
    };
  if (entry.status === "stored" && scan.codes.some((c) => c.status === "active"))
    return {
      role: "history",
      reason: "stored, and not failing now while others are: clear it and see whether it comes back",
      of: undefined,
    };
  return {
    role: "cause",
    reason:
      entry.status === "active" ? "failing now, and follows from nothing else here" : `${entry.status}, and follows from nothing else here`,
    of: undefined,
  };
}

/** Whether a code is about the supply of its module: by the standard's numbers, or because its monitor watches the feed. */
function isOfSupply(harness: Harness, entry: CodeEntry, monitors: readonly Monitor[]): boolean {
  if (/^P056[0-3]$|^U300[3-6]$/.test(entry.code)) return true;
  return monitors.some((m) => m.pin !== undefined && roleOfPlace(harness, pinPlace(m.module, m.pin)) === "feed");
}

/** The code of a reference that the sensor behind another code hangs on. */
function referenceBehind(
  harness: Harness,
  all: readonly CodeEntry[],
  entry: CodeEntry,
  monitors: readonly Monitor[],
): CodeEntry | undefined {
  const isReference = (m: Monitor): boolean => m.pin !== undefined && roleOfPlace(harness, pinPlace(m.module, m.pin)) === "reference";
  if (monitors.some(isReference)) return undefined;
  const sensors = partsOf(harness, entry);
  return all.find((other) =>
    monitorsOf(harness, other).some((m) => {
      if (m.pin === undefined || !isReference(m)) return false;
      const net = netAt(harness, pinPlace(m.module, m.pin));
      return net !== undefined && net.places.some((p) => sensors.includes(partOfPlace(harness, p)?.id ?? ""));
    }),
  );
}

/** Sensors and actuators at the pin that a code's monitor watches. */
export function partsOf(harness: Harness, entry: CodeEntry): readonly string[] {
  const found = new Set<string>();
  for (const m of monitorsOf(harness, entry)) {
    if (m.pin === undefined) continue;
    for (const p of netAt(harness, pinPlace(m.module, m.pin))?.places ?? []) {
      const part = partOfPlace(harness, p);
      if (
        part !== undefined &&
        part.id !== m.module &&
        (part.kind === "device" || part.kind === "load") &&
        !(part.kind === "device" && part.device === "module")
      )
        found.add(part.id);
    }
  }
  return [...found];
}

const URGENCY = { active: 3, pending: 2, permanent: 1, stored: 0 } as const;

/** Several codes that fail at once, behind which stands one thing that nothing working goes through: that, before any of them. */
function togetherOf(
  harness: Harness,
  codes: readonly Triaged[],
  silent: readonly string[],
  shared: readonly SharedNode[],
): Triage["first"] {
  const failing = codes.filter((c) => c.role === "cause" && c.entry.status === "active");
  if (silent.length > 0 || failing.length < 2 || codes.some((c) => c.of !== undefined)) return undefined;
  const parts = new Set(failing.flatMap((c) => partsOf(harness, c.entry)));
  const node = shared.find((n) => n.working.length === 0 && parts.size > 1 && [...parts].every((p) => n.failing.includes(p)));
  if (node === undefined) return undefined;
  return {
    what: node.words,
    why: `${failing.map((c) => codeName(c.entry)).join(" and ")} share it, and nothing that works goes through it`,
    parts: [...parts],
    // A line of a bus is no one place.
    ...(lookupOf(harness).parts.has(partNameIn(node.id)) ? { at: node.id } : {}),
  };
}

function firstOf(harness: Harness, codes: readonly Triaged[], silent: readonly string[]): Triage["first"] {
  const follows = (what: string): number => codes.filter((c) => c.of === what).length;
  const [mute] = [...silent].sort((p, q) => follows(q) - follows(p));
  if (mute !== undefined) {
    const n = follows(mute);
    return {
      what: mute,
      why: n === 0 ? "it does not answer" : `it does not answer, and ${n} ${n === 1 ? "code follows" : "codes follow"} from that`,
      parts: [mute],
    };
  }
  const battery = codes.find((c) => c.of === "battery");
  if (battery !== undefined) return { what: "battery", why: battery.reason, parts: [] };
  const causes = codes.filter((c) => c.role === "cause");
  const best = causes.toSorted(
    (p, q) =>
      follows(codeName(q.entry)) - follows(codeName(p.entry)) ||
      URGENCY[q.entry.status] - URGENCY[p.entry.status] ||
      codeName(p.entry).localeCompare(codeName(q.entry)),
  )[0];
  if (best === undefined) return undefined;
  const n = follows(codeName(best.entry));
  const why = n > 0 ? `${n} other ${n === 1 ? "code follows" : "codes follow"} from it` : best.reason;
  return { what: codeName(best.entry), why, parts: partsOf(harness, best.entry) };
}
