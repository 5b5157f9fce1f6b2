import type { FaultEffect } from "../faults/index.ts";
import { linkOf, lookupOf, partNameIn, type Exposure, type Harness } from "../harness/index.ts";
import { unreachable } from "../quantity/index.ts";

/** What can be wrong with a piece of wiring, as it is seen once it is open. */
export const DAMAGE_KINDS = [
  "green copper",
  "chafed through",
  "burnt",
  "broken",
  "loose",
  "water",
  "pushed-back terminal",
  "earlier splice",
  "melted",
] as const;
export type DamageKind = (typeof DAMAGE_KINDS)[number];

/** What was wrong, as it was measured. */
export const FAULT_TYPES = [
  "open circuit",
  "high resistance",
  "short to ground",
  "short to supply",
  "short between wires",
  "defective part",
  "wrong rating",
] as const;
export type FaultType = (typeof FAULT_TYPES)[number];

/** What a suspect's fault is called; undefined where it is the measuring and not the vehicle. */
export function faultTypeOf(effect: FaultEffect, isFuse: boolean): FaultType | undefined {
  switch (effect) {
    case "open":
      return "open circuit";
    case "series":
      return "high resistance";
    case "short to ground":
      return "short to ground";
    case "short to feed":
      return "short to supply";
    case "short to wire":
    case "water bridge":
      return "short between wires";
    case "setting":
      return isFuse ? "wrong rating" : "defective part";
    case "shorted inside":
    case "stuck closed":
    case "stuck open":
    case "holds":
      return "defective part";
    case "lead":
      return undefined;
    default:
      return unreachable(effect);
  }
}

/** What takes the cause away, so that the damage does not come back. */
export const REMEDIES = [
  "edge guarded",
  "clip moved",
  "sleeve fitted",
  "stud capped",
  "re-routed",
  "heat shield fitted",
  "sealed",
  "drain cleared",
  "strain relieved",
  "retaining clip fitted",
  "tightened",
  "earlier work redone",
  "cause not found",
] as const;
export type Remedy = (typeof REMEDIES)[number];

/** Damage that a place is prone to, with what causes it there and what takes the cause away. */
export interface LikelyDamage {
  readonly kind: DamageKind;
  readonly cause: string;
  readonly remedies: readonly Remedy[];
}

/** A segment of loom in which a wire may be damaged. */
export interface DamagePlace {
  readonly segment: string;
  readonly words: string;
  readonly exposure: readonly Exposure[];
  readonly crosses: string | undefined;
}

/** What an element is, as far as its damage goes. */
export type DamagedThing = "wire" | "cavity" | "ground" | "part";

/** What is damaged at a place that a repair names: a wire, a cavity or connector, a ground, or else a part. Undefined for what the circuit does not hold. */
export function damagedThing(harness: Harness, at: string): DamagedThing | undefined {
  const { parts, wires } = lookupOf(harness);
  if (wires.has(at)) return "wire";
  const kind = (parts.get(at) ?? parts.get(partNameIn(at)))?.kind;
  if (kind === undefined) return undefined;
  return kind === "connector" ? "cavity" : kind === "ground" ? "ground" : kind === "splice" ? "wire" : "part";
}

/** Segments of loom that a wire runs through, or that end at a connector; where one is named more than once it stands once. */
export function damagePlaces(harness: Harness, at: string): readonly DamagePlace[] {
  const { wires, parts } = lookupOf(harness);
  const link = wires.get(at);
  const part = parts.get(at) ?? parts.get(partNameIn(at));
  const touching = link !== undefined ? [link] : harness.wires.filter((w) => w.from.component === part?.id || w.to.component === part?.id);
  return [...new Set(touching.flatMap((w) => w.segments ?? []))].map((segment) => {
    const loom = harness.looms?.find((l) => l.id === segment);
    const zone = harness.zones?.find((z) => z.id === loom?.zone);
    return {
      segment,
      words: loom?.text ?? segment,
      exposure: [...new Set([...(loom?.exposure ?? []), ...(zone?.exposure ?? [])])],
      crosses: loom?.crosses,
    };
  });
}

interface Habit {
  readonly kind: DamageKind;
  readonly cause: string;
  readonly remedies: readonly Remedy[];
}
/** What exposure does to a thing. Experience of the trade, as data; the cause is the sentence's end: "it crosses an edge". */
const HABITS: Readonly<Record<DamagedThing, Readonly<Partial<Record<Exposure, readonly Habit[]>>>>> = {
  wire: {
    rub: [
      { kind: "chafed through", cause: "rubs where it crosses", remedies: ["edge guarded", "clip moved", "sleeve fitted", "re-routed"] },
    ],
    heat: [{ kind: "melted", cause: "lies against a hot part", remedies: ["re-routed", "heat shield fitted", "clip moved"] }],
    water: [{ kind: "green copper", cause: "water has got into the insulation", remedies: ["sealed", "re-routed", "drain cleared"] }],
    flex: [{ kind: "broken", cause: "bends with every opening", remedies: ["strain relieved", "sleeve fitted", "re-routed"] }],
    vibration: [{ kind: "broken", cause: "hangs free and shakes", remedies: ["clip moved", "strain relieved"] }],
  },
  cavity: {
    water: [{ kind: "green copper", cause: "water stands in the connector", remedies: ["sealed", "drain cleared", "re-routed"] }],
    vibration: [
      {
        kind: "pushed-back terminal",
        cause: "the terminal is not held and shakes back",
        remedies: ["retaining clip fitted", "strain relieved"],
      },
    ],
    flex: [{ kind: "loose", cause: "the wires pull at it with every opening", remedies: ["strain relieved", "clip moved"] }],
    heat: [{ kind: "burnt", cause: "a poor contact got hot", remedies: ["cause not found", "heat shield fitted"] }],
    rub: [{ kind: "loose", cause: "the connector rubs against its neighbour", remedies: ["clip moved"] }],
  },
  ground: {
    water: [{ kind: "green copper", cause: "spray reaches the stud", remedies: ["sealed"] }],
    vibration: [{ kind: "loose", cause: "the fastener has worked loose", remedies: ["tightened"] }],
    heat: [{ kind: "burnt", cause: "a poor contact got hot", remedies: ["tightened"] }],
  },
  part: {},
};
/** What happens to a thing wherever it is. */
const ANYWHERE: Readonly<Record<DamagedThing, readonly Habit[]>> = {
  wire: [{ kind: "earlier splice", cause: "somebody was in the loom before", remedies: ["earlier work redone"] }],
  cavity: [{ kind: "loose", cause: "the terminal has lost its grip", remedies: ["cause not found"] }],
  ground: [{ kind: "loose", cause: "paint or rust under the terminal", remedies: ["tightened", "sealed"] }],
  part: [{ kind: "burnt", cause: "worn out", remedies: ["cause not found"] }],
};

/**
 * Damage that a wire, cavity or ground is prone to where it is, by what its loom and zone are exposed to; the likeliest first: what the segment itself meets before what its zone does,
 * then what happens anywhere. `segment`: where along the loom; all of them when left out.
 */
export function likelyDamage(harness: Harness, at: string, segment?: string): readonly LikelyDamage[] {
  const thing = damagedThing(harness, at);
  if (thing === undefined) return [];
  const part = lookupOf(harness).parts.get(partNameIn(at));
  const zone = harness.zones?.find((z) => z.id === part?.zone);
  const places = damagePlaces(harness, at).filter((p) => segment === undefined || p.segment === segment);
  const own =
    thing === "wire"
      ? places.flatMap((p) => p.exposure.map((e) => ({ e, where: p.crosses, loom: p.words })))
      : (zone?.exposure ?? []).map((e) => ({ e, where: undefined, loom: zone!.text }));
  const found = own.flatMap(({ e, where, loom }) =>
    (HABITS[thing][e] ?? []).map((h) => ({
      ...h,
      cause:
        e === "rub" && where !== undefined
          ? `rubs on the ${where}`
          : where !== undefined && e !== "water"
            ? `${h.cause}: ${where}`
            : `${h.cause} (${loom})`,
    })),
  );
  const seen = new Set<string>();
  return [...found, ...ANYWHERE[thing]].filter((h) => !seen.has(h.kind) && seen.add(h.kind));
}

/** Whether a repair names something of the circuit. */
export const isKnownPlace = (harness: Harness, at: string): boolean =>
  damagedThing(harness, at) !== undefined || linkOf(harness, at) !== undefined;
