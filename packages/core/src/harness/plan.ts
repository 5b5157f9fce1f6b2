import { lookupOf } from "./lookup.ts";
import { partNameIn } from "./names.ts";
import { placeOf } from "./places.ts";
import type { Harness, Spot, Zone } from "./schema.ts";

/** Where something is on the plan of the vehicle. */
export interface Whereabouts {
  readonly zone: Zone;
  /** One where it is known; several where the zone is in several places and nothing says in which of them it is. */
  readonly spots: readonly Spot[];
}

/** How far beside the middle line a spot is on one side, % of half the width. */
const BESIDE = 10;
/** How far from the middle a spot is at one end, % of the length. */
const FRONT = 33;
const REAR = 67;
const isLeft = (s: Spot): boolean => s.across < -BESIDE;
const isRight = (s: Spot): boolean => s.across > BESIDE;
const isFront = (s: Spot): boolean => s.along < FRONT;
const isRear = (s: Spot): boolean => s.along > REAR;
/** Words of a part that say where it is; lamps that only one end has among them. */
const SIDES: readonly (readonly [word: RegExp, is: (s: Spot) => boolean])[] = [
  [/\bleft\b/i, isLeft],
  [/\bright\b/i, isRight],
  [/\b(front|head)/i, isFront],
  [/\b(rear|tail|stop|reverse|number plate)/i, isRear],
];

/**
 * Where a part, a place on it, an end of a wire or a segment of loom is. Of a zone in several places those count that its own words speak of ("stop light, left"). Undefined where its zone has no place on the
 * plan, or it has no zone.
 */
export function whereaboutsOf(harness: Harness, name: string): Whereabouts | undefined {
  const { parts, wires } = lookupOf(harness);
  const wire = wires.get(name);
  if (wire !== undefined) return whereaboutsOf(harness, placeOf(harness, wire.from)) ?? whereaboutsOf(harness, placeOf(harness, wire.to));
  const part = parts.get(partNameIn(name));
  const loom = harness.looms?.find((l) => l.id === name);
  const zone = harness.zones?.find((z) => z.id === (part ?? loom)?.zone);
  if (zone?.plan === undefined) return undefined;
  const words = [part?.label, part?.at, loom?.text].filter(Boolean).join(" ");
  const spots = SIDES.reduce<readonly Spot[]>((left, [word, is]) => {
    const those = word.test(words) ? left.filter(is) : left;
    return those.length === 0 ? left : those;
  }, zone.plan);
  return { zone, spots };
}

/** How high a spot is, in a word; nothing where it is about half-way up. */
export const heightWords = ({ height }: Spot): "low" | "high" | "" => (height < 30 ? "low" : height > 75 ? "high" : "");

/** "at the rear, left, low". */
export function spotWords(spot: Spot): string {
  const end = isFront(spot) ? "at the front" : isRear(spot) ? "at the rear" : "half-way along";
  const side = isLeft(spot) ? "left" : isRight(spot) ? "right" : "in the middle";
  return [end, side, heightWords(spot)].filter((w) => w !== "").join(", ");
}
