/** Limits in volts for a 12 V system; double for 24 V. The computed sound drop always stands beside them. */
export const RULE_SETS = ["strict", "usual", "lenient"] as const;
export type RuleSet = (typeof RULE_SETS)[number];

/** What is judged. "ground side" is the whole way from a load to battery negative. */
export type PathKind = "joint" | "wire" | "ground side" | "engine to negative, cranking" | "positive to starter, cranking";

const TABLE: Record<PathKind, Record<RuleSet, number>> = {
  joint: { strict: 0.05, usual: 0.1, lenient: 0.2 },
  wire: { strict: 0.1, usual: 0.2, lenient: 0.3 },
  "ground side": { strict: 0.1, usual: 0.2, lenient: 0.4 },
  "engine to negative, cranking": { strict: 0.2, usual: 0.3, lenient: 0.5 },
  "positive to starter, cranking": { strict: 0.3, usual: 0.5, lenient: 0.8 },
};

/** Largest drop that the rule set allows, V. */
export function limitVolts(path: PathKind, rules: RuleSet, nominalVolts: number): number {
  return TABLE[path][rules] * (nominalVolts >= 24 ? 2 : 1);
}
