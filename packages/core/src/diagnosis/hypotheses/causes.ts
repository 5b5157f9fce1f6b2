import type { VehicleState } from "../../circuit/index.ts";
import { staysInSeries, type SupposedFault } from "../../faults/index.ts";
import {
  type Harness,
  linkOf,
  lookupOf,
  type Net,
  netAt,
  partNameIn,
  partOfLink,
  partOfPlace,
  type PlaceId,
  placesOfComponent,
  sliceOf,
  usersOf,
  walksOf,
  wiresAt,
} from "../../harness/index.ts";
import { endsOf, placesOfFault, placesOfInterest } from "../simulate/places.ts";
import { ohmsAlong, equivalenceClasses } from "./equivalence.ts";
import { workOf, type Row } from "../simulate/row.ts";
import { viewOf, type View } from "../simulate/view.ts";
import { currentPath } from "./current-path.ts";

/** What a complaint can come from. */
export interface Causes {
  /** Links on the way of the parts in question. */
  readonly core: ReadonlySet<string>;
  /** Parts whose doing tells something. */
  readonly parts: ReadonlySet<string>;
  readonly faults: readonly SupposedFault[];
  /** The fault that is computed in place of one that no instrument can tell from it. */
  readonly representative: (fault: SupposedFault) => SupposedFault;
  /** Whether an element of the circuit is near enough to be computed. */
  readonly keeps: (element: string) => boolean;
  /** What was computed on the way, in the state of the complaint. */
  readonly firstRows?: FirstRows;
}

/** A state in which faults were tried, and what they showed. */
export interface FirstRows {
  readonly view: View;
  /** Undefined where it was not tried or could not be told quickly. */
  readonly rowOf: (fault: SupposedFault, severity: number) => Row | undefined;
}

/** Work that changes by this share is no longer the same. */
const CHANGED = 0.05;
/** A part whose pins move by less than this share of the nominal voltage does what it did. */
const LEAST_FELT = 0.004;
/** A wire that more loads than this hang on is a trunk: what rubs against it is taken as a short to ground or to a feed. */
const TRUNK_LOADS = 6;
/** Up to so many wires nothing is cut off. */
const SMALL_WIRES = 120;
/** Only where a circuit has more faults than this are trunks left out of that. */
const LARGE_CATALOGUE = 6000;
/** Nets with more links than this are the battery's own or metal. */
const LARGE_NET = 60;
/** A net whose wires have more ohms together than this drops enough for a meter to tell where on it a short is. */
const LONG_OHMS = 0.02;

/** Everything that can be behind what the parts in question do in a state: by the way current takes, by what shares fuse, reference or bus, and by trying in the model. `isRough`: on a large vehicle without wires that may have rubbed together, of which there are thousands. */
export function causesOf(
  harness: Harness,
  focus: readonly string[],
  state: VehicleState,
  catalogue: readonly SupposedFault[],
  isRough = false,
): Causes {
  const slice = sliceOf(harness, focus);
  const watched = focus.filter((id) => lookupOf(harness).parts.has(id));
  const core = new Set([...slice.core, ...currentPath(harness, watched, state)]);
  const partOf = (id: string): string => {
    const link = linkOf(harness, id);
    return (link === undefined ? undefined : partOfLink(harness, link)?.id) ?? id;
  };
  const parts = new Set(slice.harness.components.map((c) => c.id));
  const ours = new Set([...core, ...[...core].map(partOf), ...focus, harness.components.find((c) => c.kind === "battery")!.id]);
  for (const id of ours) if (lookupOf(harness).parts.has(id)) parts.add(id);
  const beside = new Set<string>();
  besideOnFuse(harness, ours, (id) => {
    beside.add(id);
    beside.add(partOf(id));
    if (lookupOf(harness).parts.get(partOf(id))?.kind === "load") parts.add(partOf(id));
  });
  besideOnModule(harness, ours, (net) => {
    for (const l of net.links) beside.add(l.id);
    for (const p of net.places) {
      const other = partOfPlace(harness, p);
      if (other === undefined) continue;
      beside.add(other.id);
      if (other.kind === "device") parts.add(other.id);
    }
  });
  besideOnReturn(harness, core, (id) => {
    beside.add(id);
    if (lookupOf(harness).parts.get(partOf(id))?.kind === "load") parts.add(partOf(id));
  });
  const users = usersOf(harness);
  const most = catalogue.length > LARGE_CATALOGUE ? TRUNK_LOADS : Infinity;
  const branch = (id: string): boolean => core.has(id) && (users.get(id) ?? 0) <= most;
  const isSmall = harness.wires.length <= SMALL_WIRES;
  const isQuick = isRough && !isSmall;
  const touching = touchingOf(harness, catalogue, branch);
  const near = catalogue.filter((f) => {
    if (f.where !== undefined) return !isQuick && touching.faults.has(f);
    if (dragsBattery(harness, f)) return true;
    if (lookupOf(harness).parts.get(f.link)?.kind === "splice") return wiresAt(harness, f.link).some((w) => ours.has(w.id));
    if (ours.has(f.link) || (f.other !== undefined && ours.has(f.other))) return true;
    return beside.has(f.link) && (!staysInSeries(f.effect) || lookupOf(harness).parts.get(f.link)?.kind === "device");
  });
  const links = new Set([
    ...core,
    ...beside,
    ...near.flatMap((f) => [f.link, ...(f.other === undefined ? [] : [f.other])]),
    ...slice.harness.wires.map((w) => w.id),
  ]);
  for (const f of near) for (const p of placesOfFault(f)) links.add(partNameIn(p));
  for (const id of feedersOf(harness, links)) links.add(id);
  const keeps = (id: string): boolean =>
    isSmall || links.has(id) || links.has(partNameIn(id)) || parts.has(partNameIn(id)) || /^test lamp |^jumper |\.electronics$/.test(id);
  const pinsOf = (ids: readonly string[]): readonly PlaceId[] =>
    ids.flatMap((id) => placesOfComponent(harness, lookupOf(harness).parts.get(id)!));
  const view = viewOf(harness, state, placesOfInterest(harness, near, parts), [...parts], {
    keep: keeps,
    watch: isQuick ? pinsOf(watched) : endsOf(harness, core),
  });
  const representative = (f: SupposedFault): SupposedFault => touching.representative.get(f) ?? f;
  if (view === undefined) return { core, parts, keeps, representative, faults: near };
  const rows = new Map<string, Map<number, Row | undefined>>();
  const tryIn = (f: SupposedFault, severity: number): Row | undefined => {
    const known = rows.get(f.id) ?? new Map<number, Row | undefined>();
    rows.set(f.id, known);
    if (!known.has(severity)) known.set(severity, view.quickRowOf([f.faultAt(severity)]));
    return known.get(severity);
  };
  // Of the thousands that may touch most leave the parts in question as they are: only of these is told what they do.
  const narrow = view.narrowed(pinsOf(watched), watched);
  const tryTouching = (f: SupposedFault, severity: number): Row | undefined => narrow.quickRowOf([f.faultAt(severity)]);
  const tried = new Map<string, boolean>();
  // Whether a fault can be behind the complaint at all does not hang on where on its net a short is.
  const classOf = equivalenceClasses(harness, Infinity);
  const can = (f: SupposedFault): boolean => {
    const key = classOf(f, f.severities[0]!);
    const known =
      tried.get(key) ??
      (f.where === undefined
        ? canCause(watched, view, f, tryIn, harness.nominalVolts)
        : canCause(watched, narrow, f, tryTouching, harness.nominalVolts));
    tried.set(key, known);
    return known;
  };
  const faults = near.filter((f) => can(representative(f)));
  return { core, parts, keeps, representative, faults, firstRows: { view, rowOf: (f, severity) => rows.get(f.id)?.get(severity) } };
}

/** Fuses and switches between the battery and anything in question: they may open or be worked. */
function feedersOf(harness: Harness, links: ReadonlySet<string>): ReadonlySet<string> {
  const found = new Set<string>();
  const nets = new Set(
    [...links].flatMap((id) => {
      const link = linkOf(harness, id);
      return link === undefined ? [] : [netAt(harness, link.a), netAt(harness, link.b)].filter((n) => n !== undefined);
    }),
  );
  for (const net of nets)
    for (const p of net.places) {
      const part = partOfPlace(harness, p);
      if ((part?.kind !== "fuse" && part?.kind !== "switch") || found.has(part.id)) continue;
      found.add(part.id);
      for (const other of placesOfComponent(harness, part)) {
        const beyond = netAt(harness, other);
        if (beyond !== undefined) nets.add(beyond);
      }
    }
  return found;
}

/** Whether a fault at its worst changes what any of the parts does; a flat battery and the like are left in. */
function canCause(
  parts: readonly string[],
  view: View,
  fault: SupposedFault,
  rowOf: (fault: SupposedFault, severity: number) => Row | undefined,
  nominalVolts: number,
): boolean {
  // Resistances are worst at their highest, shorts at their lowest, and what drags without blowing a fuse is in the middle.
  const worst = fault.effect === "series" ? fault.severities.at(-1)! : fault.severities[0]!;
  const tried = new Set([worst, fault.severities[fault.severities.length >> 1]!]);
  const isFelt = (severity: number): boolean =>
    parts.some((p) => (view.firstOrderMove(fault.faultAt(severity), p) ?? Infinity) > LEAST_FELT * nominalVolts);
  return [...tried].some((severity) => isFelt(severity) && changes(parts, view, rowOf(fault, severity)));
}

function changes(parts: readonly string[], view: View, row: Row | undefined): boolean {
  // What shakes the whole circuit is looked at only once something speaks for it.
  if (row === undefined) return true;
  if (row === view.sound) return false;
  return parts.some((p) => {
    const [now, then] = [workOf(view, row, p), workOf(view, view.sound, p)];
    // What does nothing to be seen cannot be judged by it.
    if (now === undefined || then === undefined) return true;
    return Math.abs(now - then) > CHANGED * Math.max(0.05, then) || row.flickers.length > 0;
  });
}

/** Links behind a fuse of the way: a short there takes the part down with it. */
function besideOnFuse(harness: Harness, ours: ReadonlySet<string>, add: (link: string) => void): void {
  const isFuse = (id: string): boolean => lookupOf(harness).parts.get(id)?.kind === "fuse";
  for (const w of walksOf(harness)) {
    const at = w.feed.findIndex((h) => isFuse(h.link.id) && ours.has(h.link.id));
    if (at < 0) continue;
    for (const h of w.feed.slice(at)) add(h.link.id);
    add(w.load.id);
  }
}

/** A short with no fuse between: wherever it is, everything on the vehicle gets less. */
function dragsBattery(harness: Harness, f: SupposedFault): boolean {
  if (f.effect !== "short to ground" && f.effect !== "short to feed") return false;
  const link = linkOf(harness, f.link);
  const kind = f.effect === "short to ground" ? "battery" : "ground";
  return link !== undefined && netAt(harness, link.a)?.places.some((p) => partOfPlace(harness, p)?.kind === kind) === true;
}

/** Wires that share a feed splice or a return with the way: a short on any of them bites the same. */
function besideOnReturn(harness: Harness, core: ReadonlySet<string>, add: (link: string) => void): void {
  const nets = new Set([...core].flatMap((id) => netAt(harness, linkOf(harness, id)!.a) ?? []));
  for (const net of nets) {
    if (net.links.length > SHARED_NET || net.places.some((p) => partOfPlace(harness, p)?.kind === "battery")) continue;
    for (const l of net.links) add(l.id);
  }
}
/** Links of a net up to which a short at any of them is thought of. */
const SHARED_NET = 24;

/** Reference, return and bus nets of the modules and sensors in question: what hangs there can pull them down. */
function besideOnModule(harness: Harness, ours: ReadonlySet<string>, add: (net: Net) => void): void {
  for (const id of ours) {
    const part = lookupOf(harness).parts.get(id);
    if (part?.kind !== "device") continue;
    for (const place of placesOfComponent(harness, part)) {
      const net = quiet(harness, place);
      if (net !== undefined && net.links.some((l) => ours.has(l.id))) add(net);
    }
  }
}

/** The net of a place unless it is the battery's own or ends in metal. */
function quiet(harness: Harness, place: PlaceId): Net | undefined {
  const net = netAt(harness, place);
  const loud =
    net === undefined ||
    net.links.length > LARGE_NET ||
    net.places.some((p) => ["battery", "ground"].includes(partOfPlace(harness, p)?.kind ?? ""));
  return loud ? undefined : net;
}

/**
 * Wires that may have rubbed through against a wire of the way. To every instrument all pairs of wires on the same two nets are one and the same: `representative` names the one
 * that is computed for all of them.
 */
function touchingOf(
  harness: Harness,
  catalogue: readonly SupposedFault[],
  branch: (link: string) => boolean,
): { readonly faults: ReadonlySet<SupposedFault>; readonly representative: ReadonlyMap<SupposedFault, SupposedFault> } {
  const first = new Map<string, SupposedFault>();
  const faults = new Set<SupposedFault>();
  const representative = new Map<SupposedFault, SupposedFault>();
  const netOf = (wire: string): Net | undefined => netAt(harness, linkOf(harness, wire)!.a);
  for (const f of catalogue) {
    if (f.where === undefined || f.other === undefined || !(branch(f.link) || branch(f.other))) continue;
    const [p, q] = [netOf(f.link), netOf(f.other)];
    if (p === q) continue;
    // Long trunks drop volts along themselves: there each wire counts for itself.
    const large = [p, q].some((n) => n === undefined || n.links.length > LARGE_NET || ohmsAlong(harness, n) > LONG_OHMS);
    const key = large ? f.id : [p!.index, q!.index].sort((x, y) => x - y).join(" ");
    const stands = first.get(key) ?? f;
    first.set(key, stands);
    faults.add(f);
    representative.set(f, stands);
  }
  return { faults, representative };
}
