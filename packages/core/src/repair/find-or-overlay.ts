import { accessMinutes, lookupOf, partNameIn, type Harness, type Wire } from "../harness/index.ts";

/** Two ways to mend a wire: open the loom and mend the spot, or lay a new wire beside it. */
export interface Ways {
  readonly find: Way;
  readonly overlay: Way & { readonly lengthM: number };
  readonly proposed: "find" | "overlay";
  readonly why: string;
}
export interface Way {
  readonly minutes: number;
  /** What stays as it is. */
  readonly leaves: string;
}

/** Work of a practised hand, min. */
const MINUTES = {
  /** Untape and tape a metre of loom. */
  openMetre: 6,
  /** Lay and tie a metre of new wire along a loom. */
  layMetre: 3,
  joint: 4,
  /** A terminal in a connector at each end. */
  end: 6,
  /** Of access where nobody gave it. */
  access: 5,
} as const;
/** An overlay goes round rather than along: its length over the old wire's. */
export const DETOUR = 1.15;
/** An overlay is proposed only where opening the loom takes so many times as long: it leaves the neighbours unseen. */
const WORTH = 2;

export interface WaysQuestion {
  readonly harness: Harness;
  readonly wire: Wire;
  /** Where the damage is; undefined while nobody knows. */
  readonly segment: string | undefined;
  /** Neighbours at risk in that segment. */
  readonly neighbours: number;
}

/** Minutes to open the loom and mend the damage against minutes and metres of a new wire, from access data. While nobody knows where the damage is the whole run has to be opened. */
export function findOrOverlay({ harness, wire, segment, neighbours }: WaysQuestion): Ways {
  const segments = wire.segments ?? [];
  const opened = segment === undefined ? Math.max(1, segments.length) : 1;
  const reach =
    segment === undefined
      ? Math.max(MINUTES.access, ...segments.map((s) => minutesOfSegment(harness, s)))
      : minutesOfSegment(harness, segment);
  const openM = segment === undefined ? wire.lengthM : Math.min(0.4, wire.lengthM);
  const find = reach * opened + MINUTES.openMetre * openM + 2 * MINUTES.joint;
  const lengthM = Math.round(10 * DETOUR * wire.lengthM) / 10;
  const ends = minutesOfEnd(harness, wire.from.component) + minutesOfEnd(harness, wire.to.component);
  const overlay = ends + 2 * MINUTES.end + MINUTES.layMetre * lengthM;
  const proposed = find > WORTH * overlay ? "overlay" : "find";
  const beside = neighbours === 0 ? "" : ` with ${neighbours} ${neighbours === 1 ? "neighbour" : "neighbours"} unseen`;
  return {
    find: { minutes: Math.round(find), leaves: "nothing: the spot and its neighbours are seen" },
    overlay: {
      minutes: Math.round(overlay),
      lengthM,
      leaves: `the damaged spot${beside}; the old wire is cut off at both ends and capped`,
    },
    proposed,
    why:
      proposed === "find"
        ? `opening the loom takes ${Math.round(find)} min and shows what is damaged beside it`
        : `opening the loom takes ${Math.round(find)} min, more than ${WORTH} times the ${Math.round(overlay)} min of a new wire${neighbours > 0 ? "; the neighbours stay at risk" : ""}`,
  };
}

function minutesOfSegment(harness: Harness, segment: string): number {
  const loom = harness.looms?.find((l) => l.id === segment);
  return harness.zones?.find((z) => z.id === loom?.zone)?.minutes ?? MINUTES.access;
}

function minutesOfEnd(harness: Harness, id: string): number {
  const part = lookupOf(harness).parts.get(partNameIn(id));
  return (part === undefined ? undefined : accessMinutes(harness, part)) ?? MINUTES.access;
}
