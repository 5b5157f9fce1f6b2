import { withoutChanges, type VehicleState } from "../../circuit/index.ts";
import type { Evidence } from "../evidence/evidence.ts";
import { allPlaces, onlyPlace, type Harness } from "../../harness/index.ts";
import { createOracle, type Oracle } from "./oracle.ts";

/** A code that comes from what was done to the vehicle for the tests. */
export interface OwnDoing {
  readonly code: string;
  /** "C4 unplugged", "jumper from A to B": each of them alone is enough to set it, or all of them together are. */
  readonly because: readonly string[];
}

/** From here on a monitor is sure to set its code. */
const SET = 0.5;

/**
 * Codes that a sound vehicle sets in the state in which they were read, and would not set were everything put back. Those say nothing about the complaint; they go when what
 * is named is undone.
 */
export function ownDoing(oracle: Oracle, evidence: readonly Evidence[]): readonly OwnDoing[] {
  const whole = wholeOf(oracle);
  return evidence.flatMap((e): OwnDoing[] => {
    const { observe: o, result, state } = e;
    if (o.kind !== "code" || result.kind !== "word" || result.word === "absent") return [];
    const sets = (s: VehicleState): boolean => whole.predict({ state: s, observe: o }, undefined).value > SET;
    const changes = changesOf(state);
    if (changes.length === 0 || !sets(state) || sets(withoutChanges(state))) return [];
    const alone = changes.filter((c) => sets(c.only));
    return [{ code: o.code, because: (alone.length > 0 ? alone : changes).map((c) => c.words) }];
  });
}

const wholes = new WeakMap<Harness, Oracle>();

/** A code may be set anywhere on the vehicle, whatever the complaint is about: the sound vehicle with all its modules. */
function wholeOf({ space }: Oracle): Oracle {
  const { harness } = space;
  const made =
    wholes.get(harness) ??
    createOracle(
      { ...space, keeps: () => true, firstRows: undefined },
      allPlaces(harness).concat(...harness.components.map((c) => onlyPlace(c.id))),
    );
  wholes.set(harness, made);
  return made;
}

/** Every temporary change of a state, each with the state that has it alone. */
function changesOf(state: VehicleState): readonly { readonly words: string; readonly only: VehicleState }[] {
  const bare = withoutChanges(state);
  return [
    ...state.opened.map((id) => ({ words: `${id} unplugged or pulled`, only: { ...bare, opened: [id] } })),
    ...state.bridged.map((pair) => ({ words: `jumper from ${pair[0]} to ${pair[1]}`, only: { ...bare, bridged: [pair] } })),
    ...(state.lamps ?? []).map((lamp) => ({ words: `test lamp from ${lamp[0]} to ${lamp[1]}`, only: { ...bare, lamps: [lamp] } })),
  ];
}
