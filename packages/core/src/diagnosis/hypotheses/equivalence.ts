import type { SupposedFault } from "../../faults/index.ts";
import { linkOf, linksOf, lookupOf, netAt, partOfPlace, type Harness, type Link, type Net, type PlaceId } from "../../harness/index.ts";
import { wireOhms } from "../../devices/index.ts";
import { celsius, metres, squareMillimetres } from "../../quantity/index.ts";

/** Nets with more links than this drop volts along themselves: there each place counts for itself. */
const LARGE_NET = 60;

/** Where the wires of a net have more ohms together than this share of a short's own, it matters where the short is. */
const LOST_SHARE = 0.15;

const along = new WeakMap<Net, number>();
/** Ohms of all wires of a net together at 20 °C. */
export function ohmsAlong(harness: Harness, net: Net): number {
  const ohmsOf = (id: string): number => {
    const w = lookupOf(harness).wires.get(id);
    return w === undefined ? 0 : wireOhms(squareMillimetres(w.areaMm2), metres(w.lengthM), celsius(20));
  };
  const known = along.get(net) ?? net.links.reduce((sum, l) => sum + ohmsOf(l.id), 0);
  along.set(net, known);
  return known;
}

/**
 * Names what faults have in common that make every part do the same, wherever a meter would tell them apart: resistance or a break anywhere in one unbranched run, a short
 * anywhere on one short net (`share`: see LOST_SHARE; without end for what is told roughly), wires of the same two nets against each other.
 */
export function equivalenceClasses(harness: Harness, share = LOST_SHARE): (fault: SupposedFault, severity: number) => string {
  const run = runsOf(harness);
  const isLong = (ohms: number, ...nets: readonly (Net | undefined)[]): boolean =>
    nets.reduce((sum, n) => sum + (n === undefined ? 0 : ohmsAlong(harness, n)), 0) > share * ohms;
  return (fault, severity) => {
    const own = `${fault.id} ${severity}`;
    if (fault.where !== undefined && fault.other !== undefined) {
      // A rub on a long trunk is at this point of it or that; parts do not tell.
      const nets = [fault.link, fault.other].map((id) => netAt(harness, linkOf(harness, id)!.a));
      return nets.includes(undefined) || isLong(severity, ...nets)
        ? own
        : `rubbed ${severity} ${nets
            .map((n) => n!.index)
            .sort()
            .join(" ")}`;
    }
    const supposed = fault.faultAt(severity);
    switch (supposed.kind) {
      case "open":
      case "series":
        return run.has(supposed.link) ? `${supposed.kind} ${severity} in ${run.get(supposed.link)}` : own;
      case "short to ground":
      case "short to feed": {
        const net = netAt(harness, supposed.place);
        return net === undefined || net.links.length > LARGE_NET || isLong(severity, net)
          ? own
          : `${supposed.kind} ${severity} at ${net.index}`;
      }
      default:
        return own;
    }
  };
}

/** The run of each wire, cavity and joint that current goes through one after the other, by link. What a fuse or switch does shows on itself, so that it has none. */
function runsOf(harness: Harness): ReadonlyMap<string, string> {
  const links = linksOf(harness);
  const at = new Map<PlaceId, Link[]>();
  for (const l of links) for (const p of [l.a, l.b]) at.set(p, [...(at.get(p) ?? []), l]);
  const passes = (p: PlaceId): boolean => {
    const kind = partOfPlace(harness, p)?.kind;
    return at.get(p)!.length === 2 && (kind === "connector" || kind === "splice" || kind === "fuse" || kind === "switch");
  };
  const run = new Map<string, string>();
  for (const first of links) {
    if (run.has(first.id) || first.kind === "device") continue;
    const open = [first];
    const seen = new Set([first.id]);
    for (let l = open.pop(); l !== undefined; l = open.pop())
      for (const p of [l.a, l.b])
        if (passes(p))
          for (const next of at.get(p)!)
            if (next.kind !== "device" && !seen.has(next.id)) {
              seen.add(next.id);
              open.push(next);
            }
    for (const id of seen) run.set(id, first.id);
  }
  return new Map(
    [...run].filter(([id]) => links.some((l) => l.id === id && (l.kind === "wire" || l.kind === "cavity" || l.kind === "joint"))),
  );
}
