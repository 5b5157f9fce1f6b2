import type { VehicleState } from "../circuit/index.ts";
import { likelihood, testKey, type Evidence, type Oracle, type Test } from "../diagnosis/index.ts";
import { batteryNegative, lookupOf, partOfLink, partOfPlace, walksOf, type Harness, type Hop } from "../harness/index.ts";

/** How a technician without the tool goes about it: the next test by a rule, from what was found so far; undefined when the rule has nothing more to say. */
export type Strategy = (
  harness: Harness,
  focus: readonly string[],
  state: VehicleState,
  evidence: readonly Evidence[],
  oracle: Oracle,
) => Test | undefined;

function wayOf(harness: Harness, focus: readonly string[]): { readonly feed: readonly Hop[]; readonly ground: readonly Hop[] } | undefined {
  const own = walksOf(harness).find((w) => focus.includes(w.load.id) || focus.includes(partOfLink(harness, w.load)?.id ?? ""));
  return own;
}

/** Places along the way of the part in question where a lead can go, from battery positive to negative. */
function placesOf(harness: Harness, focus: readonly string[]): readonly string[] {
  const way = wayOf(harness, focus);
  if (way === undefined) return [];
  const all = [...way.feed.map((h) => h.to), ...way.ground.map((h) => h.from)];
  return [...new Set(all)].filter((p) => partOfPlace(harness, p) !== undefined);
}

const volts = (harness: Harness, state: VehicleState, red: string): Test => ({
  state,
  observe: { kind: "volts", red, black: batteryNegative(harness) },
});
const isDone = (evidence: readonly Evidence[], test: Test): boolean => evidence.some((e) => testKey(e) === testKey(test));

/** Whether a reading is what a sound vehicle shows. */
const isSound = (oracle: Oracle, e: Evidence): boolean => likelihood(e.observe, e.result, oracle.predict(e, undefined)) > 1;

/** Halves the way between the last good and the first bad reading. */
export const halfSplit: Strategy = (harness, focus, state, evidence, oracle) => {
  const places = placesOf(harness, focus);
  let [good, bad] = [-1, places.length];
  for (const e of evidence) {
    if (e.observe.kind !== "volts") continue;
    const at = places.indexOf(e.observe.red);
    if (at < 0) continue;
    if (isSound(oracle, e)) good = Math.max(good, at);
    else bad = Math.min(bad, at);
  }
  if (bad <= good) bad = places.length;
  for (let at = Math.floor((good + bad) / 2); at > good && at < bad; at++) {
    const test = volts(harness, state, places[at]!);
    if (!isDone(evidence, test)) return test;
  }
  return undefined;
};

/** Battery, fuses on both sides, power and ground at the load, then along the wire. */
export const fixedOrder: Strategy = (harness, focus, state, evidence) => {
  const places = placesOf(harness, focus);
  const isFuse = (p: string): boolean => lookupOf(harness).parts.get(p.split(".")[0]!)?.kind === "fuse";
  const way = wayOf(harness, focus);
  const load = way === undefined ? [] : [way.feed.at(-1)?.to, way.ground[0]?.from].filter((p) => p !== undefined);
  const order = [...places.filter(isFuse).flatMap((p) => [`${p.split(".")[0]!}.1`, `${p.split(".")[0]!}.2`]), ...load, ...places];
  return order.map((p) => volts(harness, state, p)).find((t) => !isDone(evidence, t));
};
