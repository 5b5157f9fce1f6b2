import { stateKey } from "../../circuit/index.ts";
import { lastUsed } from "../../quantity/index.ts";
import type { Evidence } from "../evidence/evidence.ts";
import type { Predicted } from "../evidence/predicted.ts";
import type { Oracle } from "../predict/oracle.ts";

/** What was computed of how well hypotheses fit one piece of evidence. */
export interface FitsKnown {
  /** Likelihoods by three times the index of a hypothesis, plus how its neighbouring severities count. */
  readonly ratios: Map<number, number>;
  /** Predictions of refined hypotheses, by index. */
  readonly refined: Map<number, Predicted>;
  /** Logarithms of likelihoods on the way between severities that were solved, by what was solved and how sure it is that the trouble was there. */
  readonly between: Map<string, Float64Array>;
}

/** By what was computed, and by what was found: the same reading is the same in whatever question it stands. */
const byComputed = new WeakMap<object, Map<string, FitsKnown>>();
/** Evidence of which this is kept at a time. */
const MOST_KEPT = 80;
const keys = new WeakMap<Evidence, string>();

/** What is known of the fits of a piece of evidence, to be read and added to. */
export function fitsKnown(oracle: Oracle, e: Evidence): FitsKnown {
  const known = byComputed.get(oracle.computed) ?? new Map<string, FitsKnown>();
  byComputed.set(oracle.computed, known);
  const key = keys.get(e) ?? `${stateKey(e.state)} ${JSON.stringify([e.state.temperatureC, e.observe, e.result, e.source])}`;
  keys.set(e, key);
  return lastUsed(known, key, MOST_KEPT, () => ({ ratios: new Map(), refined: new Map(), between: new Map() }));
}
