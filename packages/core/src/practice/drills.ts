import { REST_STATE, type Fault, type VehicleState } from "../circuit/index.ts";
import { sigmaOf, stateInWhich } from "../diagnosis/index.ts";
import {
  batteryNegative,
  batteryPositive,
  describeLink,
  describePlace,
  lookupOf,
  partNameIn,
  sharedNodes,
  walksOf,
  type Harness,
  type Link,
} from "../harness/index.ts";
import { predictAll, predictReading, type Leads } from "../instruments/index.ts";
import { formatVolts } from "../quantity/index.ts";
import type { Skill } from "./skills.ts";
import { chanceOf, shuffled, type Chance } from "./truth.ts";

/** A question of a minute, with its answer worked out from the circuit. */
export interface Drill {
  readonly kind: DrillKind;
  readonly skill: Skill;
  readonly question: string;
  readonly choices: readonly DrillChoice[];
}
export interface DrillChoice {
  readonly text: string;
  readonly isRight: boolean;
  /** What the circuit says of it. */
  readonly why: string;
}

export const DRILL_KINDS = ["black lead", "proves the ground", "what reads", "what they share"] as const;
export type DrillKind = (typeof DRILL_KINDS)[number];

/** Choices of a question. */
const CHOICES = 4;
/** Questions that are tried for one that has a single right answer. */
const MOST_TRIED = 40;

/** A question of a kind; undefined where none with a single right answer was found on this circuit. The same from the same seed. */
export function makeDrill(harness: Harness, kind: DrillKind, seed: number): Drill | undefined {
  const chance = chanceOf(seed + 1);
  for (let i = 0; i < MOST_TRIED; i++) {
    const made = MAKERS[kind](harness, chance);
    if (made !== undefined && made.choices.filter((c) => c.isRight).length === 1)
      return { ...made, choices: shuffled(made.choices, chance) };
  }
  return undefined;
}

const MAKERS: Readonly<Record<DrillKind, (harness: Harness, chance: Chance) => Drill | undefined>> = {
  "black lead": blackLead,
  "proves the ground": provesGround,
  "what reads": whatReads,
  "what they share": whatTheyShare,
};

const pick = <T>(list: readonly T[], chance: Chance): T | undefined => list[Math.floor(chance() * list.length)];

/** A load at work, with its way back and a place in it that goes bad. */
interface Working {
  readonly name: string;
  readonly part: string;
  readonly state: VehicleState;
  readonly feed: readonly Link[];
  readonly ground: readonly Link[];
  readonly amps: number;
}

function workingLoad(harness: Harness, chance: Chance): Working | undefined {
  const walk = pick(walksOf(harness), chance);
  if (walk === undefined) return undefined;
  const part = partNameIn(walk.load.id);
  const state = stateInWhich(harness, part, REST_STATE);
  const now = state === undefined ? undefined : predictAll(harness, state, []);
  if (state === undefined || now === undefined || !("amps" in now)) return undefined;
  const amps = Math.abs(now.amps.get(walk.load.id) ?? 0);
  if (amps < LEAST_AMPS) return undefined;
  const label = lookupOf(harness).parts.get(part)?.label;
  return {
    name: label === undefined ? part : `${part} (${label})`,
    part,
    state,
    feed: walk.feed.map((h) => h.link),
    ground: walk.ground.map((h) => h.link),
    amps,
  };
}
const LEAST_AMPS = 0.1;

/** Resistance that takes about this share of the supply from a load, Ω. */
const LOST_SHARE = 0.3;
const bad = (harness: Harness, { amps }: Working, link: Link): Fault => ({
  kind: "series",
  link: link.id,
  ohms: Number(((LOST_SHARE / (1 - LOST_SHARE)) * (harness.nominalVolts / amps)).toPrecision(2)),
});
const isJoint = (l: Link): boolean => ["wire", "ground", "cavity", "joint"].includes(l.kind);

/** V that a meter shows; undefined where it shows none. */
function voltsAt(harness: Harness, state: VehicleState, faults: readonly Fault[], red: string, black: string): number | undefined {
  const leads: Leads = { quantity: "volts", red, black };
  const shown = predictReading(harness, state, faults, leads);
  return shown.kind === "value" ? shown.value : undefined;
}

const stateWords = ({ key, engine, on }: VehicleState): string =>
  [`key ${key}`, ...(engine === "stopped" ? [] : [`engine ${engine}`]), ...on.map((s) => `${s} on`)].join(", ");

/** Another choice shows at most this share of what the right one does. */
const CLEARLY = 0.5;

function blackLead(harness: Harness, chance: Chance): Drill | undefined {
  const load = workingLoad(harness, chance);
  const spot = load === undefined ? undefined : pick(load.ground.filter(isJoint), chance);
  if (load === undefined || spot === undefined) return undefined;
  const fault = bad(harness, load, spot);
  const at = load.ground.indexOf(spot);
  const before = load.ground.slice(0, at + 1).flatMap((l) => [l.a, l.b]);
  const red = load.ground.flatMap((l) => [l.a, l.b]).find((p) => partNameIn(p) === load.part);
  if (red === undefined) return undefined;
  const post = batteryNegative(harness);
  const feed = load.feed.flatMap((l) => [l.a, l.b]).filter((p) => partNameIn(p) === load.part);
  const others = [...new Set([...before, ...feed, ...load.feed.flatMap((l) => [l.a, l.b])])].filter((p) => p !== red && p !== post);
  const tried = [post, ...shuffled(others, chance)].flatMap((black) => {
    const [good, now] = [voltsAt(harness, load.state, [], red, black), voltsAt(harness, load.state, [fault], red, black)];
    return good === undefined || now === undefined ? [] : [{ black, good, now, moved: Math.abs(now - good) }];
  });
  const right = tried[0];
  if (right === undefined || right.black !== post) return undefined;
  const wrong = tried
    .slice(1)
    .filter((t) => t.moved < CLEARLY * right.moved)
    .slice(0, CHOICES - 1);
  if (wrong.length < CHOICES - 1) return undefined;
  return {
    kind: "black lead",
    skill: "reference",
    question: `${load.name} is weak with ${stateWords(load.state)}. You want to know whether its ground path loses voltage. The red lead is on ${red}. Where does the black lead go?`,
    choices: [right, ...wrong].map((t) => ({
      text: `${t.black}: ${describePlace(harness, t.black)}`,
      isRight: t === right,
      why: `${formatVolts(t.good)} with a good ground path, ${formatVolts(t.now)} with one that loses voltage.`,
    })),
  };
}

function provesGround(harness: Harness, chance: Chance): Drill | undefined {
  const load = workingLoad(harness, chance);
  const spot = load === undefined ? undefined : pick(load.ground.filter(isJoint), chance);
  if (load === undefined || spot === undefined) return undefined;
  const fault = bad(harness, load, spot);
  const pins = (links: readonly Link[]): readonly string[] => links.flatMap((l) => [l.a, l.b]).filter((p) => partNameIn(p) === load.part);
  const [ground, feed] = [pins(load.ground)[0], pins(load.feed)[0]];
  if (ground === undefined || feed === undefined) return undefined;
  const post = batteryNegative(harness);
  const off: VehicleState = { ...REST_STATE };
  const tests: readonly (readonly [VehicleState, Leads, string])[] = [
    [load.state, { quantity: "volts", red: ground, black: post }, `working: volts, red on ${ground}, black on battery negative`],
    [off, { quantity: "volts", red: ground, black: post }, `switched off: volts, red on ${ground}, black on battery negative`],
    [off, { quantity: "volts", red: feed, black: post }, `switched off: volts, red on ${feed}, black on battery negative`],
    [load.state, { quantity: "volts", red: batteryPositive(harness), black: post }, "working: volts across the battery"],
  ];
  const choices = tests.flatMap(([state, leads, words]): DrillChoice[] => {
    if (leads.quantity !== "volts") return [];
    const [good, now] = [voltsAt(harness, state, [], leads.red, leads.black), voltsAt(harness, state, [fault], leads.red, leads.black)];
    if (good === undefined || now === undefined) return [];
    const sigma = sigmaOf({ kind: "volts", red: leads.red, black: leads.black }, good);
    const isRight = Math.abs(now - good) > Math.max(TELLS_VOLTS, 3 * sigma);
    return [
      {
        text: words,
        isRight,
        why: `${formatVolts(good)} with a good ground, ${formatVolts(now)} with a bad one: ${isRight ? "it tells" : "it tells nothing"}.`,
      },
    ];
  });
  if (choices.length < CHOICES) return undefined;
  return { kind: "proves the ground", skill: "ground", question: `Which of these readings proves the ground of ${load.name}?`, choices };
}
/** A difference that nobody overlooks, V. */
const TELLS_VOLTS = 0.3;

function whatReads(harness: Harness, chance: Chance): Drill | undefined {
  const load = workingLoad(harness, chance);
  if (load === undefined) return undefined;
  const spot = pick([...load.feed, ...load.ground].filter(isJoint), chance);
  const place = pick(
    [...load.feed, ...load.ground].flatMap((l) => [l.a, l.b]),
    chance,
  );
  if (spot === undefined || place === undefined) return undefined;
  const fault: Fault = { kind: "open", link: spot.id };
  const post = batteryNegative(harness);
  const [good, now] = [voltsAt(harness, load.state, [], place, post), voltsAt(harness, load.state, [fault], place, post)];
  if (good === undefined || now === undefined) return undefined;
  const supply = harness.nominalVolts * 1.05;
  const values = [now, good, supply / 2, good > supply / 2 ? 0 : supply];
  const distinct = values.filter((v, i) => values.findIndex((w) => Math.abs(w - v) < 0.1 * supply) === i);
  const more = [0.25 * supply, 0.75 * supply].filter((v) => distinct.every((w) => Math.abs(w - v) >= 0.1 * supply));
  const all = [...distinct, ...more].slice(0, CHOICES);
  if (all.length < CHOICES) return undefined;
  return {
    kind: "what reads",
    skill: "sheet",
    question: `${sentence(describeLink(harness, spot))} is open. What does a meter show at ${place} (${describePlace(harness, place)}) against battery negative, with ${stateWords(load.state)}?`,
    choices: all.map((v) => ({
      text: `about ${formatVolts(v)}`,
      isRight: v === now,
      why:
        v === now
          ? "As the circuit is solved with it."
          : v === good
            ? "That is what a good circuit shows there."
            : "Nothing in this circuit makes that.",
    })),
  };
}

function whatTheyShare(harness: Harness, chance: Chance): Drill | undefined {
  const loads = [...new Set(walksOf(harness).map((w) => partNameIn(w.load.id)))];
  const [first, second, third] = shuffled(loads, chance);
  if (first === undefined || second === undefined || third === undefined) return undefined;
  const nodes = sharedNodes(harness, [first, second], [third]);
  const clear = nodes.filter((n) => n.failing.length === 2 && n.working.length === 0);
  const right = clear[0];
  const wrong = nodes.filter((n) => n.failing.length < 2 || n.working.length > 0).slice(0, CHOICES - 1);
  if (right === undefined || wrong.length < CHOICES - 1) return undefined;
  const name = (id: string): string => {
    const label = lookupOf(harness).parts.get(id)?.label;
    return label === undefined ? id : `${id} (${label})`;
  };
  return {
    kind: "what they share",
    skill: "shared",
    question: `${name(first)} and ${name(second)} fail, ${name(third)} works. Which of these explains it by itself?`,
    choices: [
      { text: right.words, isRight: true, why: "Both that fail depend on it, and the one that works does not." },
      ...wrong.map((n) => ({
        text: n.words,
        isRight: false,
        why:
          n.working.length > 0 ? `${name(third)} works through it all the same.` : `Only ${n.failing.map(name).join(", ")} depends on it.`,
      })),
    ],
  };
}

const sentence = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);
