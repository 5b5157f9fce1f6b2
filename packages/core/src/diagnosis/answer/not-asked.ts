import type { VehicleState } from "../../circuit/index.ts";
import { lookupOf, sliceOf, type Harness } from "../../harness/index.ts";
import { soundWork } from "../../instruments/index.ts";
import { workOf } from "../simulate/row.ts";
import type { View } from "../simulate/view.ts";
import type { Diagnosis, Question } from "./diagnose.ts";

/** A part that a sound vehicle does not work either in the state of the complaint, and what has to be done for it to work. */
export interface NotAsked {
  readonly part: string;
  readonly state: VehicleState;
  readonly words: string;
}

const LEAST_WORK = 0.05;

/** Parts that are said to be dead in a state in which nothing asks them to do anything. */
export function notAskedOf(d: Diagnosis, { harness, focus, evidence }: Question): readonly NotAsked[] {
  return focus.flatMap((part) => {
    const said = evidence.find(
      (e) =>
        e.observe.kind === "part" &&
        e.observe.part === part &&
        e.result.kind === "word" &&
        (e.result.word === "none" || e.result.word === "weak"),
    );
    if (said === undefined || isAtWork(d.oracle.view(said.state), part) !== false) return [];
    const asked = stateInWhich(harness, part, said.state);
    return asked === undefined ? [] : [{ part, state: asked, words: wordsOf(harness, part, said.state, asked) }];
  });
}

/** Whether a sound part works in a state; undefined where it shows no work or the circuit has no answer. */
function isAtWork(view: View | undefined, part: string): boolean | undefined {
  const work = view === undefined ? undefined : workOf(view, view.sound, part);
  return work === undefined ? undefined : work > LEAST_WORK;
}

/** Whether a sound part works in a state. */
export const worksIn = (harness: Harness, part: string, state: VehicleState): boolean =>
  (soundWork(harness, state, part) ?? 0) > LEAST_WORK;

/**
 * The state nearest to one in which a sound part works: with more switches on, then with the key on, the engine running, cranking. Only switches without which it does not work
 * are put on. Undefined where none is found. `may`: whether key and engine may be moved for it.
 */
export function stateInWhich(
  harness: Harness,
  part: string,
  from: VehicleState,
  may: "move the key" | "switch alone" = "move the key",
): VehicleState | undefined {
  const handIn = (sharers: boolean): readonly string[] =>
    sliceOf(harness, [part], { sharers }).harness.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" ? [c.id] : []));
  // Those on its own way first: of what hangs beside it there may be many.
  const own = handIn(false);
  const all = [...new Set([...own, ...handIn(true)])];
  const works = (state: VehicleState): boolean => worksIn(harness, part, state);
  for (const position of may === "move the key" ? POSITIONS : POSITIONS.slice(0, 1)) {
    const base: VehicleState = { ...from, ...position };
    const hands = (all.length > own.length ? [own, all] : [own]).find((ids) => works({ ...base, on: [...new Set([...from.on, ...ids])] }));
    if (hands === undefined) continue;
    let on = [...new Set([...from.on, ...hands])];
    for (const id of hands.filter((x) => !from.on.includes(x))) {
      const without = on.filter((x) => x !== id);
      if (works({ ...base, on: without })) on = without;
    }
    return { ...base, on: on.sort() };
  }
  return undefined;
}

/** Where key and engine stand, the nearest first. */
const POSITIONS: readonly Partial<VehicleState>[] = [
  {},
  { key: "run", engine: "stopped" },
  { key: "run", engine: "idling" },
  { key: "crank", engine: "cranking" },
];

const named = (harness: Harness, id: string): string => {
  const part = lookupOf(harness).parts.get(id);
  return part?.label === undefined ? id : `${id} (${part.label})`;
};

function wordsOf(harness: Harness, part: string, now: VehicleState, asked: VehicleState): string {
  const missing = [
    ...(now.key === asked.key ? [] : [`the key is in ${now.key}, not in ${asked.key}`]),
    ...(now.engine === asked.engine ? [] : [asked.engine === "cranking" ? "nobody cranks" : "the engine does not run"]),
    ...asked.on.filter((id) => !now.on.includes(id)).map((id) => `${named(harness, id)} is not switched on`),
  ];
  return `${named(harness, part)} does nothing in this state on a sound vehicle either: ${missing.join(", ")}. Say what it does with that done before anything is suspected.`;
}

/** Nothing but the complaint of parts that nobody asked for anything. */
export const isOnlyNotAsked = (q: Question, notAsked: readonly NotAsked[]): boolean =>
  notAsked.length > 0 &&
  q.evidence.every((e) => e.observe.kind === "part" && notAsked.some((n) => e.observe.kind === "part" && e.observe.part === n.part));
