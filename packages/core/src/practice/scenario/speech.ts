import type { ResultWord } from "../../diagnosis/index.ts";
import { deviceOf, lookupOf, type Harness } from "../../harness/index.ts";
import type { VehicleState } from "../../circuit/index.ts";
import type { Complaint } from "../complaint.ts";
import type { Chance } from "../truth.ts";
import {
  AFTER_A_WHILE,
  BESIDE,
  DRAINED,
  GUESSES,
  HEARD,
  NO_START,
  NOW_AND_THEN,
  OF_KIND,
  ONLY_A_LAMP,
  SAYINGS,
  SPEAKERS,
  TRIED,
} from "./speech-words.ts";

/** What is written into the complaint of a practice job. */
export interface Told {
  readonly speaker: string;
  readonly words: string;
  readonly conditions: string;
  readonly triedBefore: string;
  readonly warningLamps: readonly ("engine" | "charge")[];
}

/** What beside the complaint itself is told of. */
export interface Beside {
  /** Share of the time in which it is there, where it comes and goes. */
  readonly presence: number;
  /** It is not there from the beginning. */
  readonly isLate?: boolean;
  /** A part that somebody has replaced in vain. */
  readonly replaced: string | undefined;
  /** How much of what is said has nothing to do with it, 0 to 1. */
  readonly chatter: number;
}

const from = <T>(list: readonly T[], chance: Chance): T => list[Math.floor(chance() * list.length)]!;

const SIDE = /^(.*), ((?:front |rear )?(?:left|right))$/;

/** "the horn", "the front left side light", "the fuse of the headlamps". */
export function partCalled(harness: Harness, id: string): string {
  const part = lookupOf(harness).parts.get(id);
  const label = part?.label ?? (part?.kind === "device" ? `${deviceOf(part).device.family} ${id}` : id);
  const side = SIDE.exec(label);
  const called = side === null ? label : `${side[2]!} ${side[1]!}`;
  return part?.kind === "fuse" ? `the fuse of the ${called}` : `the ${called}`;
}
const isSeveral = (called: string): boolean => / and |(lights|lamps|wipers|coils|plugs)$/i.test(called);

function inPlace(text: string, called: string): string {
  const several = isSeveral(called);
  const filled = text
    .replaceAll("{it}", called)
    .replaceAll("{is}", several ? "are" : "is")
    .replaceAll("{does}", several ? "do" : "does")
    .replaceAll("{s}", several ? "" : "s");
  return filled.replace(/(^|[.!?] )([a-z])/g, (_, before: string, first: string) => before + first.toUpperCase());
}

/** What a customer says of what the model says fails; the same from the same numbers. Everything said of parts is true, all beside it need not be. */
export function speechOf(harness: Harness, complaint: Complaint, beside: Beside, chance: Chance): Told {
  const lines =
    complaint.by === "scan"
      ? [from(ONLY_A_LAMP, chance)]
      : complaint.by === "meter"
        ? [from(DRAINED, chance)]
        : sayingsOf(harness, complaint, chance);
  if (beside.presence < 1) lines.push(from(NOW_AND_THEN, chance).replaceAll("{n}", from(["three", "four", "five"], chance)));
  if (beside.isLate === true) lines.push(from(AFTER_A_WHILE, chance));
  if (chance() < 0.3 + 0.5 * beside.chatter) lines.splice(Math.floor(chance() * (lines.length + 1)), 0, from(BESIDE, chance));
  if (chance() < 0.6 * beside.chatter) lines.push(from(GUESSES, chance));
  const isCharging = complaint.focus.some((id) => kindOf(harness, id) === "alternator");
  return {
    speaker: from(SPEAKERS, chance),
    words: lines.join(" "),
    conditions: complaint.by === "meter" ? "standing for a day or more" : conditionsOf(harness, complaint.state),
    triedBefore: beside.replaced === undefined ? "" : inPlace(from(TRIED, chance), partCalled(harness, beside.replaced)),
    warningLamps: complaint.by === "scan" || complaint.by === "lamp" ? ["engine"] : isCharging ? ["charge"] : [],
  };
}

function sayingsOf(harness: Harness, { evidence, state }: Complaint, chance: Chance): string[] {
  const lines: string[] = [];
  const inOneWord = new Map<string, string[]>();
  for (const e of evidence) {
    if (e.observe.kind !== "part" || e.result.kind !== "word") continue;
    const kind = kindOf(harness, e.observe.part);
    const { word } = e.result;
    const isStart = e.state.engine === "cranking" && kind !== "starter" && (word === "none" || word === "weak");
    const manner = isStart
      ? "start"
      : (state.engine === "idling" || ANY_STATE.has(kind)) && OF_KIND[kind]?.[word] !== undefined
        ? kind
        : "";
    const key = `${manner} ${word}`;
    inOneWord.set(key, [...(inOneWord.get(key) ?? []), partCalled(harness, e.observe.part)]);
  }
  // Whether it cranks is told first.
  const turns = evidence.some((e) => e.observe.kind === "part" && kindOf(harness, e.observe.part) === "starter");
  for (const [key, called] of inOneWord) {
    const [manner, word] = [key.slice(0, key.indexOf(" ")), key.slice(key.indexOf(" ") + 1) as ResultWord];
    const all = called.length < 2 ? called[0]! : `${called.slice(0, -1).join(", ")} and ${called.at(-1)!}`;
    if (manner === "start" && !turns && lines.length === 0) lines.push(from(NO_START, chance));
    const said = manner === "start" && word === "none" ? HEARD : (OF_KIND[manner]?.[word] ?? SAYINGS[word]);
    if (said !== undefined) lines.push(inPlace(from(said, chance), all));
  }
  return lines;
}

/** Kinds whose own words do not need a running engine. */
const ANY_STATE: ReadonlySet<string> = new Set(["starter", "lamp", "glowplug"]);

function kindOf(harness: Harness, id: string): string {
  const part = lookupOf(harness).parts.get(id);
  return part?.kind === "device" ? part.device : part?.kind === "load" ? part.sort : "";
}

/** "with the engine running, side lights on". */
function conditionsOf(harness: Harness, { key, engine, on }: VehicleState): string {
  const label = (id: string): string => lookupOf(harness).parts.get(id)?.label?.split(",")[0] ?? id;
  const when =
    engine === "idling"
      ? "with the engine running"
      : engine === "cranking"
        ? "when it is cranked"
        : key === "off"
          ? "with the key off"
          : "with the key on";
  return [when, ...(engine === "cranking" ? [] : on.map((id) => `${label(id)} on`))].join(", ");
}
