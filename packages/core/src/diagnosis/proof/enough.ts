import { describeState, stateKey, withoutChanges, type VehicleState } from "../../circuit/index.ts";
import { dragsItsNet, isChafed } from "../../faults/index.ts";
import { batteryNegative, batteryPositive, deviceOf, linkOf, linksAt, lookupOf, type Harness, type PlaceId } from "../../harness/index.ts";
import { outOfBounds } from "../../instruments/index.ts";
import { sameCopper } from "./copper.ts";
import { accessMinutesFrom } from "../effort/cost.ts";
import { observableWords } from "../evidence/describe.ts";
import { lampFor, measurable } from "../effort/candidate-test.ts";
import { DOUBTFUL, type Belief } from "../belief/belief.ts";
import { observableKey, type Evidence } from "../evidence/evidence.ts";
import { kindOf } from "../evidence/kinds/index.ts";
import { DAMAGE, looksLike } from "../evidence/kinds/look.ts";
import { damageOf } from "../predict/look-chance.ts";
import type { Oracle, Test } from "../predict/oracle.ts";
import { likelihood } from "../evidence/likelihood.ts";
import { othersFound, standsAt } from "../evidence/wire-colour.ts";
import type { Predicted } from "../evidence/predicted.ts";
import { singlesOf, type Hypothesis, type Repair } from "../hypotheses/space.ts";

/** Belief in one repair from which on it may be done. */
export const ENOUGH = 0.95;
/** The same where its damage was seen: that has to be mended in any case. */
const ENOUGH_WHEN_SEEN = 0.8;

export type Act = "mend" | "renew";

/** Whether one repair may be done, and what is missing before it may. */
export interface Enough {
  readonly yes: boolean;
  readonly act: Act;
  /** Wire, cavity, ground or part. */
  readonly element: string;
  readonly probability: number;
  /** What mends it, in trade words. */
  readonly how: string;
  readonly missing: readonly Missing[];
  readonly ifWrong: IfWrong;
}

/** What it costs to act now and be wrong. */
export interface IfWrong {
  /** Chance of it. */
  readonly chance: number;
  /** Minutes of work for nothing: getting there and mending or renewing. */
  readonly minutes: number;
  /** A part would have been bought for nothing. */
  readonly part: boolean;
  /** What it would be most likely then. */
  readonly instead: string | undefined;
}

export interface Missing {
  readonly what: "belief" | "feed" | "ground" | "command" | "isolation" | "confirmation" | "cause" | "measurement";
  readonly words: string;
  /** A test that would show it. */
  readonly test: Test | undefined;
}

/** Parts are renewed, everything else is mended where it is. */
export function actOn(harness: Harness, element: string): Act {
  const part = lookupOf(harness).parts.get(element);
  return part !== undefined && (part.kind === "load" || part.kind === "device" || part.kind === "battery" || part.kind === "switch")
    ? "renew"
    : "mend";
}

/**
 * Enough is: one repair holds 95 % of the belief (80 % where its damage was seen) and hangs on no single reading; a drop has leads on both of its ends, a rub was looked for, nothing is
 * left that blows a fuse again; and where a part is to be renewed its feed, ground and command were measured and are good; or, for a part that is shorted, the trouble goes when it is
 * unplugged. `state`: in which the complaint shows; `without`: the belief as if one piece of evidence had not been found.
 */
export function enoughToAct(
  oracle: Oracle,
  belief: Belief,
  evidence: readonly Evidence[],
  state: VehicleState,
  without: (evidence: number) => Belief,
): Enough | undefined {
  const { harness, repairs } = oracle.space;
  // What was seen to be damaged has to be mended in any case, and comes first.
  const damaged = new Set(damagedIn(evidence));
  const isFirst = (i: number): boolean => damaged.has(repairs[i]!.element) && belief.repairs[i]! >= ENOUGH_WHEN_SEEN;
  let best = -1;
  belief.repairs.forEach((p, i) => {
    if (best < 0 || Number(isFirst(i)) > Number(isFirst(best)) || (isFirst(i) === isFirst(best) && p > belief.repairs[best]!)) best = i;
  });
  const repair = repairs[best];
  if (repair === undefined) return undefined;
  const element = repair.element;
  const probability = belief.repairs[best]!;
  const likeliest = heaviestFor(belief, repair, oracle);
  // A part that stays, whose strap or belt is at fault, is mended like a wire.
  const stays = likeliest !== undefined && singlesOf(likeliest).some((c) => c.fault.link === element && c.fault.partStays);
  const act = stays ? "mend" : actOn(harness, element);
  const missing: Missing[] = [];
  const isSeen = showsDamage(evidence, element, harness, likeliest);
  const wanted = act === "mend" && isSeen ? ENOUGH_WHEN_SEEN : ENOUGH;
  if (probability < wanted)
    missing.push({
      what: "belief",
      words: `${element} is ${(100 * probability).toFixed(0)} % likely; ${100 * wanted} % needed`,
      test: undefined,
    });
  const carrier = probability < wanted || isSeen ? undefined : carrierOf(belief, evidence, best, without);
  if (probability >= wanted && !isSeen && wantsLook(belief, evidence, repair, oracle))
    missing.push({
      what: "confirmation",
      words: `find the chafed spot first: inspect ${element}`,
      test: { state, observe: { kind: "look", at: element } },
    });
  if (carrier !== undefined)
    missing.push({
      what: "confirmation",
      words: `rests on one reading, ${observableWords(harness, evidence[carrier]!.observe)}: confirm with a second`,
      test: undefined,
    });
  // What was read in a cavity that holds another wire than drawn proves nothing of this one.
  const others = othersFound(harness, evidence);
  const placed = evidence.filter((e) => !standsAt(harness, others, e.observe));
  if (probability >= wanted && !isSeen) missing.push(...onOneSide(oracle, belief, placed, state, repair, others));
  const measured = placed.filter((e) => e.source !== "customer" && e.observe.kind !== "part");
  if (measured.length === 0 && act === "renew")
    missing.push({ what: "measurement", words: "nothing has been measured yet", test: undefined });
  // One whose holder is bad has not blown.
  const isBlown = likeliest === undefined || singlesOf(likeliest).some((c) => c.fault.link === element && c.fault.effect !== "series");
  if (isBlown && lookupOf(harness).parts.get(element)?.kind === "fuse") missing.push(...whyBlown(oracle, belief, evidence, state, element));
  if (probability >= wanted && !isSeen) missing.push(...contradicted(harness, belief, evidence, act));
  if (act === "renew") {
    const best = heaviestFor(belief, repair, oracle);
    if (best !== undefined) missing.push(...missingFor(oracle, placed, state, element, belief.bestAt(best)));
  }
  const fault =
    likeliest === undefined ? undefined : singlesOf(likeliest).find((c) => c.fault.link === element || c.fault.other === element)?.fault;
  return {
    yes: missing.length === 0,
    act,
    element,
    probability,
    how: fault?.mend ?? "",
    missing,
    ifWrong: ifWrong(oracle, belief, best, act),
  };
}

/** A slip is forgiven before something is mended, two findings that do not fit are not. */
const FORGIVEN = { mend: 1, renew: 0 } as const;

/** No part is bought while something that was found does not fit, and nothing mended while two things do not: they are done again, and what comes out otherwise then is settled. */
function contradicted(harness: Harness, belief: Belief, evidence: readonly Evidence[], act: Act): readonly Missing[] {
  const key = (e: Evidence): string => `${stateKey(e.state)} ${observableKey(e.observe)}`;
  const open = evidence.filter(
    (e, i) => belief.doubt[i]! > DOUBTFUL && !evidence.some((other, k) => belief.doubt[k]! <= DOUBTFUL && key(other) === key(e)),
  );
  const each = [...new Map(open.map((e) => [key(e), e])).values()];
  if (each.length <= FORGIVEN[act]) return [];
  return each.map(({ state, observe }) => ({
    what: "confirmation",
    words: `${observableWords(harness, observe)} does not fit the rest: it is done again before ${act === "renew" ? "a part is bought" : "anything is mended"}`,
    test: { state, observe },
  }));
}

/** A wire, joint, cavity, fuse or ground that drops volts is proven by leads on both of its ends, not by what is dead beyond it. */
function onOneSide(
  oracle: Oracle,
  belief: Belief,
  evidence: readonly Evidence[],
  state: VehicleState,
  repair: Repair,
  others: ReadonlySet<string>,
): readonly Missing[] {
  const { harness } = oracle.space;
  const link = linkOf(harness, repair.element);
  const likeliest = heaviestFor(belief, repair, oracle);
  if (
    link === undefined ||
    !/^(wire|joint|cavity|fuse|ground)$/.test(link.kind) ||
    likeliest === undefined ||
    (likeliest.fault.effect !== "open" && likeliest.fault.effect !== "series")
  )
    return [];
  const places = new Set(measurable(oracle, belief));
  const isLed = (end: PlaceId): boolean =>
    evidence.some(
      ({ observe: o }) =>
        o.kind === "volts" &&
        [o.red, o.black].some(
          (p) => p === end || linksAt(harness, end).some((l) => l !== link && isCopper(l.kind) && (l.a === p || l.b === p)),
        ),
    );
  if ([link.a, link.b].every((end) => !places.has(end) || isLed(end))) return [];
  return [
    {
      what: "confirmation",
      words: `measured on one side of ${repair.element} only: put the leads across it`,
      test: standsAt(harness, others, { kind: "volts", red: link.a, black: link.b })
        ? undefined
        : { state, observe: { kind: "volts", red: link.a, black: link.b } },
    },
  ];
}
const isCopper = (kind: string): boolean => kind === "wire" || kind === "joint" || kind === "cavity";

/** A short in a wire is somewhere on it: worth a look, once, unless it is out of bounds. */
function wantsLook(belief: Belief, evidence: readonly Evidence[], repair: Repair, oracle: Oracle): boolean {
  const { harness } = oracle.space;
  const { element } = repair;
  const likeliest = heaviestFor(belief, repair, oracle);
  const chafes =
    likeliest !== undefined &&
    singlesOf(likeliest).some((c) => (c.fault.link === element || c.fault.other === element) && isChafed(c.fault.effect));
  if (!chafes || linkOf(harness, element)?.kind !== "wire" || outOfBounds(harness, element) !== undefined) return false;
  return !evidence.some((e) => e.observe.kind === "look" && e.observe.at === element);
}

/** Whether a look has shown damage at a thing, of the kind that is supposed there: green copper explains no short. */
function showsDamage(evidence: readonly Evidence[], element: string, harness: Harness, supposed: Hypothesis | undefined): boolean {
  const kinds = (supposed === undefined ? [] : singlesOf(supposed)).flatMap((c) =>
    c.fault.link === element || c.fault.other === element ? [damageOf(harness, c)] : [],
  );
  return evidence.some(
    ({ observe, result }) =>
      observe.kind === "look" &&
      observe.at === element &&
      result.kind === "word" &&
      DAMAGE.includes(result.word) &&
      (kinds.length === 0 || kinds.some((kind) => kind === undefined || looksLike(kind, result.word))),
  );
}

/** Wires, cavities and parts at which damage was seen. */
export const damagedIn = (evidence: readonly Evidence[]): readonly string[] =>
  evidence.flatMap((e) => (e.observe.kind === "look" && e.result.kind === "word" && DAMAGE.includes(e.result.word) ? [e.observe.at] : []));

/** Minutes of the work itself once it is reached. Estimates of a practised hand. */
const WORK_MINUTES = { mend: 20, renew: 30 } as const;

function ifWrong({ space }: Oracle, belief: Belief, best: number, act: Act): IfWrong {
  // Not what has to be mended together with it, but what it would be if it were not this.
  const shares = new Float64Array(space.repairs.length);
  for (const c of belief.alive) {
    const needed = space.repairsOf(c);
    if (!needed.includes(best)) for (const r of needed) shares[r]! += belief.posterior(c);
  }
  const other = shares.reduce((p, share, i) => (share > shares[p]! ? i : p), 0);
  const { element } = space.repairs[best]!;
  return {
    chance: Math.max(0, 1 - belief.repairs[best]!),
    minutes: Math.round(accessMinutesFrom(space.harness, element, new Set()) + WORK_MINUTES[act]),
    part: act === "renew",
    instead: (shares[other] ?? 0) > 0 ? space.repairs[other]!.element : undefined,
  };
}

/**
 * A fuse seldom blows by itself: before the next one is put in, a lamp in its place must have been looked at with all that it feeds plugged in, and nothing may be left that blows it again.
 */
function whyBlown(oracle: Oracle, belief: Belief, evidence: readonly Evidence[], state: VehicleState, fuse: string): readonly Missing[] {
  const isCured = evidence.some(
    ({ observe: o, result: r }) =>
      r.kind === "word" &&
      ((o.kind === "swap" && o.part === fuse && r.word === "cured") || (o.kind === "fuse" && o.at === fuse && r.word === "holds")),
  );
  if (isCured) return [];
  const untried = withoutLamp(evidence, state, fuse);
  if (untried !== undefined)
    return [
      {
        what: "cause",
        words: `nothing shows yet that what ${fuse} feeds${untried === state ? "" : ` (${describeState(untried)})`} is not shorted: put a lamp in its place with all of it plugged in`,
        test: lampFor(untried, fuse),
      },
    ];
  const blowers = blowersOf(oracle, belief, statesOfBlowing(evidence, state, fuse), fuse);
  const share = blowers.reduce((sum, c) => sum + belief.posterior(c), 0);
  if (share < BLOWS_AGAIN) return [];
  const worst = blowers.reduce((p, q) => (belief.posterior(q) > belief.posterior(p) ? q : p));
  return [
    {
      what: "cause",
      words: `what ${fuse} feeds may still be shorted and blow the next one (${(100 * share).toFixed(0)} %), likeliest ${worst.fault.link}`,
      test: undefined,
    },
  ];
}
/** Chance of a short behind a fuse up to which another one may be put in for good. */
const BLOWS_AGAIN = 0.03;
/** The same for one that is put in to see whether it holds. */
const MAY_BLOW = 0.4;

/** What would blow the next fuse in one of these states. */
function blowersOf(oracle: Oracle, belief: Belief, states: readonly VehicleState[], fuse: string): readonly Hypothesis[] {
  const blowsIn = (state: VehicleState, c: Hypothesis): boolean => {
    const index = oracle.view(state)?.partIndex.get(fuse);
    return (oracle.row(state, c)?.work[index ?? -1] ?? 1) < 0.5;
  };
  return belief.alive.filter((c) => singlesOf(c).some((x) => x.fault.link !== fuse) && states.some((s) => blowsIn(s, c)));
}

/** The state of the complaint, or one in which a fuse was seen to be blown, in which no lamp was in its place yet; undefined where there is none. */
function withoutLamp(evidence: readonly Evidence[], state: VehicleState, fuse: string): VehicleState | undefined {
  const seen = evidence.filter((e) => seesBlown(e, fuse)).map((e) => withoutChanges(e.state));
  return [state, ...seen].find((s) => !evidence.some((e) => hasLampFor(e, fuse, s)));
}

const seesBlown = ({ observe: o, result: r }: Evidence, fuse: string): boolean =>
  r.kind === "word" &&
  ((o.kind === "look" && o.at === fuse && r.word === "burnt") || (o.kind === "fuse" && o.at === fuse && r.word !== "holds"));

/** The states in which a fuse may have blown: that of the complaint, and those, with nothing unplugged, in which something was dead or the fuse was seen to be blown. */
function statesOfBlowing(evidence: readonly Evidence[], state: VehicleState, fuse: string): readonly VehicleState[] {
  const dead = evidence.filter(
    (e) => (e.observe.kind === "part" && e.result.kind === "word" && e.result.word === "none") || seesBlown(e, fuse),
  );
  return [...new Map([state, ...dead.map((e) => withoutChanges(e.state))].map((s) => [stateKey(s), s])).values()].slice(0, MOST_STATES);
}
const MOST_STATES = 5;

/** Another fuse may be tried: a lamp was in its place, and a short is not what it looks like most. */
export function mayTryFuse(oracle: Oracle, belief: Belief, evidence: readonly Evidence[], state: VehicleState, fuse: string): boolean {
  if (withoutLamp(evidence, state, fuse) !== undefined) return false;
  return (
    blowersOf(oracle, belief, statesOfBlowing(evidence, state, fuse), fuse).reduce((sum, c) => sum + belief.posterior(c), 0) < MAY_BLOW
  );
}

/** A lamp in place of a fuse with nothing else unplugged or switched off than the state asks for. */
const hasLampFor = ({ observe, state: { opened, on, key } }: Evidence, fuse: string, state: VehicleState): boolean =>
  observe.kind === "lamp" &&
  opened.includes(fuse) &&
  key === state.key &&
  opened.every((id) => id === fuse || state.opened.includes(id)) &&
  state.on.every((id) => on.includes(id));

/**
 * The one measurement without which a repair would not be thought of first; undefined when there is none. `without`: the belief as if one piece of evidence had not been found, asked only
 * where the degrees that fitted with it leave it open.
 */
export function carrierOf(
  belief: Belief,
  evidence: readonly Evidence[],
  repair: number,
  without: (evidence: number) => Belief,
): number | undefined {
  const found = evidence.findIndex(
    (e, i) => kindOf(e.observe).byInstrument && belief.without(i, repair) < ALONE && without(i).repairs[repair]! < ALONE,
  );
  return found < 0 ? undefined : found;
}
/** A repair that would hold less than this without one reading hangs on that reading. */
const ALONE = 0.5;

/** The likeliest case in which a repair is needed. */
export function heaviestFor(belief: Belief, repair: Repair, oracle: Oracle): Hypothesis | undefined {
  let found: Hypothesis | undefined;
  for (const c of belief.alive)
    if (oracle.space.repairsOf(c).includes(repair.index) && (found === undefined || belief.posterior(c) > belief.posterior(found)))
      found = c;
  return found;
}

/** Pins of a part by what they are for. */
export function pinsOf(
  harness: Harness,
  element: string,
): { readonly feed: readonly string[]; readonly ground: readonly string[]; readonly command: readonly string[] } {
  const part = lookupOf(harness).parts.get(element);
  const pins = (names: readonly string[]): string[] => names.map((n) => `${element}.${n}`);
  if (part?.kind === "load") return { feed: pins([part.pins[0]]), ground: pins([part.pins[1]]), command: [] };
  if (part?.kind === "switch") return { feed: pins(["1", "2"]), ground: [], command: [] };
  if (part?.kind !== "device") return { feed: [], ground: [], command: [] };
  const { device, settings } = deviceOf(part);
  const terminals = device.terminals(settings);
  const of = (...roles: string[]): string[] => pins(terminals.flatMap((t) => (roles.includes(t.role) && t.bare !== true ? [t.name] : [])));
  const feed = of("feed", "reference");
  const ground = of("ground");
  const command = of("control");
  if (feed.length === 0 && ground.length === 0 && command.length === 0)
    return { feed: of("load").slice(0, 1), ground: of("load").slice(1), command: [] };
  // A sensor of two wires has its signal for a feed.
  return { feed: feed.length > 0 ? feed : of("signal").slice(0, 1), ground, command };
}

function missingFor(oracle: Oracle, evidence: readonly Evidence[], state: VehicleState, element: string, best: Hypothesis): Missing[] {
  const { harness } = oracle.space;
  if (
    evidence.some((e) => e.observe.kind === "swap" && e.observe.part === element && e.result.kind === "word" && e.result.word === "cured")
  )
    return [];
  if (showsDamage(evidence, element, harness, best)) return [];
  if (lookupOf(harness).parts.get(element)?.kind === "battery")
    return proves(evidence, (e) => e.observe.kind === "volts" && isAcrossBattery(harness, e.observe.red, e.observe.black))
      ? []
      : [
          {
            what: "measurement",
            words: "the voltage across the battery's posts has not been measured",
            test: { state, observe: { kind: "volts", red: batteryPositive(harness), black: batteryNegative(harness) } },
          },
        ];
  if (dragsItsNet(best.fault.effect)) return isolationOf(oracle, evidence, state, element);
  const pins = pinsOf(harness, element);
  const missing: Missing[] = [];
  const good = goodReadings(oracle, evidence, best);
  for (const [what, list] of [
    ["feed", pins.feed],
    ["ground", pins.ground],
    ["command", pins.command],
  ] as const) {
    for (const pin of list) {
      if (good.some((e) => touches(harness, e, pin))) continue;
      const across =
        pins.feed.includes(pin) && pins.ground.length > 0 && !good.some((e) => pins.ground.some((g) => touches(harness, e, g)));
      missing.push({
        what,
        words: `${what} at ${pin} has not been measured and found good in the state of the complaint`,
        test: { state, observe: { kind: "volts", red: pin, black: across ? pins.ground[0]! : batteryNegative(harness) } },
      });
    }
  }
  return missing;
}

/** What takes something down with it is unplugged, and what showed the trouble is looked at again. */
function isolationOf(oracle: Oracle, evidence: readonly Evidence[], state: VehicleState, element: string): Missing[] {
  const kinds = ["volts", "lamp", "part"];
  const isSound = (e: Evidence): boolean => isNear(e, oracle.predict(e, undefined));
  const before = evidence.filter((e) => kinds.includes(e.observe.kind) && !e.state.opened.includes(element));
  const shows = before.filter((e) => !isSound(e));
  const telling = new Set(shows.map((e) => observableKey(e.observe)));
  // The trouble is gone when what showed it is what a sound vehicle shows with this unplugged.
  const tried = evidence.filter((e) => e.state.opened.includes(element) && telling.has(observableKey(e.observe)));
  if (tried.some(isSound)) return [];
  if (tried.length > 0) return [{ what: "isolation", words: `with ${element} unplugged the trouble stayed`, test: undefined }];
  const last = shows.at(-1) ?? before.at(-1);
  const without = (of: VehicleState): VehicleState => ({ ...of, opened: [...new Set([...of.opened, ...state.opened, element])].sort() });
  return [
    {
      what: "isolation",
      words: `${element} has not been unplugged to see whether the trouble goes`,
      test: last === undefined ? undefined : { state: without(last.state), observe: last.observe },
    },
  ];
}

const isAcrossBattery = (harness: Harness, red: string, black: string): boolean =>
  [red, black].includes(batteryPositive(harness)) && [red, black].includes(batteryNegative(harness));
const proves = (evidence: readonly Evidence[], test: (e: Evidence) => boolean): boolean => evidence.some(test);
/** Modes that take something down with them: they are proven by unplugging. */

/** Voltage readings that are what a vehicle shows with nothing but this wrong. */
const goodReadings = (oracle: Oracle, evidence: readonly Evidence[], best: Hypothesis): readonly Evidence[] =>
  evidence.filter((e) => e.observe.kind === "volts" && isNear(e, oracle.predict(e, best, true)));

const isNear = (e: Evidence, p: Predicted): boolean => likelihood(e.observe, e.result, p) > 1;

/** Whether a reading has a lead on this pin. */
function touches(harness: Harness, e: Evidence, pin: string): boolean {
  if (e.observe.kind !== "volts") return false;
  return e.observe.red === pin || e.observe.black === pin || sameCopper(harness, pin, e.observe.red);
}
