import { stateKey, type VehicleState } from "../circuit/index.ts";
import {
  inWords,
  observableKey,
  resultWords,
  scaled,
  shownBy,
  sigmaOf,
  type Evidence,
  type Observable,
  type Result,
} from "../diagnosis/index.ts";
import type { Harness } from "../harness/index.ts";
import type { JobView } from "./fold.ts";
import { evidenceAfter } from "./question.ts";

/** A test that showed the trouble and is no drop on a path: a lamp, a value, a level, a reading by itself. */
export interface FailedTest {
  readonly observe: Observable;
  readonly state: VehicleState;
  readonly before: string;
  readonly sound: string;
  /** Undefined until it was done again. */
  readonly after: string | undefined;
  readonly isGood: boolean;
}

/** Kinds that have checks of their own (what parts do, codes, modules), or that no circuit tells anything of. */
const ELSEWHERE: readonly Observable["kind"][] = ["part", "code", "answers", "look", "swap", "check"];
/** Standard deviations from which on a value is not as sound. */
const OFF = 3;
/** At most so many are asked for again; the latest count. */
const MOST = 8;

/**
 * Every test before the first repair that was not as on a sound vehicle, beside its latest repetition in the same state. `covered`: states whose drops are judged along their path, where single
 * readings need no repetition of their own.
 */
export function failedTests(harness: Harness, view: JobView, covered: ReadonlySet<string>): readonly FailedTest[] {
  const mends = view.mends.filter((m) => m.struck === undefined).length;
  if (mends === 0) return [];
  const again = new Map(evidenceAfter(view, mends).map((e) => [keyOf(e), e]));
  const before = new Map(
    evidenceAfter(view, 0)
      .filter((e) => !ELSEWHERE.includes(e.observe.kind) && !(isMeter(e.observe) && covered.has(stateKey(e.state))))
      .map((e) => [keyOf(e), e]),
  );
  return [...before.values()]
    .flatMap((e): FailedTest[] => {
      const sound = shown(harness, e);
      if (sound === undefined || isAs(e.observe, e.result, sound)) return [];
      const now = again.get(keyOf(e))?.result;
      const said = (r: Result): string => inWords(resultWords(e.observe, r));
      return [
        {
          observe: e.observe,
          state: e.state,
          before: said(e.result),
          sound: said(sound),
          after: now === undefined ? undefined : said(now),
          isGood: now !== undefined && isAs(e.observe, now, sound),
        },
      ];
    })
    .slice(-MOST);
}

const isMeter = (o: Observable): boolean => o.kind === "volts" || o.kind === "ohms" || o.kind === "amps";
const keyOf = ({ observe, state }: Pick<Evidence, "observe" | "state">): string => `${observableKey(observe)} ${stateKey(state)}`;

const known = new WeakMap<Harness, Map<string, Result | undefined>>();

/** What a sound vehicle shows; undefined where the circuit has changed since and holds the place no more. Solved once for each test. */
function shown(harness: Harness, test: Evidence): Result | undefined {
  const ofHarness = known.get(harness) ?? new Map<string, Result | undefined>();
  known.set(harness, ofHarness);
  const key = keyOf(test);
  if (!ofHarness.has(key)) ofHarness.set(key, solved(harness, test));
  return ofHarness.get(key);
}

function solved(harness: Harness, { observe, state }: Evidence): Result | undefined {
  try {
    return shownBy(harness, { observe, state }, []);
  } catch (error) {
    if (error instanceof RangeError) return undefined;
    throw error;
  }
}

/** Whether a result is as sound: the same word, or a value within three standard deviations; the same rule before and after. */
function isAs(o: Observable, result: Result, sound: Result): boolean {
  if (result.kind !== "value" || sound.kind !== "value")
    return result.kind === sound.kind && (result.kind !== "word" || result.word === (sound as typeof result).word);
  return Math.abs(scaled(o, result.value) - scaled(o, sound.value)) <= OFF * sigmaOf(o, sound.value);
}
