import { REST_STATE, stateKey } from "../../circuit/index.ts";
import type { SupposedFault } from "../../faults/index.ts";
import type { Harness } from "../../harness/index.ts";
import { observableKey, type Evidence } from "../evidence/evidence.ts";
import { isScale } from "../evidence/kind.ts";
import { kindOf, type Observable } from "../evidence/kinds/index.ts";
import { scaled, sigmaOf, wordShares } from "../evidence/likelihood.ts";
import type { Predicted } from "../evidence/predicted.ts";
import { hypothesisSpaceOf, isSmall, type HypothesisSpace } from "../hypotheses/space.ts";
import { createOracle, type Oracle } from "./oracle.ts";

/** A fault counts when it moves what is measured by more than so many standard deviations, or the share of a word by more than this. */
const MOVED_SIGMAS = 1;
const MOVED_SHARE = 0.1;
/** A reading is off that is so many standard deviations from what a sound vehicle shows, and a word that one gives less often than this. */
const OFF_SIGMAS = 3;
const OFF_SHARE = 0.1;

const whole = new WeakMap<Harness, Oracle>();

/** Everything that may be wrong with a vehicle and what it all shows; undefined where there is too much of it. */
export function wholeOracle(harness: Harness): Oracle | undefined {
  const known = whole.get(harness);
  if (known !== undefined && !known.isFull()) return known;
  if (!isSmall(harness)) return undefined;
  const made = createOracle(spaceOfAll(harness));
  made.solveAllDeferred();
  whole.set(harness, made);
  return made;
}

const spaces = new WeakMap<Harness, HypothesisSpace>();
function spaceOfAll(harness: Harness): HypothesisSpace {
  const made = spaces.get(harness) ?? hypothesisSpaceOf(harness, [], REST_STATE);
  spaces.set(harness, made);
  return made;
}

const moving = new WeakMap<object, Map<string, ReadonlySet<string>>>();

/**
 * Names of all faults of the catalogue that can move what was observed by more than its noise, whatever they do to a complaint. On a circuit that is not small only what stands
 * at the observation itself is computed, and what would have to be solved in full, wires that may touch, and what needs more of the circuit (a bus, a monitor) is left out.
 */
export function faultsMoving(harness: Harness, e: Evidence): ReadonlySet<string> {
  const all = wholeOracle(harness);
  if (all === undefined)
    return movedIn(createOracle(spaceOfAll(harness), kindOf(e.observe).needs(e.observe), "only these", levelsOf(e)), e);
  const known = moving.get(all.computed) ?? new Map<string, ReadonlySet<string>>();
  moving.set(all.computed, known);
  const key = `${stateKey(e.state)} ${e.state.temperatureC} ${observableKey(e.observe)} ${"inputOhms" in e.observe ? (e.observe.inputOhms ?? "") : ""}`;
  const found = known.get(key) ?? movedIn(all, e);
  known.set(key, found);
  return found;
}

function movedIn(oracle: Oracle, e: Evidence): ReadonlySet<string> {
  const sound = oracle.predict(e, undefined);
  const found = new Set<string>();
  for (const h of oracle.space.hypotheses)
    if (!found.has(h.fault.id) && isMoved(e.observe, sound, oracle.predict(e, h))) found.add(h.fault.id);
  return found;
}

/** What a fault makes of an observation. */
export interface Move {
  /** By more than its noise. */
  readonly isMoved: boolean;
  readonly shown: Predicted;
}

/** What one of these faults makes of an observation, one that moves it where any does; undefined where none of them can be told. */
export function movesOf(harness: Harness, e: Evidence, faults: readonly SupposedFault[]): Move | undefined {
  const names = new Set(faults.map((f) => f.id));
  const oracle = wholeOracle(harness) ?? createOracle(spaceOfAll(harness), kindOf(e.observe).needs(e.observe), "only these", levelsOf(e));
  const sound = oracle.predict(e, undefined);
  const told = oracle.space.hypotheses
    .filter((h) => names.has(h.fault.id))
    .map((h): Move => {
      const shown = oracle.predict(e, h);
      return { isMoved: isMoved(e.observe, sound, shown), shown };
    });
  return told.find((m) => m.isMoved) ?? told[0];
}

const levelsOf = ({ observe }: Evidence): readonly string[] => kindOf(observe).levels?.(observe) ?? [];

function isMoved(o: Observable, sound: Predicted, now: Predicted): boolean {
  if ((now.isMute ?? false) !== (sound.isMute ?? false)) return true;
  if (Number.isNaN(sound.value) || Number.isNaN(now.value)) return false;
  if ((now.oscillating ?? false) !== (sound.oscillating ?? false)) return true;
  if (isScale(kindOf(o).read)) return apart(o, now.value, sound.value) > MOVED_SIGMAS;
  const [before, after] = [wordShares(o, sound), wordShares(o, now)];
  return Object.keys(after).some((word) => Math.abs(after[word]! - before[word]!) > MOVED_SHARE);
}

/** Standard deviations of a reading between two values; without end where only one is beyond what the meter can show. */
function apart(o: Observable, value: number, from: number): number {
  const [now, then] = [scaled(o, value), scaled(o, from)];
  const off = Math.abs(now - then) / sigmaOf(o, from);
  return Number.isFinite(off) ? off : Number.isFinite(now) === Number.isFinite(then) ? 0 : Infinity;
}

/** Whether what was observed is not what the sound vehicle shows. */
export function isOff(oracle: Oracle, { state, observe, result }: Evidence): boolean {
  const sound = oracle.predict({ state, observe }, undefined);
  if (sound.isMute === true) return result.kind !== "over";
  if (Number.isNaN(sound.value)) return false;
  // A number that stands where a sound vehicle lets none stand: ohms between points that are live on it.
  if (sound.oscillating === true && (result.kind === "value" || result.kind === "over")) return true;
  switch (result.kind) {
    case "value":
      return apart(observe, result.value, sound.value) > OFF_SIGMAS;
    case "over":
      return apart(observe, Infinity, sound.value) > OFF_SIGMAS;
    case "swings":
      return sound.oscillating !== true;
    case "word":
      return (wordShares(observe, sound)[result.word] ?? 1) < OFF_SHARE;
  }
}
