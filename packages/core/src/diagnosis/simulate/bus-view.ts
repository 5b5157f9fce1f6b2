import { speaking, type Fault } from "../../circuit/index.ts";
import { busLevel, isFreeInTime, type BusLevel, type BusSort } from "../../devices/index.ts";
import { catalogueOf, type SupposedFault } from "../../faults/index.ts";
import {
  busMembersOf,
  endsOfNet,
  extentOfLine,
  linkOf,
  moduleGround,
  moduleSupply,
  netAt,
  partNameIn,
  pinPlace,
  type BusMember,
  type Harness,
  type Net,
  type PlaceId,
} from "../../harness/index.ts";
import { placesOfFault } from "./places.ts";
import { isAwakeIn, voltsIn, type Row } from "./row.ts";
import type { View } from "./view.ts";

/** A module on a bus, with whoever else is on the same wires. */
export interface Speaker extends BusMember {
  /** Its driver held as while it sends. */
  readonly held: Fault;
  readonly listeners: readonly BusMember[];
}

const known = new WeakMap<Harness, readonly Speaker[]>();

/** Every module with a bus pin, with the other modules on the same wires. */
export function busesOf(harness: Harness): readonly Speaker[] {
  const made = known.get(harness);
  if (made !== undefined) return made;
  const members = busMembersOf(harness);
  const onWire = (m: BusMember): ReadonlySet<string> => {
    const net = netAt(harness, pinPlace(m.id, m.pins[0]!));
    return new Set(net === undefined ? [] : endsOfNet(harness, net));
  };
  const found = members.map((m): Speaker => {
    const there = onWire(m);
    const listeners = members.filter((o) => o.id !== m.id && o.sort === m.sort && there.has(pinPlace(o.id, o.pins[0]!)));
    return { ...m, held: speaking(harness, m), listeners };
  });
  known.set(harness, found);
  return found;
}

const seenOnBuses = new WeakMap<Harness, { readonly places: readonly PlaceId[]; readonly parts: readonly string[] }>();

/** What has to be known to tell who hears whom: every module on a bus, with its pins there, its ground and its feed. */
export function onBuses(harness: Harness): { readonly places: readonly PlaceId[]; readonly parts: readonly string[] } {
  const made = seenOnBuses.get(harness) ?? gatherOnBuses(busMembersOf(harness));
  seenOnBuses.set(harness, made);
  return made;
}

function gatherOnBuses(members: readonly BusMember[]): ReturnType<typeof onBuses> {
  const places = members.flatMap((m) => [...m.pins.map((pin) => pinPlace(m.id, pin)), moduleGround(m.id), moduleSupply(m.id)]);
  return { places: [...new Set(places)], parts: [...new Set(members.map((m) => m.id))] };
}

const touching = new WeakMap<Speaker, Map<string, boolean>>();

/** Whether a fault is on the lines of a bus, or in one of the modules there. */
export function touchesBus(harness: Harness, member: Speaker, fault: SupposedFault): boolean {
  const known = touching.get(member) ?? new Map<string, boolean>();
  touching.set(member, known);
  const made = known.get(fault.id) ?? isThere(harness, member, fault);
  known.set(fault.id, made);
  return made;
}

const linesKnown = new WeakMap<Speaker, ReadonlySet<Net>>();

function isThere(harness: Harness, member: Speaker, fault: SupposedFault): boolean {
  const part = partNameIn(fault.link);
  if (part === member.id || member.listeners.some((m) => m.id === part)) return true;
  const lines = linesKnown.get(member) ?? linesOf(harness, [member, ...member.listeners]);
  linesKnown.set(member, lines);
  const link = linkOf(harness, fault.link);
  const isOnLine = (place: string): boolean => {
    const net = netAt(harness, place);
    return net !== undefined && lines.has(net);
  };
  return (link !== undefined && (isOnLine(link.a) || isOnLine(link.b))) || placesOfFault(fault).some(isOnLine);
}

const linesOf = (harness: Harness, members: readonly BusMember[]): ReadonlySet<Net> =>
  new Set(members.flatMap((m) => m.pins.flatMap((pin) => netAt(harness, pinPlace(m.id, pin)) ?? [])));

const faultsOnBuses = new WeakMap<Harness, Map<string, readonly SupposedFault[]>>();

/** Every fault of the catalogue on the lines of the buses of a module, or in a module there. */
export function busFaultsOf(harness: Harness, module: string): readonly SupposedFault[] {
  const byModule = faultsOnBuses.get(harness) ?? new Map<string, readonly SupposedFault[]>();
  faultsOnBuses.set(harness, byModule);
  const members = busesOf(harness).filter((b) => b.id === module && b.listeners.length > 0);
  const made = byModule.get(module) ?? catalogueOf(harness).filter((f) => members.some((m) => touchesBus(harness, m, f)));
  byModule.set(module, made);
  return made;
}

/**
 * Whether one module hears another: the line must be free while nobody speaks, and held while the other does, at the listener's own pins, the listener awake, and the
 * line free in time once it is let go.
 */
export function hears(harness: Harness, mouth: BusMember, ear: BusMember, quiet: View, still: Row, speaks: View, held: Row): boolean {
  if (level(quiet, still, mouth.sort, ear) !== "recessive" || level(speaks, held, mouth.sort, ear) !== "dominant") return false;
  const at = (view: View, row: Row): readonly number[] =>
    mouth.pins.map((pin) => voltsIn(view, row, pinPlace(mouth.id, pin), moduleGround(mouth.id)) ?? 0);
  return isFreeInTime(mouth.sort, at(quiet, still), at(speaks, held), extentOfLine(harness, mouth));
}

function level(view: View, row: Row, sort: BusSort, ear: BusMember): BusLevel | "asleep" {
  if (!isAwakeIn(view, row, ear.id)) return "asleep";
  const volts = (place: string): number => voltsIn(view, row, place, moduleGround(ear.id)) ?? 0;
  return busLevel(
    sort,
    ear.pins.map((pin) => volts(pinPlace(ear.id, pin))),
    volts(moduleSupply(ear.id)),
  );
}
