export type { PathKind, RuleSet } from "./rule-sets.ts";
export { limitVolts, RULE_SETS } from "./rule-sets.ts";
