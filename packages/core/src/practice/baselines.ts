import type { VehicleState } from "../circuit/index.ts";
import { lampFor, likelihood, testKey, type Evidence, type Oracle, type Test } from "../diagnosis/index.ts";
import { batteryNegative, type Harness, type Hop, lookupOf, partNameIn, partOfLink, partOfPlace, walksOf } from "../harness/index.ts";

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

/**
 * Halves the way between the last good and the first bad reading. A fuse that has opened gets a lamp in its place, and the plugs behind it are pulled in halves until the lamp goes out. What is
 * left between is looked at piece by piece.
 */
export const halfSplit: Strategy = (harness, focus, state, evidence, oracle) => {
  const way = wayOf(harness, focus);
  const places = placesOf(harness, focus);
  if (way === undefined) return undefined;
  let [good, bad] = [-1, places.length];
  for (const e of evidence) {
    if (e.observe.kind !== "volts" || e.state.opened.length > state.opened.length) continue;
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
  if (bad === places.length) return undefined;
  const hops = [...way.feed, ...way.ground];
  const between = hops.slice(
    good < 0 ? 0 : hops.findIndex((h) => h.to === places[good] || h.from === places[good]),
    hopTo(hops, places[bad]!) + 1,
  );
  const fuse = between.find((h) => h.link.kind === "fuse");
  return fuse === undefined ? lookedAt(between, state, evidence) : behindFuse(fuse, way.feed, state, evidence);
};

const hopTo = (hops: readonly Hop[], place: string): number => hops.findIndex((h) => h.to === place || h.from === place);

/** Each piece of a stretch, one after the other. */
function lookedAt(stretch: readonly Hop[], state: VehicleState, evidence: readonly Evidence[]): Test | undefined {
  return stretch.map(({ link }): Test => ({ state, observe: { kind: "look", at: link.id } })).find((t) => !isDone(evidence, t));
}

/** A lamp in place of a fuse, and what is behind it unplugged in halves along the way. */
function behindFuse(fuse: Hop, feed: readonly Hop[], state: VehicleState, evidence: readonly Evidence[]): Test | undefined {
  const behind = feed.slice(feed.indexOf(fuse) + 1);
  const plugs = [...new Set(behind.flatMap((h) => (h.link.kind === "cavity" ? [partNameIn(h.link.id)] : [])))];
  const lit = (plug: string | undefined): { readonly test: Test; readonly bright: boolean | undefined } => {
    const test = lampFor(plug === undefined ? state : { ...state, opened: [...new Set([...state.opened, plug])].sort() }, fuse.link.id);
    const found = evidence.find((e) => testKey(e) === testKey(test));
    return { test, bright: found === undefined ? undefined : found.result.kind === "word" && found.result.word === "bright" };
  };
  const whole = lit(undefined);
  if (whole.bright === undefined) return whole.test;
  if (!whole.bright) return lookedAt([fuse], state, evidence);
  let [near, far] = [0, plugs.length];
  while (near < far) {
    const middle = Math.floor((near + far) / 2);
    const { test, bright } = lit(plugs[middle]!);
    if (bright === undefined) return test;
    if (bright) far = middle;
    else near = middle + 1;
  }
  // It lies before the first plug with which the lamp stays lit, and behind the last that puts it out.
  const at = (plug: string | undefined, otherwise: number): number =>
    plug === undefined ? otherwise : behind.findIndex((h) => h.link.id.startsWith(`${plug}.`));
  return lookedAt(behind.slice(at(plugs[far - 1], 0), at(plugs[far], behind.length)), state, evidence);
}

/** Battery, fuses on both sides, power and ground at the load, then along the wire. */
export const fixedOrder: Strategy = (harness, focus, state, evidence) => {
  const places = placesOf(harness, focus);
  const isFuse = (p: string): boolean => lookupOf(harness).parts.get(partNameIn(p))?.kind === "fuse";
  const way = wayOf(harness, focus);
  const load = way === undefined ? [] : [way.feed.at(-1)?.to, way.ground[0]?.from].filter((p) => p !== undefined);
  const order = [...places.filter(isFuse).flatMap((p) => [`${partNameIn(p)}.1`, `${partNameIn(p)}.2`]), ...load, ...places];
  return order.map((p) => volts(harness, state, p)).find((t) => !isDone(evidence, t));
};
