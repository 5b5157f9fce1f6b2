import type { BusSort, LineExtent } from "../devices/index.ts";
import { settingsAs } from "./device-of.ts";
import { lookupOf } from "./lookup.ts";
import { pinPlace } from "./names.ts";
import { endsOfNet, netAt, roleOfPlace } from "./net.ts";
import type { Harness } from "./schema.ts";

/** A module where it is on a bus. */
export interface BusMember {
  readonly id: string;
  readonly sort: BusSort;
  /** One pin, or CAN high and CAN low. */
  readonly pins: readonly string[];
}

const known = new WeakMap<Harness, readonly BusMember[]>();

/** Every module for every bus that it has pins for, in the order of the harness. */
export function busMembersOf(harness: Harness): readonly BusMember[] {
  const made = known.get(harness) ?? gather(harness);
  known.set(harness, made);
  return made;
}

const gather = (harness: Harness): readonly BusMember[] =>
  harness.components.flatMap((part): BusMember[] => {
    const pins = Object.entries(settingsAs(part, "module")?.pins ?? {});
    const named = (sort: string): string[] => pins.flatMap(([name, p]) => (p.sort === sort ? [name] : []));
    const [high, low] = [named("can high"), named("can low")];
    return [
      ...high.slice(0, low.length).map((h, i): BusMember => ({ id: part.id, sort: "can", pins: [h, low[i]!] })),
      ...named("lin").map((pin): BusMember => ({ id: part.id, sort: "lin", pins: [pin] })),
      ...named("single wire").map((pin): BusMember => ({ id: part.id, sort: "single wire", pins: [pin] })),
    ];
  });

/** Whether a module may ask another on a bus that both are on: on a LIN line with a master only that, or any there where it is the master that is asked. */
export function mayAsk(harness: Harness, sort: BusSort, asker: string, asked: string): boolean {
  return (
    sort !== "lin" ||
    isLinMaster(harness, asked) ||
    isLinMaster(harness, asker) ||
    !busMembersOf(harness).some((m) => m.sort === "lin" && isLinMaster(harness, m.id))
  );
}

/** Nodes on the line of a member's first pin and metres of wire there. */
export function extentOfLine(harness: Harness, { id, pins }: BusMember): LineExtent {
  const net = netAt(harness, pinPlace(id, pins[0]!));
  if (net === undefined) return { nodes: 1, metres: 0 };
  const wires = lookupOf(harness).wires;
  return {
    nodes: endsOfNet(harness, net).filter((p) => roleOfPlace(harness, p) === "bus").length,
    metres: net.links.reduce((sum, l) => sum + (wires.get(l.id)?.lengthM ?? 0), 0),
  };
}

/** The master of the LIN line that a place is on; undefined where none is drawn. */
export function linMasterAt(harness: Harness, place: string): BusMember | undefined {
  const net = netAt(harness, place);
  if (net === undefined) return undefined;
  const ends = endsOfNet(harness, net);
  return busMembersOf(harness).find((m) => m.sort === "lin" && isLinMaster(harness, m.id) && ends.includes(pinPlace(m.id, m.pins[0]!)));
}

const isLinMaster = (harness: Harness, id: string): boolean =>
  Object.values(settingsAs(lookupOf(harness).parts.get(id), "module")?.pins ?? {}).some((p) => p.sort === "lin" && p.master);
