import type { SupposedFault } from "../../faults/index.ts";
import {
  busMembersOf,
  deviceOf,
  linkOf,
  lookupOf,
  netAt,
  partNameIn,
  pinPlace,
  roleOfPlace,
  walksOf,
  type Component,
  type Harness,
} from "../../harness/index.ts";
import type { NoticedBy } from "../complaint.ts";

/** What a practice fault is asked for by. */
export const FAMILIES = [
  "no crank",
  "cranks, no start",
  "charging",
  "misfire",
  "open",
  "high resistance",
  "bad ground",
  "shared return",
  "short to ground",
  "short to supply",
  "short between wires",
  "5 V reference",
  "bus",
  "sensor or gauge",
  "wrong fuse",
  "drain",
  "intermittent",
] as const;
export type Family = (typeof FAMILIES)[number];
/** Whether somebody named a family. */
export const isFamily = (text: string): text is Family => (FAMILIES as readonly string[]).includes(text);

/** How a family is sought on a vehicle. */
export interface FamilyPlan {
  /** Parts that the complaint is to be about. */
  readonly targets: (harness: Harness) => readonly string[];
  /** Whether a fault belongs to it. `target`: what is complained of. */
  readonly fits: (harness: Harness, fault: SupposedFault, severity: number, target: string) => boolean;
  /** How it comes to light. */
  readonly by: NoticedBy;
  /** What the engine does meanwhile, where the family says so. */
  readonly engine?: "idling" | "cranking";
  /** It shows anywhere on the vehicle, not only at the part that it lies by. */
  readonly isWide?: true;
  /** It is there only some of the time. */
  readonly comesAndGoes?: true;
}

const kindsOf = (harness: Harness, devices: readonly string[]): readonly string[] =>
  harness.components.flatMap((c) => (c.kind === "device" && devices.includes(c.device) ? [c.id] : []));

/** What a driver hears, sees or feels at work. */
const isNoticed = (c: Component): boolean => c.kind === "load" || (c.kind === "device" && deviceOf(c).device.isNoticed === true);
const noticed = (harness: Harness): readonly string[] => harness.components.flatMap((c) => (isNoticed(c) ? [c.id] : []));

const starters = (harness: Harness): readonly string[] => kindsOf(harness, ["starter"]);
const every = (): boolean => true;
/** A wire, joint, cavity or ground: what carries current and does nothing else. */
const isInWay = (harness: Harness, { link }: SupposedFault): boolean =>
  harness.wires.some((w) => w.id === link) || ["cavity", "joint", "ground"].includes(linkOf(harness, link)?.kind ?? "");
/** On the way back from what is complained of to the battery, where others come back as well. */
function isOnSharedReturn(harness: Harness, { link }: SupposedFault, target: string): boolean {
  const through = walksOf(harness).filter((w) => w.ground.some((h) => h.link.id === link));
  const loads = new Set(through.map((w) => partNameIn(w.load.id)));
  return loads.has(target) && loads.size > 1;
}
const sensors = (harness: Harness): readonly string[] =>
  harness.components.flatMap((c) => (c.kind === "device" && deviceOf(c).device.family === "sensor" ? [c.id] : []));
const gauges = (harness: Harness): readonly string[] =>
  harness.components.flatMap((c) => (c.kind === "load" && /gauge/i.test(c.label ?? "") ? [c.id] : []));
const effects =
  (...of: readonly SupposedFault["effect"][]) =>
  (_: Harness, f: SupposedFault): boolean =>
    of.includes(f.effect);

/** Whether an element lies in a net that a module feeds as reference. */
function isOnReference(harness: Harness, { link, other }: SupposedFault): boolean {
  const at = [link, ...(other === undefined ? [] : [other])].flatMap((id) => linkOf(harness, id)?.a ?? []);
  return at.some((place) => netAt(harness, place)?.places.some((p) => roleOfPlace(harness, p) === "reference") === true);
}

/** Whether an element lies in a line between modules: a wire, a cavity, a splice or a terminating resistor. */
function isOnBus(harness: Harness, { link, other }: SupposedFault): boolean {
  const lines = busMembersOf(harness).flatMap((m) => m.pins.flatMap((p) => netAt(harness, pinPlace(m.id, p)) ?? []));
  const isTerminator = (place: string): boolean => {
    const part = lookupOf(harness).parts.get(partNameIn(place));
    return part?.kind === "device" && part.device === "resistor" && part.id === link;
  };
  return lines.some((n) => n.links.some((l) => l.id === link || l.id === other) || n.places.some((p) => isTerminator(p) || p === link));
}

export const PLANS: Readonly<Record<Family, FamilyPlan>> = {
  "no crank": { targets: starters, fits: every, by: "driver", engine: "cranking" },
  "cranks, no start": {
    targets: (h) => [
      ...kindsOf(h, ["injector", "ignition"]),
      ...h.components.flatMap((c) => (/fuel pump$/i.test(c.label ?? "") && isNoticed(c) ? [c.id] : [])),
    ],
    fits: every,
    by: "driver",
    engine: "cranking",
  },
  charging: { targets: (h) => kindsOf(h, ["alternator"]), fits: every, by: "driver", engine: "idling" },
  misfire: { targets: (h) => kindsOf(h, ["ignition", "injector"]), fits: every, by: "driver", engine: "idling" },
  open: { targets: noticed, fits: (h, f) => f.effect === "open" && isInWay(h, f), by: "driver" },
  "high resistance": { targets: noticed, fits: (h, f) => f.effect === "series" && isInWay(h, f), by: "driver" },
  "bad ground": {
    targets: noticed,
    fits: (h, f) => f.effect === "series" && linkOf(h, f.link)?.kind === "ground",
    by: "driver",
  },
  "shared return": {
    targets: noticed,
    fits: (h, f, _, target) => (f.effect === "open" || f.effect === "series") && isOnSharedReturn(h, f, target),
    by: "driver",
  },
  "short to ground": { targets: noticed, fits: effects("short to ground"), by: "driver" },
  "short to supply": { targets: noticed, fits: effects("short to feed"), by: "driver" },
  "short between wires": { targets: noticed, fits: effects("short to wire", "water bridge"), by: "driver" },
  "5 V reference": { targets: sensors, fits: isOnReference, by: "scan" },
  bus: { targets: (h) => [...new Set(busMembersOf(h).map((m) => m.id))], fits: isOnBus, by: "scan", isWide: true },
  "sensor or gauge": {
    targets: (h) => [...gauges(h), ...kindsOf(h, ["ntc", "pot", "hall", "pickup"])],
    fits: (h, f) => !isOnReference(h, f),
    by: "scan",
  },
  "wrong fuse": { targets: noticed, fits: (_, f) => f.mode === "wrong rating", by: "driver" },
  drain: {
    targets: noticed,
    fits: (_, f) => ["stuck closed", "short to feed", "short to wire", "water bridge", "short to ground"].includes(f.effect),
    by: "meter",
  },
  intermittent: {
    targets: noticed,
    fits: (h, f) => (f.effect === "open" || f.effect === "series") && isInWay(h, f),
    by: "driver",
    comesAndGoes: true,
  },
};
