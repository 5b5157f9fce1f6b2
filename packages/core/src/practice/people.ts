import type { Result } from "../diagnosis/index.ts";
import { isChafed } from "../faults/index.ts";
import { linkOf, lookupOf, partNameIn, partOfLink, type Harness } from "../harness/index.ts";
import type { Chance, Truth } from "./truth.ts";

/**
 * How well people see and say what is there. Figures of their own: nothing here is read from what the engine believes, nor the other way round. Estimates from what a workshop
 * would tell: of ten green cavities eight are seen when the plug is opened, of ten rubbed wires nine once the tape is off, of broken strands in whole insulation about half.
 */
export interface People {
  /** Chances that damage is missed by a look. */
  readonly missed: {
    readonly rubbed: number;
    readonly corroded: number;
    readonly inWire: number;
    readonly inHolder: number;
    readonly inside: number;
    readonly alongLoom: number;
  };
  /** Chance that something sound is taken for damaged. */
  readonly misled: number;
  /** Chances that a bad spot does not show when it is moved, and that something else moves the reading. */
  readonly stillThough: number;
  readonly movesThough: number;
  /** Chance that what a part does is given the next word: weak for dead, works for weak. */
  readonly misnamed: number;
  /** The same of whoever brings the vehicle. */
  readonly misremembered: number;
  /** Chance that a wire of another colour than the one named is not noticed where a lead goes on. */
  readonly colourMissed: number;
}

const USUAL: People = {
  missed: { rubbed: 0.12, corroded: 0.22, inWire: 0.45, inHolder: 0.5, inside: 0.93, alongLoom: 0.25 },
  misled: 0.006,
  stillThough: 0.25,
  movesThough: 0.03,
  misnamed: 0.01,
  misremembered: 0.03,
  colourMissed: 0.1,
};

/** People who err so many times as often as usual: 0.25 to 4. */
export function peopleWhoErr(times: number): People {
  const often = (chance: number): number => Math.min(MOST_OFTEN, chance * times);
  const { missed } = USUAL;
  return {
    missed: {
      rubbed: often(missed.rubbed),
      corroded: often(missed.corroded),
      inWire: often(missed.inWire),
      inHolder: often(missed.inHolder),
      inside: missed.inside,
      alongLoom: often(missed.alongLoom),
    },
    misled: often(USUAL.misled),
    stillThough: often(USUAL.stillThough),
    movesThough: often(USUAL.movesThough),
    misnamed: often(USUAL.misnamed),
    misremembered: often(USUAL.misremembered),
    colourMissed: often(USUAL.colourMissed),
  };
}
const MOST_OFTEN = 0.9;

/** Chance that a look somewhere shows what is wrong there; 0 where nothing is. */
export function showsChance(harness: Harness, people: People, { fault }: Truth, at: string): number {
  const { missed } = people;
  const segments = lookupOf(harness).wires.get(fault.link)?.segments ?? [];
  if (harness.wires.some((w) => w.segments?.includes(at) === true)) {
    const rubs = fault.other !== undefined || isChafed(fault.effect);
    if (!rubs) return 0;
    if (fault.where !== undefined) return fault.where === at ? 1 - missed.alongLoom : 0;
    return segments.includes(at) ? (1 - missed.alongLoom) / segments.length : 0;
  }
  if (fault.link !== at && fault.other !== at) return 0;
  if (fault.other !== undefined || isChafed(fault.effect)) return 1 - missed.rubbed;
  const link = linkOf(harness, at);
  const kind = link === undefined ? lookupOf(harness).parts.get(at)?.kind : partOfLink(harness, link) === undefined ? "wire" : link.kind;
  if (kind === "cavity" || kind === "ground" || kind === "splice") return 1 - missed.corroded;
  if (kind === "wire" || kind === "joint") return 1 - missed.inWire;
  if (kind === "fuse") return fault.effect === "open" ? 1 : 1 - missed.inHolder;
  return 1 - missed.inside;
}

/** Whether a fault sits where something is moved: at the thing itself, in its connector, zone or loom. */
export function isMovedWith(harness: Harness, { fault }: Truth, where: string): boolean {
  if (fault.link === where || fault.link.startsWith(`${where}.`)) return true;
  const wire = lookupOf(harness).wires.get(fault.link);
  return wire === undefined ? lookupOf(harness).parts.get(partNameIn(fault.link))?.zone === where : wire.segments?.includes(where) === true;
}

const NEXT_WORD: Readonly<Record<string, string>> = { none: "weak", weak: "none", full: "weak" };

/** What a part does as somebody names it who now and then takes the next word. */
export function namedBy(result: Result, error: number, chance: Chance): Result {
  const next = result.kind === "word" ? NEXT_WORD[result.word] : undefined;
  return next !== undefined && chance() < error ? { kind: "word", word: next as never } : result;
}
