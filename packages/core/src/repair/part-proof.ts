import type { CaseAnswer, Evidence } from "../diagnosis/index.ts";
import { handsAt, observableWords, resultWords } from "../diagnosis/index.ts";
import { deviceOf, endsOfNet, lookupOf, netAt, partNameIn, type Harness } from "../harness/index.ts";

/** What has to be shown at a part before it is bought. */
export const PROOFS = ["feed", "ground", "command"] as const;
export type ProofOf = (typeof PROOFS)[number];

export interface PartProof {
  /** Nothing is missing: the part may be replaced. */
  readonly isAllowed: boolean;
  readonly proofs: readonly { readonly what: ProofOf; readonly isShown: boolean; readonly missing: string }[];
  /** What else is missing: belief, a look, a second reading. */
  readonly others: readonly string[];
  /** Findings at the part's own pins and their nets, the latest last. */
  readonly readings: readonly { readonly id: string; readonly words: string }[];
  /** Chance that it is not the part, 0 to 1, and what that costs. */
  readonly wrong: { readonly chance: number; readonly minutes: number; readonly instead: string | null };
  readonly comesWith: readonly string[];
}

/**
 * Whether a part may be replaced: the engine's rule, with its three proofs and what was found at the part. A part that is not what the findings point at is not proven at all.
 * `answer`: of everything that was found; undefined while nothing was. `evidence`: what was found.
 */
export function partProof(harness: Harness, part: string, answer: CaseAnswer | undefined, evidence: readonly Evidence[]): PartProof {
  const enough = answer?.enoughToAct;
  const own = answer?.suspects.find((s) => partNameIn(s.element) === part);
  const isMeant = enough?.element !== undefined && enough.element !== null && partNameIn(enough.element) === part;
  const missing = isMeant ? enough.missing : [];
  const isKnown = (what: ProofOf): boolean => isMeant && !missing.some((m) => m.what === what);
  const chance = isMeant ? (enough.ifWrong?.chance ?? 1 - enough.probability) : 1 - (own?.probability ?? 0);
  return {
    isAllowed: isMeant && enough.yes,
    proofs: PROOFS.map((what) => ({
      what,
      isShown: isKnown(what),
      missing: isKnown(what) ? "" : (missing.find((m) => m.what === what)?.words ?? `${what} at ${part} not measured under load`),
    })),
    others: isMeant
      ? missing.filter((m) => !PROOFS.some((p) => p === m.what)).map((m) => m.words)
      : [
          own === undefined
            ? `no finding points at ${part}`
            : `${part} is ${Math.round(100 * own.probability)} % likely; ${enough?.element ?? "nothing"} stands before it`,
        ],
    readings: findingsAt(harness, part, evidence),
    wrong: {
      chance,
      minutes: isMeant ? (enough.ifWrong?.minutes ?? 0) : 0,
      instead: isMeant ? (enough.ifWrong?.instead ?? null) : (answer?.suspects[0]?.element ?? null),
    },
    comesWith: comesWith(harness, part),
  };
}

/** Findings whose leads or hands were on the part, or on copper that ends at it. */
function findingsAt(harness: Harness, part: string, evidence: readonly Evidence[]): PartProof["readings"] {
  const nets = new Set(
    harness.wires
      .filter((w) => w.from.component === part || w.to.component === part)
      .flatMap((w) => {
        const net = netAt(harness, `${w.from.component}.${w.from.pin}`) ?? netAt(harness, `${w.to.component}.${w.to.pin}`);
        return net === undefined || !endsOfNet(harness, net).some((e) => partNameIn(e) === part) ? [] : [net.index];
      }),
  );
  return evidence
    .filter(
      (e) =>
        (e.observe.kind === "part" && e.observe.part === part) ||
        handsAt(e.observe).some((p) => {
          const net = netAt(harness, p);
          return partNameIn(p) === part || (net !== undefined && nets.has(net.index));
        }),
    )
    .map((e) => ({ id: e.id, words: `${observableWords(harness, e.observe)}: ${resultWords(e.observe, e.result)}` }));
}

/** What comes with a new one, by its kind. The manufacturer's procedure says whether and how. */
const WITH: Readonly<Record<string, string>> = {
  module: "coding and adaptation as the manufacturer states; read its settings before it goes",
  alternator: "belt and tensioner looked at; one on a bus may want coding",
  battery: "registered with the vehicle where it manages charging",
  starter: "ring gear and engine strap looked at",
  injector: "its correction code entered",
  pot: "end stops learned anew",
  ignition: "plug and its well looked at",
};

/** What comes with a new part: coding, adaptation, and its twin, of which both or one are replaced. */
export function comesWith(harness: Harness, id: string): readonly string[] {
  const part = lookupOf(harness).parts.get(id);
  if (part === undefined) return [];
  const kind = part.kind === "device" ? part.device : part.kind;
  const own = WITH[kind];
  const twins = harness.components.filter(
    (c) => c.id !== id && c.kind === part.kind && (c.kind !== "device" || c.device === kind) && areTwins(part.label, c.label),
  );
  const sensors = part.kind === "device" && deviceOf(part).device.family === "sensor";
  return [
    ...(own === undefined ? [] : [own]),
    ...(twins.length === 0
      ? []
      : [
          `${twins.map((t) => t.id).join(", ")} is of the same kind and age: replace ${sensors ? "both or one" : "both sides or one"}, and say why`,
        ]),
  ];
}

const SIDES = /\b(left|right|front|rear|upper|lower|inner|outer|one|two|\d+)\b/gi;
/** "stop light, left" and "stop light, right". */
const areTwins = (p: string | undefined, q: string | undefined): boolean =>
  p !== undefined && q !== undefined && p !== q && p.replace(SIDES, "").trim() === q.replace(SIDES, "").trim();
