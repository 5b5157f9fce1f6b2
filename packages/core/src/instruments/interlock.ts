import type { VehicleState } from "../circuit/index.ts";
import {
  batteryNegative,
  batteryPositive,
  endsOfNet,
  type Harness,
  linkOf,
  lookupOf,
  netAt,
  partNameIn,
  partOfPlace,
  roleOfPlace,
} from "../harness/index.ts";
import { LIVE_VOLTS } from "./meter.ts";

/** Whether a place is a terminal that no instrument may touch: an igniter's. */
export function isUntouchable(harness: Harness, place: string): boolean {
  return roleOfPlace(harness, place) === "untouchable";
}

/** What a technician is about to do to the vehicle, as far as it can do harm. */
export type Act =
  | { readonly kind: "volts" | "ohms" | "lamp" | "powered probe"; readonly places: readonly string[] }
  /** `fused`: through a lead with a fuse in it. */
  | { readonly kind: "jumper"; readonly places: readonly [string, string]; readonly fused: boolean }
  /** Anything that only needs hands or eyes there: unplug, pierce, look, move. */
  | { readonly kind: "touch" | "unplug" | "pierce"; readonly places: readonly string[] };

/** Why an act is refused. Where people could come to harm nothing lifts it. */
export interface Refusal {
  readonly harm: "people" | "equipment";
  readonly rule:
    "igniter" | "out of bounds" | "lamp on output" | "lamp on reference" | "ohms on live" | "bypass without fuse" | "short across supply";
  readonly at: string;
  readonly reason: string;
  readonly instead: string;
}

/**
 * Every rule that an act breaks, those about people first. `voltsAt`: what the model says stands between the places of an ohmmeter; left out it is not judged. Pins at
 * the other end of the same copper count like the place itself, unless what lies between is unplugged.
 */
export function refusalsOf(harness: Harness, state: VehicleState, act: Act, voltsBetween?: number): readonly Refusal[] {
  const found: Refusal[] = [];
  for (const place of act.places) {
    const zone = outOfBounds(harness, place);
    if (zone !== undefined)
      found.push({
        harm: "people",
        rule: "out of bounds",
        at: place,
        reason: `${place} lies where nobody measures: ${zone}.`,
        instead: "Leave it to people qualified for it. Work at the nearest place outside, by the manufacturer's procedure.",
      });
    // Metal and the battery's own nodes reach everywhere; there only the terminal itself counts.
    const near = isStrong(harness, place) ? [place] : reaching(harness, state, place);
    const igniter = near.find((p) => isUntouchable(harness, p));
    if (igniter !== undefined && act.kind !== "touch")
      found.push({
        harm: "people",
        rule: "igniter",
        at: igniter,
        reason: `${igniter === place ? place : `${place} leads to ${igniter}, which`} belongs to an igniter: current through a lamp, an ohmmeter or a powered probe can fire it, and so can a back-probe.`,
        instead: "Read the codes, disconnect the battery, wait as the manufacturer states, then fit the dummy resistor.",
      });
  }
  const loading = act.kind === "lamp" || act.kind === "powered probe" || act.kind === "jumper";
  if (loading)
    for (const place of act.places) {
      const pin = reaching(harness, state, place).find((p) => isModulePin(harness, p, ["output", "reference", "bus", "signal"]));
      if (pin === undefined || isStrong(harness, place)) continue;
      const role = roleOfPlace(harness, pin)!;
      const reference = role !== "output";
      found.push({
        harm: "equipment",
        rule: reference ? "lamp on reference" : "lamp on output",
        at: pin,
        reason: reference
          ? `${pin} is a ${role === "reference" ? "sensor reference" : role} of a module: it gives milliamps, and a lamp, feed or ground there pulls it down or destroys it.`
          : `${pin} is a module's output: a lamp or a feed there can overload its driver.`,
        instead: reference
          ? "A voltmeter or a scope; unplug what hangs on it, one at a time."
          : "A voltmeter while the part itself is the load, or unplug the module first.",
      });
    }
  if (act.kind === "ohms" && voltsBetween !== undefined && Math.abs(voltsBetween) > LIVE_VOLTS)
    found.push({
      harm: "equipment",
      rule: "ohms on live",
      at: act.places.join(" – "),
      reason: `There are about ${voltsBetween.toFixed(2)} V between the leads: ohms would be void, and the meter can be harmed.`,
      instead: "Key off, pull the fuse or unplug the feed, then measure; or read the drop in volts while current flows.",
    });
  if (act.kind === "jumper") {
    const ends = act.places.map((p) => sideOf(harness, state, p));
    if (ends.includes("feed") && ends.includes("ground"))
      found.push({
        harm: "people",
        rule: "short across supply",
        at: act.places.join(" – "),
        reason: "This joins battery positive to ground with nothing between: it burns the lead and whoever holds it.",
        instead: "Feed the part at its feed pin, never at its ground pin.",
      });
    else if (!act.fused && ends.includes("feed"))
      found.push({
        harm: "people",
        rule: "bypass without fuse",
        at: act.places.join(" – "),
        reason: "A bypass without a fuse takes away the protection of the wire behind it: it can burn.",
        instead: "A lead with a fuse no larger than the circuit's own.",
      });
  }
  return found.sort((p, q) => Number(p.harm !== "people") - Number(q.harm !== "people"));
}

/** Places on the same copper, not through what is unplugged in this state. */
function reaching(harness: Harness, state: VehicleState, place: string): readonly string[] {
  const link = linkOf(harness, place);
  const net = netAt(harness, place) ?? (link === undefined ? undefined : netAt(harness, link.a));
  if (net === undefined) return [place];
  const gone = (id: string): boolean => state.opened.some((o) => id === o || id.startsWith(`${o}.`));
  const near = new Map<string, string[]>();
  for (const l of net.links) {
    if (gone(l.id)) continue;
    near.set(l.a, [...(near.get(l.a) ?? []), l.b]);
    near.set(l.b, [...(near.get(l.b) ?? []), l.a]);
  }
  const seen = new Set<string>([link === undefined ? place : link.a]);
  for (const here of seen) for (const next of near.get(here) ?? []) seen.add(next);
  const ends = new Set<string>(endsOfNet(harness, net));
  return [place, ...[...seen].filter((p) => p !== place && ends.has(p) && !gone(partNameIn(p)))];
}

function isModulePin(harness: Harness, place: string, roles: readonly string[]): boolean {
  const part = partOfPlace(harness, place);
  return part?.kind === "device" && part.device === "module" && roles.includes(roleOfPlace(harness, place) ?? "");
}

/** A stretch that ends at the battery, a fuse or a ground carries what a lamp takes. */
function isStrong(harness: Harness, place: string): boolean {
  const net = netAt(harness, place);
  return (net === undefined ? [place] : endsOfNet(harness, net)).some((p) =>
    ["battery", "ground", "fuse"].includes(partOfPlace(harness, p)?.kind ?? ""),
  );
}

/** Whether a place is joined by copper alone to battery positive or to ground. */
function sideOf(harness: Harness, state: VehicleState, place: string): "feed" | "ground" | undefined {
  const there = reaching(harness, state, place);
  if (there.some((p) => p === batteryPositive(harness) || partOfPlace(harness, p)?.kind === "fuse")) return "feed";
  if (there.some((p) => p === batteryNegative(harness) || partOfPlace(harness, p)?.kind === "ground")) return "ground";
  return undefined;
}

/** Why a place is out of bounds: its zone, or that of a loom that a wire runs through. */
export function outOfBounds(harness: Harness, place: string): string | undefined {
  const wire = lookupOf(harness).wires.get(place);
  const zones =
    wire === undefined
      ? [lookupOf(harness).parts.get(partNameIn(place))?.zone]
      : (wire.segments ?? []).map((s) => harness.looms?.find((l) => l.id === s)?.zone);
  for (const id of zones) {
    const why = harness.zones?.find((z) => z.id === id)?.outOfBounds;
    if (why !== undefined) return why;
  }
  return undefined;
}
