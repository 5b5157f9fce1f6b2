import {
  accessMinutes,
  type Component,
  type Harness,
  linkOf,
  lookupOf,
  type Loom,
  partNameIn,
  partOfLink,
  partOfPlace,
} from "../../harness/index.ts";
import type { VehicleState } from "../../circuit/index.ts";
import { kindOf, type Observable } from "../evidence/kinds/index.ts";
import type { Test } from "../predict/oracle.ts";

/** Minutes of work beside what each kind of evidence takes by itself. Estimates of a practised hand; access comes from the vehicle's zones. */
const MINUTES = {
  alongLoom: 3,
  /** One wire in its looms, the tape off where it has to be. */
  alongWire: 2,
  /** To a part of which nobody said how long it takes. */
  access: 1,
  /** To another part where the zone is open already; to another fuse or relay of the same box. */
  beside: 1,
  sameBox: 0.2,
  /** Through insulation where no pin can be accessible. */
  pierce: 2.5,
  key: 0.1,
  switch: 0.1,
  engine: 0.5,
  unplug: 0.5,
  jumper: 1,
  lampInPlace: 1,
} as const;

/** How long it takes until this test is done, from the state that the vehicle is in. `accessible`: parts that are open to the hand already. */
export function minutesOf(harness: Harness, test: Test, from: VehicleState, accessible: ReadonlySet<string>): number {
  const places = placesTouched(test.observe);
  const looms = loomsLookedAlong(harness, test.observe);
  if (looms.length > 0) {
    const zones = new Set(looms.map((l) => l.zone));
    const minutes = [...zones].reduce((sum, zone) => sum + zoneMinutes(harness, zone, accessible), 0);
    const isWhole = looms.some((l) => l.id === places[0]);
    return (
      stateMinutes(harness, from, test.state, new Set(accessible), new Set()) + minutes + (isWhole ? MINUTES.alongLoom : MINUTES.alongWire)
    );
  }
  const parts = new Set(places.map((p) => partOf(harness, test.observe, p) ?? p));
  const open = new Set(accessible);
  let minutes = stateMinutes(harness, from, test.state, open, parts);
  for (const id of parts) minutes += goTo(harness, id, open);
  if (places.some((p) => needsPiercing(harness, p))) minutes += MINUTES.pierce;
  return minutes + kindOf(test.observe).minutes(test.observe, harness);
}

/** Looms to which the hands go for a look: one as a whole, or those that a wire runs through, wherever its ends are. */
function loomsLookedAlong(harness: Harness, o: Observable): readonly Loom[] {
  if (o.kind !== "look") return [];
  const along = lookupOf(harness).wires.get(o.at)?.segments ?? [o.at];
  return (harness.looms ?? []).filter((l) => along.includes(l.id));
}

function zoneMinutes(harness: Harness, zone: string | undefined, accessible: ReadonlySet<string>): number {
  const isOpen = [...accessible].some((id) => zoneOf(harness, id) === zone);
  return isOpen ? MINUTES.beside : (harness.zones?.find((z) => z.id === zone)?.minutes ?? MINUTES.access);
}

/** Parts and looms that are open to the hand after a test. */
export const partsMadeAccessible = (harness: Harness, test: Test): readonly string[] => [
  ...loomsLookedAlong(harness, test.observe).map((l) => l.id),
  ...placesTouched(test.observe).flatMap((p) => partOf(harness, test.observe, p) ?? []),
  ...test.state.opened.map((id) => partNameIn(id)),
];

/** Counts minutes of one test after the other on a vehicle: each begins where the one before has left it, and with what is open to the hand by then. */
export function workClock(harness: Harness, from: VehicleState): (test: Test) => number {
  const accessible = new Set<string>();
  let state = from;
  return (test) => {
    const minutes = minutesOf(harness, test, state, accessible);
    for (const id of partsMadeAccessible(harness, test)) accessible.add(id);
    state = test.state;
    return minutes;
  };
}

/** Where hands or leads go. */
export const placesTouched = (o: Observable): readonly string[] => kindOf(o).places(o);

function partAt(harness: Harness, place: string): Component | undefined {
  const link = linkOf(harness, place);
  return (
    lookupOf(harness).parts.get(place) ??
    partOfPlace(harness, place) ??
    (link === undefined ? undefined : (partOfLink(harness, link) ?? partOfPlace(harness, link.b) ?? undefined))
  );
}

/** Where hands are for a place of a test. A clamp goes around a wire where it begins, before anything that may have chafed. */
function partOf(harness: Harness, o: Observable, place: string): string | undefined {
  const wire = o.kind === "amps" ? lookupOf(harness).wires.get(place) : undefined;
  return wire?.from.component ?? partAt(harness, place)?.id;
}

/** Minutes until hands are at a part or the part of a place, link or wire; less when a part beside it is open already, 0 when it is open itself. */
export function accessMinutesFrom(harness: Harness, id: string, accessible: ReadonlySet<string>): number {
  const part = partAt(harness, id);
  if (part === undefined) return MINUTES.access;
  if (accessible.has(part.id)) return 0;
  if (part.kind === "battery") return 0.2;
  const own = accessMinutes(harness, part) ?? MINUTES.access;
  const zone = harness.zones?.find((z) => z.id === part.zone);
  let least = own;
  for (const id of accessible) {
    if (zone === undefined || zoneOf(harness, id) !== zone.id) continue;
    const there = lookupOf(harness).parts.get(id);
    if (there !== undefined && (part.box === undefined ? part.kind === "fuse" && there.kind === "fuse" : part.box === there.box))
      return MINUTES.sameBox;
    // What takes longer than the rest of its zone still does.
    least = Math.min(least, MINUTES.beside + Math.max(0, own - zone.minutes));
  }
  return least;
}

/** The zone of a part or a loom. */
const zoneOf = (harness: Harness, id: string): string | undefined =>
  (lookupOf(harness).parts.get(id) ?? harness.looms?.find((l) => l.id === id))?.zone;

/** The same, and it is accessible from then on. */
function goTo(harness: Harness, id: string, accessible: Set<string>): number {
  const minutes = accessMinutesFrom(harness, id, accessible);
  accessible.add(partAt(harness, id)?.id ?? id);
  return minutes;
}

/** A splice lies under tape; a sealed plug that cannot be back-probed is pierced behind it. */
export function needsPiercing(harness: Harness, place: string): boolean {
  const part = partOfPlace(harness, place);
  return part?.kind === "splice" || (part?.kind === "connector" && part.backProbe === false);
}

function stateMinutes(
  harness: Harness,
  from: VehicleState,
  to: VehicleState,
  accessible: Set<string>,
  touched: ReadonlySet<string>,
): number {
  let minutes = from.key === to.key ? 0 : MINUTES.key;
  if (from.engine !== to.engine) minutes += MINUTES.engine;
  minutes += MINUTES.switch * differing(from.on, to.on).length;
  const unplugged = differing(from.opened, to.opened);
  for (const id of unplugged) minutes += MINUTES.unplug + (touched.has(partNameIn(id)) ? 0 : goTo(harness, partNameIn(id), accessible));
  const pairs = (list: readonly (readonly [string, string, ...unknown[]])[]): string[] => list.map(([p, q]) => `${p}~${q}`);
  for (const [list, each] of [
    [differing(pairs(from.bridged), pairs(to.bridged)), MINUTES.jumper],
    [differing(pairs(from.lamps ?? []), pairs(to.lamps ?? [])), MINUTES.lampInPlace],
  ] as const)
    for (const pair of list) {
      minutes += each;
      for (const p of pair.split("~")) {
        const id = partAt(harness, p)?.id ?? p;
        if (!touched.has(id) && !unplugged.includes(id)) minutes += goTo(harness, id, accessible);
      }
    }
  return minutes;
}

const differing = (p: readonly string[], q: readonly string[]): string[] => [
  ...p.filter((x) => !q.includes(x)),
  ...q.filter((x) => !p.includes(x)),
];
