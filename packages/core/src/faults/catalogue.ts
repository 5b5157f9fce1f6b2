import type { Fault } from "../circuit/index.ts";
import { SERIES_OHMS, type FailureMode } from "../devices/index.ts";
import {
  type Component,
  describeLink,
  describePlace,
  deviceNode,
  deviceOf,
  type Harness,
  type Link,
  linkOf,
  linksOf,
  lookupOf,
  wiresAt,
} from "../harness/index.ts";
import { mostAmpsOf, resistancesAt, resistancesFor } from "./degrees.ts";
import { neighboursOf, type Touching } from "./neighbours.ts";
import { effectOf, isShort, type FaultEffect } from "./effect.ts";

/** A way in which one thing can be wrong, over its severities. */
export interface SupposedFault {
  /** Stable name, such as "W5 resistance" or "R7 coil open". */
  readonly id: string;
  /** What would have to be mended: a wire, cavity, part or ground. */
  readonly link: string;
  /** The other thing that has to be mended where two touch. */
  readonly other?: string;
  /** The loom in which two wires touch. */
  readonly where?: string;
  /** What it does to the circuit. */
  readonly effect: FaultEffect;
  /** Its name among those of the thing: "open", "resistance", "short to ground", "contact welded" … For people and file names; nothing is decided by it. */
  readonly mode: string;
  /** In trade words. */
  readonly words: string;
  /** What mends it, in trade words: "clean to bright metal and tighten". */
  readonly mend: string;
  /** The part that it names stays; without it that is renewed. */
  readonly partStays: boolean;
  /** Ω, or the unit of the setting that changes; a single 0 where the mode has no degree. */
  readonly severities: readonly number[];
  /** How likely it is before anything is measured, relative to the others of the circuit; all together they sum to 1. */
  readonly prior: number;
  readonly faultAt: (severity: number) => Fault;
}

/** What makes one thing likelier to fail than its like. */
export interface Experience {
  /** Years on the road; wear, corrosion and cells grow with them. */
  readonly ageYears?: number;
  /** Factor on the prior of a link: exposure to water, heat, rub or flex, earlier repairs, pattern failures of the model. */
  readonly factorOf?: (link: string) => number;
}

/** From a dead short to a damp one. Ω. */
const SHORTS = [0.05, 0.5, 2, 20, 500];
/** How often one wire and some neighbour of it rub through, beside the other weights. */
const RUBBED_WEIGHT = 0.6;
/** Salt water between two cavities. Ω. */
const WATER = [20, 200, 2000];
const NONE = [0];
/** Age at which the estimates below hold, years. */
const MIDDLE_AGE_YEARS = 8;

interface Raw {
  readonly link: string;
  readonly other?: string;
  readonly where?: string;
  readonly id: string;
  readonly effect: FaultEffect;
  readonly mode: string;
  readonly words: string;
  readonly weight: number;
  readonly severities: readonly number[];
  /** Grows with age. */
  readonly ages: boolean;
  readonly faultAt: (severity: number) => Fault;
  /** What mends it where a device's own mode says so. */
  readonly mend?: string;
}

/** Every single fault of a circuit, generated from what it is made of. */
export function catalogueOf(harness: Harness, experience: Experience = {}): SupposedFault[] {
  const raw = generatedOf(harness);
  const age = Math.max(0.1, (experience.ageYears ?? MIDDLE_AGE_YEARS) / MIDDLE_AGE_YEARS);
  const weights = raw.map(({ weight, ages, fault }) => weight * (ages ? age : 1) * (experience.factorOf?.(fault.link) ?? 1));
  const total = weights.reduce((sum, w) => sum + w, 0);
  return raw.map(({ fault }, i) => ({ ...fault, prior: weights[i]! / total }));
}

/** How many faults `catalogueOf` has of a circuit; the list of them is made then, without what makes one likelier. */
export const countFaults = (harness: Harness): number => generatedOf(harness).length;

/** A fault before it is known how likely it is: its weight, and whether that grows with age. */
interface Generated {
  readonly weight: number;
  readonly ages: boolean;
  readonly fault: Omit<SupposedFault, "prior">;
}
const known = new WeakMap<Harness, readonly Generated[]>();

function generatedOf(harness: Harness): readonly Generated[] {
  const made = known.get(harness) ?? generate(harness);
  known.set(harness, made);
  return made;
}

const generate = (harness: Harness): readonly Generated[] =>
  [
    ...linksOf(harness).flatMap((link) => (link.kind === "device" ? [] : faultsOfLink(harness, link))),
    ...touchingOf(harness),
    ...harness.components.flatMap((part) => faultsOfPart(harness, part)),
  ].map(({ weight, ages, id, link, other, where, effect, mode, words, severities, faultAt, mend }) => ({
    weight,
    ages,
    fault: {
      id,
      link,
      ...(other === undefined ? {} : { other }),
      ...(where === undefined ? {} : { where }),
      effect,
      mode,
      words,
      ...mendOf(harness, link, effect, mend),
      severities,
      faultAt,
    },
  }));

/** What mends a fault of a thing, and whether the part itself stays. */
function mendOf(harness: Harness, id: string, effect: FaultEffect, own: string | undefined): Pick<SupposedFault, "mend" | "partStays"> {
  if (own !== undefined) return { mend: own, partStays: true };
  const part = lookupOf(harness).parts.get(id);
  const link = part === undefined ? linkOf(harness, id) : undefined;
  switch (link?.kind ?? part?.kind) {
    case "wire":
      return {
        mend: isShort(effect)
          ? "insulate it where it has rubbed, and route it clear of that"
          : "repair the wire where it is bad, from end to end if that is not found",
        partStays: true,
      };
    case "cavity":
      return {
        mend: isShort(effect)
          ? "dry and clean the plug and find how water comes in"
          : "clean and tighten the terminals of that cavity, or renew them",
        partStays: true,
      };
    case "joint":
      return { mend: "clean and tighten the joint", partStays: true };
    case "ground":
      return { mend: "clean it to bright metal and tighten it", partStays: true };
    case "splice":
      return { mend: "make the splice anew", partStays: true };
    case "fuse":
      return {
        mend: effect === "series" ? "clean and tighten the fuse holder" : "renew the fuse, by one of its own rating",
        partStays: true,
      };
    case "battery":
      return {
        mend: effect === "setting" ? "charge it and test it under load, and find what has drained it, before a new one" : "renew it",
        partStays: false,
      };
    default:
      return { mend: "renew it", partStays: false };
  }
}

/** How often wires, joints and plain parts fail in each way, relative. Estimates: joints and grounds that see water lead, wires fail where they rub or flex. */
function faultsOfLink(harness: Harness, link: Link): Raw[] {
  const what = describeLink(harness, link);
  const make = (
    effect: FaultEffect,
    mode: string,
    words: string,
    weight: number,
    severities: readonly number[],
    ages: boolean,
    faultAt: (s: number) => Fault,
  ): Raw => ({
    link: link.id,
    id: `${link.id} ${mode}`,
    effect,
    mode,
    words,
    weight,
    severities,
    ages,
    faultAt,
  });
  const open = (words: string, weight: number): Raw =>
    make("open", "open", words, weight, NONE, false, () => ({ kind: "open", link: link.id }));
  const series = (words: string, weight: number): Raw =>
    make("series", "resistance", words, weight, resistancesFor(harness, link.id), true, (ohms) => ({
      kind: "series",
      link: link.id,
      ohms,
    }));
  const near = describePlace(harness, link.b);
  switch (link.kind) {
    case "wire":
      return [
        open(`${what} open`, 2),
        series(`high resistance in ${what}`, 2),
        make("short to ground", "short to ground", `${what} chafed through to ground near ${near}`, 1.5, SHORTS, true, (ohms) => ({
          kind: "short to ground",
          place: link.b,
          ohms,
        })),
        make("short to feed", "short to feed", `${what} shorted to supply near ${near}`, 0.3, SHORTS, true, (ohms) => ({
          kind: "short to feed",
          place: link.b,
          ohms,
        })),
      ];
    case "cavity":
      return [open(`${what} open`, 2.5), series(`high resistance in ${what}`, 5)];
    case "joint":
      return [open(`${what} open`, 0.5), series(`high resistance in ${what}`, 0.5)];
    case "fuse":
      return [
        open(`${what} blown or missing`, 4),
        series(`high resistance in ${what}`, 1),
        make("setting", "wrong rating", `${what}: wrong rating fitted`, 0.3, [0.5, 2], false, (times) => {
          const part = lookupOf(harness).parts.get(link.id);
          return { kind: "settings", component: link.id, settings: { ratingAmps: (part?.kind === "fuse" ? part.ratingAmps : 10) * times } };
        }),
      ];
    case "switch":
      return [
        open(`${what} open`, 1.5),
        series(`high resistance in ${what}`, 2.5),
        make("stuck closed", "stuck closed", `${what} does not open`, 0.5, NONE, false, () => ({
          kind: "across",
          from: link.a,
          to: link.b,
          ohms: 0.005,
        })),
      ];
    case "ground":
      return [open(`${what} open`, 2), series(`${what} loose or corroded`, 6)];
    case "load":
      return [
        open(`${what} ${openLoadWords(harness, link)}`, 4),
        series(`high resistance in ${what}`, 2),
        make("shorted inside", "shorted inside", `${what} shorted inside`, 1, SHORTS, false, (ohms) => ({
          kind: "across",
          from: link.a,
          to: link.b,
          ohms,
        })),
      ];
    case "device":
      return [];
  }
}

function openLoadWords(harness: Harness, link: Link): string {
  const part = lookupOf(harness).parts.get(link.id);
  if (part?.kind !== "load") return "open";
  return part.sort === "lamp" ? "burnt out" : part.sort === "load" ? "open" : "winding open";
}

/** A wire chafes against one of its neighbours about as often in a thick loom as in a thin one: what that weighs is shared among them. */
function touchingOf(harness: Harness): Raw[] {
  const all = neighboursOf(harness);
  const beside = new Map<string, number>();
  for (const { first, second } of all) for (const { id } of [first, second]) beside.set(id, (beside.get(id) ?? 0) + 1);
  return all.map((t) => faultOfTouching(harness, t, (1 / beside.get(t.first.id)! + 1 / beside.get(t.second.id)!) / 2));
}

function faultOfTouching(harness: Harness, { first, second, place, other, how }: Touching, share: number): Raw {
  const [one, two] = [describeLink(harness, first), describeLink(harness, second)];
  const wet = how === "cavities";
  return {
    link: first.id,
    other: second.id,
    ...(wet ? {} : { where: how }),
    id: `${first.id} ${wet ? "water bridge to" : "rubbed against"} ${second.id}`,
    effect: wet ? "water bridge" : "short to wire",
    mode: wet ? "water bridge" : "short to neighbour",
    words: wet ? `water between ${one} and ${two}` : `${one} and ${two} chafed through to each other in ${how}`,
    weight: wet ? 0.6 : RUBBED_WEIGHT * share,
    severities: wet ? WATER : SHORTS.slice(0, 3),
    ages: true,
    faultAt: (ohms) => ({ kind: "across", from: place, to: other, ohms }),
  };
}

function faultsOfPart(harness: Harness, part: Component): Raw[] {
  const named = `${part.id}${part.label === undefined ? "" : ` (${part.label})`}`;
  const raw = (
    effect: FaultEffect,
    mode: string,
    words: string,
    weight: number,
    severities: readonly number[],
    ages: boolean,
    faultAt: (s: number) => Fault,
  ): Raw => ({
    link: part.id,
    id: `${part.id} ${mode}`,
    effect,
    mode,
    words: `${named}: ${words}`,
    weight,
    severities,
    ages,
    faultAt,
  });
  if (part.kind === "battery") {
    const set = (settings: Readonly<Record<string, number>>): Fault => ({ kind: "settings", component: part.id, settings });
    return [
      raw("setting", "flat", "discharged", 4, [0.5, 0.2, 0], false, (charge) => set({ charge })),
      raw("setting", "worn", "worn out", 3, [0.5, 1], true, (wear) => set({ wear })),
      raw("shorted inside", "cell shorted", "one cell shorted", 0.7, NONE, true, () => set({ restVolts: part.restVolts - 2.1 })),
    ];
  }
  if (part.kind === "splice") {
    const widest = wiresAt(harness, part.id).reduce((p, w) => Math.max(p, mostAmpsOf(harness).get(w.id) ?? 0), 0);
    return wiresAt(harness, part.id).length < 2
      ? []
      : [
          raw("series", "corroded", "corroded through, all its wires", 0.6, resistancesAt(harness, widest), true, (ohms) => ({
            kind: "splice",
            splice: part.id,
            ohms,
          })),
        ];
  }
  if (part.kind !== "device") return [];
  const { device, settings } = deviceOf(part);
  return device.modes(settings).map((m) => ({
    ...raw(effectOf(m), m.id, m.words, m.weight, degreesOf(harness, part.id, m), wears(m), (severity) => faultOfMode(part.id, m, severity)),
    ...(m.mend === undefined ? {} : { mend: m.mend }),
  }));
}

/** A resistance of no degrees of its own is as fine as its current needs. */
const degreesOf = (harness: Harness, part: string, { harm, severities }: FailureMode): readonly number[] =>
  harm.kind === "series" && severities === SERIES_OHMS ? resistancesFor(harness, `${part}.${harm.part}`) : severities;

/** Contacts, brushes and tracks wear with the years. */
const wears = ({ harm }: FailureMode): boolean => harm.kind === "series";

function faultOfMode(id: string, { harm }: FailureMode, severity: number): Fault {
  const node = (name: string): string => deviceNode(id, name);
  switch (harm.kind) {
    case "open":
      return { kind: "open", link: `${id}.${harm.part}` };
    case "series":
      return { kind: "series", link: `${id}.${harm.part}`, ohms: severity };
    case "shunt":
      return { kind: "across", from: node(harm.a), to: node(harm.b), ohms: severity };
    case "stuck":
      return { kind: "stuck", link: `${id}.${harm.part}`, closed: harm.closed };
    case "settings":
      return { kind: "settings", component: id, settings: harm.change(severity) };
  }
}

/**
 * What may be wrong with the measuring instead of the car: a lead that does not touch, a reference on paint or rust, a lamp that is dead. Priors are relative to
 * each other; diagnosis weighs them against the car's.
 */
export function measurementFaults(): SupposedFault[] {
  const make = (id: string, words: string, weight: number, lead: "red" | "black", severities: readonly number[]): SupposedFault => ({
    id,
    link: "",
    effect: "lead",
    mode: id,
    words,
    mend: "take the reading again with sound leads on bright metal",
    partStays: true,
    severities,
    prior: weight / MEASUREMENT_WEIGHTS,
    faultAt: (ohms) => ({ kind: "lead", lead, ohms }),
  });
  return [
    make("red lead open", "red lead broken or not touching", 2, "red", [BROKEN_OHMS]),
    make("black lead open", "black lead broken or not touching", 2, "black", [BROKEN_OHMS]),
    make("reference not at ground", "the reference stands on paint, rust or a part that is not grounded", 4, "black", [100, 1e5, 1e7]),
    make("lamp dead", "the test lamp itself is dead", 1, "red", [BROKEN_OHMS]),
  ];
}

const BROKEN_OHMS = 1e12;
const MEASUREMENT_WEIGHTS = 9;
