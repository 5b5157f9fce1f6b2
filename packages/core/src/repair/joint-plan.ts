import {
  endsOfNet,
  fuseMap,
  lookupOf,
  netAt,
  partNameIn,
  placeOf,
  roleOfPlace,
  walksOf,
  type Harness,
  type Wire,
} from "../harness/index.ts";
import { limitVolts, type RuleSet } from "../limits/index.ts";
import { damagePlaces } from "./damage.ts";
import { busPairOf } from "./neighbours.ts";
import { areaFor, awgFor, carriesAmps, pieceOhms } from "./wire-size.ts";

export const JOINT_METHODS = ["crimp and seal", "solder and shrink", "solder sleeve", "terminal renewed"] as const;
export type JointMethod = (typeof JOINT_METHODS)[number];

/** A way of joining, and why it is not allowed here; empty where it is. */
export interface JointChoice {
  readonly method: JointMethod;
  readonly not: readonly string[];
  /** What to keep to. */
  readonly how: readonly string[];
}

/** A from which heat in a joint matters: a solder sleeve melts at 138 °C. */
const HIGH_CURRENT_AMPS = 15;
/** mm² from which a wire is stiff enough to break at the edge of the solder. */
const THICK_MM2 = 6;
/** Length of a bus pair that may lie untwisted, mm. */
export const UNTWISTED_MM = 50;
/** Between the joints of wires that lie side by side, mm. */
export const STAGGER_MM = 40;
/** Slack that a new piece leaves, mm. */
export const SLACK_MM = 20;

/** Whether a wire belongs to a restraint circuit: it ends at an igniter, or on a net with one. */
export function isRestraint(harness: Harness, wire: Wire): boolean {
  const net = netAt(harness, placeOf(harness, wire.from));
  const ends = net === undefined ? [] : endsOfNet(harness, net);
  return ends.some((e) => roleOfPlace(harness, e) === "untouchable");
}

/** Insulation that comes off for a joint, mm: a butt crimp takes half its barrel, a soldered joint an overlap. By area and method; the connector's manufacturer states it for a terminal. */
export const stripMm = (areaMm2: number, method: JointMethod): number => {
  const barrel = areaMm2 <= 1 ? 7 : areaMm2 <= 2.5 ? 8 : areaMm2 <= 6 ? 9 : 12;
  switch (method) {
    case "crimp and seal":
      return barrel;
    case "solder and shrink":
      return 2 * barrel;
    case "solder sleeve":
      return barrel + 1;
    case "terminal renewed":
      return barrel - 2;
  }
};

/** Ways of joining a wire, the first allowed one first, with where each is not allowed and what to keep to. `amps`: what it carries; `segment`: where the joint lies. */
export function jointChoices(harness: Harness, wire: Wire, amps: number, segment?: string): readonly JointChoice[] {
  const exposure = new Set(
    damagePlaces(harness, wire.id)
      .filter((p) => segment === undefined || p.segment === segment)
      .flatMap((p) => p.exposure),
  );
  const restraint = isRestraint(harness, wire);
  const bus = busPairOf(harness, wire) !== undefined;
  const choices = JOINT_METHODS.map((method): JointChoice => {
    const not = [
      ...(restraint ? ["restraint circuit: replace the loom section as the manufacturer states"] : []),
      ...(method === "solder sleeve" && amps >= HIGH_CURRENT_AMPS
        ? [`${amps.toFixed(0)} A: the sleeve's solder melts when the joint gets hot`]
        : []),
      ...(method === "solder sleeve" && exposure.has("heat") ? ["hot place: the sleeve's solder melts at 138 °C"] : []),
      ...(method === "solder and shrink" && exposure.has("flex")
        ? ["bends with every opening: the wire breaks where the solder ends"]
        : []),
      ...(method === "solder and shrink" && exposure.has("vibration") && wire.areaMm2 >= THICK_MM2
        ? ["thick wire that shakes: it breaks where the solder ends"]
        : []),
    ];
    const how = [
      `strip ${stripMm(wire.areaMm2, method)} mm`,
      ...(method === "terminal renewed"
        ? ["terminal and seal of this connector, its own crimp tool, pull test"]
        : ["pull test before it is sealed"]),
      ...(bus ? [`keep the twist: at most ${UNTWISTED_MM} mm untwisted, both lines to the same length`] : []),
      ...(exposure.has("water") && method !== "terminal renewed" ? ["adhesive-lined shrink, its glue seen at both ends"] : []),
    ];
    return { method, not, how };
  });
  return [...choices.filter((c) => c.not.length === 0), ...choices.filter((c) => c.not.length > 0)];
}

/** A new piece of wire beside the old one. Ohms, V, A, mm² and m as named. */
export interface PieceChecked {
  readonly ohms: number;
  readonly dropVolts: number;
  readonly oldOhms: number;
  readonly oldDropVolts: number;
  readonly limitVolts: number;
  readonly awg: string | undefined;
  /** What it carries for good, an estimate. */
  readonly carriesAmps: number;
  /** What is wrong with it, worst first; empty where nothing is. */
  readonly problems: readonly string[];
}

export interface PieceQuestion {
  readonly harness: Harness;
  readonly wire: Wire;
  /** Of the new piece. */
  readonly areaMm2: number;
  readonly lengthM: number;
  readonly joints: number;
  /** What the wire carries. */
  readonly amps: number;
  readonly rules: RuleSet;
}

/**
 * What a new piece of wire does to the circuit: its resistance and drop beside the old one's and beside the rule set, whether it carries the fuse in front of it, and its AWG size.
 * Throws RangeError for an area, length or current that cannot be.
 */
export function checkPiece({ harness, wire, areaMm2, lengthM, joints, amps, rules }: PieceQuestion): PieceChecked {
  if (!(amps >= 0) || !Number.isFinite(amps)) throw new RangeError(`current must be 0 A or more: ${amps} A`);
  const ohms = pieceOhms(areaMm2, lengthM, joints);
  const oldOhms = pieceOhms(wire.areaMm2, wire.lengthM, 0);
  const most = limitVolts("wire", rules, harness.nominalVolts);
  const fuse = fuseBefore(harness, wire);
  const carries = carriesAmps(areaMm2);
  const enough = fuse === undefined ? undefined : areaFor(fuse.ratingAmps);
  return {
    ohms,
    dropVolts: ohms * amps,
    oldOhms,
    oldDropVolts: oldOhms * amps,
    limitVolts: most,
    awg: awgFor(areaMm2),
    carriesAmps: carries,
    problems: [
      ...(areaMm2 < wire.areaMm2 ? [`thinner than drawn: ${areaMm2} mm² instead of ${wire.areaMm2} mm²`] : []),
      ...(amps * ohms > most ? [`drops ${(amps * ohms).toFixed(2)} V at ${amps.toFixed(1)} A, more than ${most.toFixed(2)} V`] : []),
      ...(fuse !== undefined && areaMm2 < wire.areaMm2 && carries < fuse.ratingAmps
        ? [`${fuse.id} (${fuse.ratingAmps} A) does not protect it${enough === undefined ? "" : `: take ${enough} mm²`}`]
        : []),
    ],
  };
}

/** The fuse nearest in front of a wire, on the way of any load that it feeds; undefined for ground and signal wires. */
export function fuseBefore(harness: Harness, wire: Wire): { readonly id: string; readonly ratingAmps: number } | undefined {
  for (const { feed } of walksOf(harness)) {
    const at = feed.findIndex((h) => h.link.id === wire.id);
    if (at < 0) continue;
    for (const { link } of feed.slice(0, at).reverse()) {
      const part = lookupOf(harness).parts.get(partNameIn(link.id));
      if (link.kind === "fuse" && part?.kind === "fuse") return { id: part.id, ratingAmps: part.ratingAmps };
    }
  }
  return undefined;
}

export type FuseChecked =
  | { readonly kind: "as drawn" }
  | { readonly kind: "larger" | "smaller"; readonly words: string }
  /** Not a fuse of this circuit. */
  | { readonly kind: "unknown" };

/** A fuse that was found fitted, beside the one that is drawn and the loads behind it. Never larger than drawn. */
export function checkFuse(harness: Harness, id: string, fittedAmps: number): FuseChecked {
  const part = lookupOf(harness).parts.get(id);
  if (part?.kind !== "fuse") return { kind: "unknown" };
  if (fittedAmps === part.ratingAmps) return { kind: "as drawn" };
  if (fittedAmps > part.ratingAmps)
    return {
      kind: "larger",
      words: `${id}: ${fittedAmps} A fitted, ${part.ratingAmps} A drawn. The wires behind it are not protected: fit ${part.ratingAmps} A, and find out why somebody fitted a larger one.`,
    };
  const load = fuseMap(harness).find((f) => f.id === id)?.loadAmps ?? 0;
  return {
    kind: "smaller",
    words: `${id}: ${fittedAmps} A fitted, ${part.ratingAmps} A drawn.${load > fittedAmps ? ` The loads behind it take ${load.toFixed(1)} A together: it will blow.` : ""} Fit ${part.ratingAmps} A.`,
  };
}
