import type { Fault } from "../../circuit/index.ts";
import { LIN_DOMINANT_SHARE, LIN_RECESSIVE_SHARE } from "../../devices/index.ts";
import type { SupposedFault } from "../../faults/index.ts";
import { deviceOf, endsOfNet, type Harness, linkOf, moduleGround, netAt, partNameIn, pinPlace, type PlaceId } from "../../harness/index.ts";
import { placesOfFault } from "./places.ts";
import { voltsIn, workOf, type Row, type View } from "./view.ts";

type Sort = "can" | "lin" | "single wire";

interface Ears {
  readonly id: string;
  readonly pins: readonly string[];
}

/** A module on a bus, how it speaks, and who listens. */
export interface BusMember extends Ears {
  readonly sort: Sort;
  /** Its driver held as while it sends. */
  readonly held: Fault;
  readonly listeners: readonly Ears[];
}

/** Receivers: CAN dominant above and recessive below so many volts between the lines (ISO 11898-2); a single wire at half of the sent level. */
const CAN_DOMINANT_VOLTS = 0.9;
const CAN_RECESSIVE_VOLTS = 0.5;
const WIRE_THRESHOLD_VOLTS = 2;

const known = new WeakMap<Harness, readonly BusMember[]>();

/** Every module with a bus pin, with the other modules on the same wires. */
export function busesOf(harness: Harness): readonly BusMember[] {
  const made = known.get(harness);
  if (made !== undefined) return made;
  const members = harness.components.flatMap((part): (Ears & { sort: Sort; held: Fault })[] => {
    if (part.kind !== "device" || part.device !== "module") return [];
    const settings = deviceOf(part).settings as { pins: Record<string, { sort: string }> };
    const named = (sort: string): string[] => Object.entries(settings.pins).flatMap(([name, p]) => (p.sort === sort ? [name] : []));
    const low = named("can low");
    const member = (sort: Sort, pins: string[]): Ears & { sort: Sort; held: Fault } => ({
      id: part.id,
      sort,
      pins,
      held: {
        kind: "settings",
        component: part.id,
        settings: { pins: { ...settings.pins, ...Object.fromEntries(pins.map((p) => [p, { ...settings.pins[p], holds: true }])) } },
      },
    });
    return [
      ...named("can high")
        .slice(0, low.length)
        .map((h, i) => member("can", [h, low[i]!])),
      ...named("lin").map((pin) => member("lin", [pin])),
      ...named("single wire").map((pin) => member("single wire", [pin])),
    ];
  });
  const onWire = (m: Ears): ReadonlySet<PlaceId> => {
    const net = netAt(harness, pinPlace(m.id, m.pins[0]!));
    return new Set(net === undefined ? [] : endsOfNet(harness, net));
  };
  const found = members.map((m): BusMember => {
    const there = onWire(m);
    return { ...m, listeners: members.filter((o) => o.id !== m.id && o.sort === m.sort && there.has(pinPlace(o.id, o.pins[0]!))) };
  });
  known.set(harness, found);
  return found;
}

/** Whether a fault is on the lines of a bus, or in one of the modules there. */
export function touchesBus(harness: Harness, member: BusMember, fault: SupposedFault): boolean {
  const members = [member, ...member.listeners];
  const lines = new Set(members.flatMap((m) => m.pins.map((pin) => netAt(harness, pinPlace(m.id, pin)))));
  const link = linkOf(harness, fault.link);
  const places = [...placesOfFault(fault), ...(link === undefined ? [] : [link.a, link.b])];
  return members.some((m) => partNameIn(fault.link) === m.id) || places.some((p) => lines.has(netAt(harness, p)));
}

/** Whether anybody hears a module: the line must be free while nobody speaks, and held while it does, at a listener that is awake. */
export function hears(member: BusMember, quiet: View, still: Row, speaks: View, held: Row): boolean {
  return member.listeners.some(
    (ear) => level(quiet, still, member.sort, ear) === "free" && level(speaks, held, member.sort, ear) === "held",
  );
}

function level(view: View, row: Row, sort: Sort, ear: Ears): "held" | "free" | "between" | "asleep" {
  if ((workOf(view, row, ear.id) ?? 1) < 0.5) return "asleep";
  const volts = (pin: string): number => voltsIn(view, row, `${ear.id}.${pin}`, moduleGround(ear.id)) ?? 0;
  if (sort === "can") {
    const apart = volts(ear.pins[0]!) - volts(ear.pins[1]!);
    return apart > CAN_DOMINANT_VOLTS ? "held" : apart < CAN_RECESSIVE_VOLTS ? "free" : "between";
  }
  if (sort === "single wire") return volts(ear.pins[0]!) > WIRE_THRESHOLD_VOLTS ? "held" : "free";
  const share = volts(ear.pins[0]!) / Math.max(0.1, volts("~supply"));
  return share > LIN_RECESSIVE_SHARE ? "free" : share < LIN_DOMINANT_SHARE ? "held" : "between";
}
