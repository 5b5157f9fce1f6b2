import type { VehicleState } from "../circuit/index.ts";
import { groundMap, lookupOf, onlyPlace, whereaboutsOf, type Harness, type Spot } from "../harness/index.ts";
import { predictAll } from "../instruments/index.ts";
import { limitVolts } from "../limits/index.ts";
import { carriesAmps, pieceOhms, WIRE_AREAS_MM2 } from "./wire-size.ts";

/** A stud to which a lost ground may be led anew. */
export interface GroundCandidate {
  readonly id: string;
  readonly words: string;
  /** The metal that it is on. */
  readonly on: string;
  /** Of a new wire from the old stud to this one, with a tenth more for its way; undefined where the plan does not place both. */
  readonly lengthM: number | undefined;
  /** What battery negative is away from this stud on a sound vehicle in this state, V, before anything more hangs on it. */
  readonly nowVolts: number | undefined;
  /** What the circuit's current would drop over the new wire, V; undefined without a length. */
  readonly wireVolts: number | undefined;
  /** Thinnest that carries the current and drops no more than half of what a strict rule set allows the ground side, mm². */
  readonly areaMm2: number | undefined;
  /** What hangs there already. */
  readonly serves: readonly string[];
  readonly minutes: number | undefined;
}

/** A usual vehicle, m. The plan knows shares of it. */
const VEHICLE_M = { long: 4.8, halfWide: 0.9, high: 1.8 } as const;
const DETOUR = 1.1;

const distanceM = (p: Spot, q: Spot): number =>
  DETOUR *
  (Math.abs(((p.along - q.along) / 100) * VEHICLE_M.long) +
    Math.abs(((p.across - q.across) / 100) * VEHICLE_M.halfWide) +
    Math.abs(((p.height - q.height) / 100) * VEHICLE_M.high));

/**
 * Studs for a new run of a lost ground, those on the same metal first, then by drop: what stands there already in this state, and what the current would drop over a wire to it. Studs that end straps stay out, as nothing small
 * belongs on them. `at`: the lost ground; `amps`: what hangs on it takes. Throws RangeError for what is not a ground.
 */
export function groundCandidates(harness: Harness, at: string, amps: number, state: VehicleState): readonly GroundCandidate[] {
  const lost = lookupOf(harness).parts.get(at);
  if (lost?.kind !== "ground") throw new RangeError(`${at} is not a ground of this circuit`);
  const { on } = lost;
  const sound = predictAll(harness, state, []);
  const volts = "volts" in sound ? sound.volts : new Map<string, number>();
  const from = whereaboutsOf(harness, at)?.spots[0];
  const most = limitVolts("ground side", "strict", harness.nominalVolts) / 2;
  return groundMap(harness)
    .filter((g) => g.id !== at && !g.strap)
    .map((g): GroundCandidate => {
      const to = whereaboutsOf(harness, g.id)?.spots[0];
      const lengthM = from === undefined || to === undefined ? undefined : Math.max(0.3, Math.round(10 * distanceM(from, to)) / 10);
      const areaMm2 =
        lengthM === undefined ? undefined : WIRE_AREAS_MM2.find((a) => carriesAmps(a) >= amps && amps * pieceOhms(a, lengthM, 2) <= most);
      return {
        id: g.id,
        on: g.on,
        words: [g.words, g.place].filter(Boolean).join(", "),
        lengthM,
        nowVolts: volts.get(onlyPlace(g.id)),
        wireVolts: lengthM === undefined || areaMm2 === undefined ? undefined : amps * pieceOhms(areaMm2, lengthM, 2),
        areaMm2,
        serves: g.serves.map((s) => s.id),
        minutes: g.minutes,
      };
    })
    .sort((p, q) => Number(q.on === on) - Number(p.on === on) || dropOf(p, amps) - dropOf(q, amps));
}

/** What would stand between the end of a new wire and battery negative, by one area for all, V; a stud whose place nobody knows comes last. */
const dropOf = (c: GroundCandidate, amps: number): number =>
  c.lengthM === undefined ? Number.POSITIVE_INFINITY : Math.abs(c.nowVolts ?? 0) + amps * pieceOhms(COMPARED_MM2, c.lengthM, 2);
const COMPARED_MM2 = 2.5;
