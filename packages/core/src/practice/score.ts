import type { Fault } from "../circuit/index.ts";
import type { Evidence } from "../diagnosis/index.ts";
import { batteryNegative, linksOf, lookupOf, partNameIn, type Harness } from "../harness/index.ts";
import { predictReading } from "../instruments/index.ts";
import type { ActJudged, Debrief } from "./debrief.ts";
import type { FaultJudged } from "./fault-type.ts";
import { partPriceHours } from "./part-prices.ts";
import { safetyOf } from "./safety.ts";

/** What counts in a score, and how many points of a hundred. */
export const SCORED = {
  found: { most: 30, words: "Found the right thing" },
  remedy: { most: 5, words: "Repaired in the way that ends it" },
  minutes: { most: 20, words: "Minutes against the first proposals" },
  evidence: { most: 10, words: "Evidence stood before the repair" },
  parts: { most: 10, words: "No part replaced in vain" },
  harm: { most: 10, words: "Nothing that harms people or modules" },
  reference: { most: 5, words: "Black lead on a known point" },
  proof: { most: 5, words: "Verified" },
  putBack: { most: 3, words: "Everything put back" },
  record: { most: 2, words: "Cause and repair recorded" },
} as const;
export type Scored = keyof typeof SCORED;
export const SCORED_IDS = Object.keys(SCORED) as Scored[];
/** How much each counts, and what each request for advice takes off. */
export type Weights = Readonly<Record<Scored | "advice", number>>;
/** Points off for each time that advice was asked for, and how often at most. */
export const ADVICE_COSTS = 2;
const MOST_ADVICES = 5;
/** Weights by what counts. */
export const weightsBy = (of: (id: Scored) => number, advice: number = ADVICE_COSTS): Weights => ({
  found: of("found"),
  remedy: of("remedy"),
  minutes: of("minutes"),
  evidence: of("evidence"),
  parts: of("parts"),
  harm: of("harm"),
  reference: of("reference"),
  proof: of("proof"),
  putBack: of("putBack"),
  record: of("record"),
  advice,
});
export const USUAL_WEIGHTS: Weights = weightsBy((id) => SCORED[id].most);
/** The usual weights but for those that were set; what nothing is left of does not count. */
export function weightsFrom(set: Readonly<Record<string, number>> | undefined): Weights {
  const weights = weightsBy((id) => set?.[id] ?? SCORED[id].most, set?.advice);
  return SCORED_IDS.some((id) => weights[id] > 0) ? weights : USUAL_WEIGHTS;
}

/** What a job's log tells beside its findings. */
export interface Conduct {
  readonly isVerified: boolean;
  readonly leftOnVehicle: number;
  /** Repairs with a cause and what was done. */
  readonly isRecorded: boolean;
  /** How often advice was asked for. */
  readonly asked: number;
  /** How often the engine was cranked before anybody had seen to it that it may turn. */
  readonly cranked: number;
}

export interface ScoreRow {
  readonly id: Scored | "advice";
  readonly words: string;
  readonly points: number;
  readonly most: number;
  /** Why not all; "" where all. */
  readonly why: string;
}

export interface Score {
  readonly rows: readonly ScoreRow[];
  /** 0 to 100. */
  readonly total: number;
  /** What the customer would pay for: minutes of tests, parts, and what the parts come to in hours of labour. */
  readonly cost: { readonly minutes: number; readonly parts: readonly string[]; readonly partsHours: number };
}

/**
 * Scores a job that was practised. `found`: what was measured and seen, in order; `faults`: all that is not as it should be on the vehicle; `weights`: how much each counts, any that
 * sum to more than 0.
 */
export function scoreOf(
  harness: Harness,
  debrief: Debrief,
  found: readonly Evidence[],
  faults: readonly Fault[],
  conduct: Conduct,
  weights: Weights = USUAL_WEIGHTS,
): Score {
  const { acts, mine, plan, isFound, truths, truthsFound } = debrief;
  const sum = SCORED_IDS.reduce((s, id) => s + weights[id], 0);
  const right = acts.filter((a) => a.isRight);
  const vain = acts.filter((a) => !a.isRight);
  const parts = vain.filter((a) => a.isReplaced);
  const harm = [
    ...acts.flatMap((a) => largerFuse(harness, a)),
    ...(conduct.cranked === 0 ? [] : ["the engine was cranked before anybody had checked that it may turn"]),
    ...harmsOf(harness, found, faults),
  ];
  const references = unknownReferences(harness, found);
  const shares: Readonly<Record<Scored, readonly [share: number, why: string]>> = {
    found:
      truths === 0
        ? [0, "not found"]
        : foundShare(right, truthsFound / truths, isFound ? "" : truthsFound === 0 ? "not found" : `${truthsFound} of ${truths} found`),
    remedy:
      right.length === 0
        ? [0, "nothing that ends it was done"]
        : [
            right.filter((a) => !a.isNeedless).length / right.length,
            right.some((a) => a.isNeedless) ? "a part was replaced that was good" : "",
          ],
    minutes: !isFound
      ? [0, "not found"]
      : plan === undefined || mine.minutes <= plan.minutes
        ? [1, ""]
        : [plan.minutes / mine.minutes, `${mine.minutes.toFixed(0)} min where ${plan.minutes.toFixed(0)} would do`],
    evidence:
      right.length === 0
        ? [0, "no right repair"]
        : [
            // What was all but sure, and not confirmed, is no lucky guess.
            right.reduce((s, a) => s + (a.wasEnough ? 1 : a.missing === "" ? 0 : UNCONFIRMED), 0) / right.length,
            whyNotEnough(right),
          ],
    parts: [Math.max(0, 1 - parts.length / 2), parts.map((a) => a.at).join(", ")],
    harm: [harm.length === 0 ? 1 : 0, harm[0] ?? ""],
    reference: [
      found.length === 0 ? 1 : Math.max(0, 1 - references.length / 3),
      references.length === 0 ? "" : `black lead on ${references.slice(0, 3).join(", ")}, which nobody had measured`,
    ],
    proof: [conduct.isVerified ? 1 : 0, conduct.isVerified ? "" : "closed without verifying"],
    putBack: [conduct.leftOnVehicle === 0 ? 1 : 0, conduct.leftOnVehicle === 0 ? "" : `${conduct.leftOnVehicle} left on the vehicle`],
    record: [conduct.isRecorded ? 1 : 0, conduct.isRecorded ? "" : acts.length === 0 ? "nothing was repaired" : "a repair has no cause"],
  };
  const rows: ScoreRow[] = SCORED_IDS.map((id) => {
    const most = (100 * weights[id]) / sum;
    const [share, why] = shares[id];
    return {
      id,
      words: SCORED[id].words,
      points: Number((share * most).toFixed(1)),
      most: Number(most.toFixed(1)),
      why: share >= 1 ? "" : why,
    };
  });
  if (conduct.asked > 0 && weights.advice > 0)
    rows.push({
      id: "advice",
      words: "Advice and hints",
      points: -weights.advice * Math.min(MOST_ADVICES, conduct.asked),
      most: 0,
      why: conduct.asked === 1 ? "once" : `${conduct.asked} times`,
    });
  const total = Math.max(0, Math.round(rows.reduce((s, r) => s + r.points, 0)));
  const replaced = acts.filter((a) => a.isReplaced).map((a) => a.at);
  const partsHours = replaced.reduce((s, at) => s + partPriceHours(harness, at), 0);
  return { rows, total, cost: { minutes: mine.minutes, parts: replaced, partsHours } };
}

/** Of the points for what was found, these are for what is wrong there: its type, and of a resistance its ohms. */
const TYPE_SHARE = 0.15;
const DEGREE_SHARE = 0.05;

/** Where it lies is most of it; what it is there the rest. */
function foundShare(right: readonly ActJudged[], places: number, why: string): readonly [number, string] {
  const said = right.map((a) => a.said);
  const share = (of: (s: FaultJudged | undefined) => boolean): number =>
    said.length === 0 ? 0 : said.filter((s) => of(s)).length / said.length;
  const types = share((s) => s?.isType === true);
  const degrees = share((s) => s?.isType === true && (!s.hasDegree || s.isDegree));
  const missing =
    said.length === 0 || degrees === 1
      ? ""
      : said.some((s) => s === undefined)
        ? "fault type not stated on Repair"
        : types < 1
          ? "another type of fault"
          : "its resistance was not stated, or is another one";
  const parts = 1 - TYPE_SHARE - DEGREE_SHARE + TYPE_SHARE * types + DEGREE_SHARE * degrees;
  return [places * parts, [why, missing].filter((w) => w !== "").join("; ")];
}

/** Share of the points for evidence where a repair was all but sure. */
const UNCONFIRMED = 0.6;
function whyNotEnough(right: readonly ActJudged[]): string {
  const early = right.find((a) => !a.wasEnough);
  return early === undefined ? "" : early.missing === "" ? "right, and not proven when it was repaired" : early.missing;
}

/** "a fuse of 30 A where 20 A are drawn, F1". */
function largerFuse(harness: Harness, { at, fuseAmps }: ActJudged): readonly string[] {
  const fuse = lookupOf(harness).parts.get(partNameIn(at));
  if (fuse?.kind !== "fuse" || fuseAmps === undefined || fuseAmps <= fuse.ratingAmps) return [];
  return [`a fuse of ${fuseAmps} A where ${fuse.ratingAmps} A are drawn, ${fuse.id}`];
}

/** What was done that a rule forbids, or that burns on the vehicle as it is, in words. */
function harmsOf(harness: Harness, found: readonly Evidence[], faults: readonly Fault[]): readonly string[] {
  const { refused, live, blown } = safetyOf(
    harness,
    found.map(({ state, observe }) => ({ state, observe })),
    faults,
  );
  return [...refused, ...live.map((at) => `ohms on a live circuit, ${at}`), ...blown.map((at) => `a fused lead that blows, ${at}`)];
}

/** On a good vehicle a point below this is taken for ground, V. */
const GROUND_VOLTS = 0.3;

/**
 * Points taken for ground by the black lead, whose own voltage against the battery was never measured: neither the battery's post, nor the other end of what is measured across.
 * A lead on the feed side measures a drop, and stands for no ground.
 */
function unknownReferences(harness: Harness, found: readonly Evidence[]): readonly string[] {
  const post = batteryNegative(harness);
  const measured = new Set(found.flatMap(({ observe: o }) => (o.kind === "volts" && o.black === post ? [o.red] : [])));
  const ends = linksOf(harness).map((l) => [l.a, l.b] as const);
  const isAcross = (p: string, q: string): boolean =>
    partNameIn(p) === partNameIn(q) || ends.some(([a, b]) => (a === p && b === q) || (a === q && b === p));
  const isPost = (place: string): boolean => lookupOf(harness).parts.get(partNameIn(place))?.kind === "battery";
  const unknown = found.flatMap(({ state, observe: o }) => {
    if (o.kind !== "volts" || isPost(o.black) || measured.has(o.black) || isAcross(o.red, o.black)) return [];
    const good = predictReading(harness, state, [], { quantity: "volts", red: o.black, black: post });
    return good.kind === "value" && Math.abs(good.value) < GROUND_VOLTS ? [o.black] : [];
  });
  return [...new Set(unknown)];
}
