import { stateKey, type VehicleState } from "../../circuit/index.ts";
import {
  allPlaces,
  batteryNegative,
  type Harness,
  lookupOf,
  moduleGround,
  onlyPlace,
  partNameIn,
  type PlaceId,
} from "../../harness/index.ts";
import { UNKNOWN, type Predicted } from "../evidence/predicted.ts";
import { besideOf, faultsOf, type Hypothesis, type HypothesisSpace } from "../hypotheses/space.ts";
import type { ViewOptions } from "../simulate/phase-base.ts";
import { endsOf, placesOfInterest } from "../simulate/places.ts";
import type { Row } from "../simulate/row.ts";
import { viewOf, type View } from "../simulate/view.ts";
import type { Refinements } from "./refinements.ts";

/** A state with what was computed in it. */
export interface Shelf {
  readonly view: View | undefined;
  /** By hypothesis index. */
  readonly rows: (Row | undefined)[];
  /** Readings that are no part of a row (A around something, Ω between two places), by name and by hypothesis index, −1 for the sound vehicle; NaN where there is no answer. */
  readonly aside: Map<string, Map<number, number>>;
}

/** A reading beside the rows, computed once. */
export function asideIn({ aside }: Shelf, name: string, of: Hypothesis | undefined, compute: () => number): number {
  const known = aside.get(name) ?? new Map<number, number>();
  aside.set(name, known);
  const index = of?.index ?? -1;
  const value = known.get(index) ?? compute();
  known.set(index, value);
  return value;
}

/** Rows of every hypothesis in every state that was asked for, computed once. */
export interface RowStore {
  readonly harness: Harness;
  readonly space: HypothesisSpace;
  /** `options` with a `name` of their own: the state seen otherwise than by a mean over its pulses; `at`: what its rows hold then. */
  readonly shelf: (state: VehicleState, options?: ViewOptions, name?: string, at?: Pick<Extent, "places" | "parts">) => Shelf;
  /** `of` undefined: the sound vehicle. Undefined where there is no answer or it is deferred. */
  readonly row: (shelf: Shelf, of: Hypothesis | undefined) => Row | undefined;
  /** A number from the rows of a hypothesis and, when exact, of the severities beside it; `isOscillating` says whether it stands still, or between what it goes. */
  readonly read: (
    shelf: Shelf,
    of: Hypothesis | undefined,
    exact: boolean,
    read: (view: View, row: Row) => number | undefined,
    isOscillating?: (view: View, row: Row) => boolean | readonly [low: number, high: number] | undefined,
  ) => Predicted;
  /** Whether a hypothesis would have to be solved in full, which is deferred. */
  readonly isDeferred: (of: Hypothesis) => boolean;
  readonly solveAllDeferred: () => void;
  readonly solveDeferred: (of: Hypothesis) => void;
  /** Whether rows can say something of a place or part. */
  readonly holds: (name: string) => boolean;
  /** States that are kept. */
  readonly kept: () => number;
}

const keyOf = (state: VehicleState, dead: boolean, name: string): string => `${stateKey(state)} ${state.temperatureC} ${dead} ${name}`;

/** What the rows of a space hold: places and parts in question, and those that readings stand at besides. */
export interface Extent {
  readonly places: readonly PlaceId[];
  readonly parts: readonly string[];
  /** Places whose pulses matter. */
  readonly watch: readonly PlaceId[];
  /** Places whose levels are kept phase by phase. */
  readonly levels: readonly PlaceId[];
  /** Elements that are computed as they are; all when left out. */
  readonly keep?: (element: string) => boolean;
}

/**
 * `also`: places and parts that readings stand at although nothing in question leads there; `levels`: places whose pulses were looked at, which on a small circuit are all.
 */
export function extentOf(space: HypothesisSpace, also: readonly string[], levels: readonly string[]): Extent {
  const { harness } = space;
  const known = new Set<string>(allPlaces(harness));
  const alsoPlaces = also.filter((p) => known.has(p)).map(onlyPlace);
  const own = placesOfInterest(
    harness,
    space.hypotheses.map((c) => c.fault),
    space.parts,
  );
  const alsoParts = new Set(also.map(partNameIn));
  const places = [...new Set([...own, ...alsoPlaces])];
  return {
    places,
    levels: space.isSmall ? places : alsoPlaces.filter((p) => levels.includes(p)),
    parts: [...new Set([...space.parts, ...also.filter((p) => lookupOf(harness).parts.has(p))])],
    watch: [...new Set([...endsOf(harness, space.core), ...alsoPlaces])],
    keep: (id) => space.keeps(id) || alsoParts.has(partNameIn(id)) || also.includes(id),
  };
}

/** Only these places and parts, with the whole circuit behind them. */
export function onlyAt({ harness }: HypothesisSpace, names: readonly string[], levels: readonly string[]): Extent {
  const known = new Set<string>(allPlaces(harness));
  const parts = names.filter((n) => lookupOf(harness).parts.has(n));
  const watch = names.filter((n) => known.has(n)).map(onlyPlace);
  // What a module sees it sees against its own ground.
  const isModule = (id: string): boolean => harness.components.some((c) => c.id === id && c.kind === "device" && c.device === "module");
  const inside = parts.filter(isModule).map(moduleGround);
  return {
    places: [...new Set([batteryNegative(harness), ...watch, ...inside])],
    parts,
    watch,
    levels: watch.filter((p) => levels.includes(p)),
  };
}

/** Keeps the rows of a space for an extent. */
export function createRowStore(space: HypothesisSpace, refinements: Refinements, { places, parts, watch, levels, keep }: Extent): RowStore {
  const { harness } = space;
  const held = new Set<string>([...places, ...parts]);
  const placesKnown = new Set<string>(allPlaces(harness));
  const shelves = new Map<string, Shelf>();
  /** The plain ones again, by the state itself: making a key of a state costs more than looking a row up. */
  const plain = new WeakMap<VehicleState, Shelf>();
  const deferred = new Set<number>();
  const solvedAnyway = new Set<number>();
  let allSolved = false;

  const shelf: RowStore["shelf"] = (state, options, name = "", at = { places, parts }) => {
    if (options !== undefined) return named(state, options, name, at);
    const found = plain.get(state) ?? named(state, {}, "", at);
    plain.set(state, found);
    return found;
  };

  function named(state: VehicleState, options: ViewOptions, name: string, at: Pick<Extent, "places" | "parts">): Shelf {
    const key = keyOf(state, options.dead ?? false, name);
    const made = shelves.get(key) ?? firstShelf(key) ?? newShelf(state, options, at);
    shelves.set(key, made);
    return made;
  }

  const newShelf = (state: VehicleState, options: ViewOptions, at: Pick<Extent, "places" | "parts">): Shelf => ({
    view: viewOf(harness, state, at.places, at.parts, { watch, levels, ...(keep === undefined ? {} : { keep }), ...options }),
    rows: [],
    aside: new Map(),
  });

  /** What was computed to find the space is at hand, unless a reading stands at a place that it left out. */
  function firstShelf(key: string): Shelf | undefined {
    const first = space.firstRows;
    if (first === undefined || keyOf(first.view.state, false, "") !== key) return undefined;
    const holdsAll =
      places.every((p) => first.view.placeIndex.has(p)) &&
      parts.every((p) => first.view.partIndex.has(p)) &&
      (!first.view.pulses || levels.every((p) => first.view.levelIndex.has(p)));
    return holdsAll
      ? { view: first.view, rows: space.hypotheses.map((c) => first.rowOf(c.fault, c.severity)), aside: new Map() }
      : undefined;
  }

  function row({ view, rows }: Shelf, of: Hypothesis | undefined): Row | undefined {
    if (view === undefined || of === undefined) return view?.sound;
    const { index, hypothesis } = refinements.representativeOf(of);
    const known = rows[index];
    if (known !== undefined) return known;
    const mayWait = space.isLarge ? !solvedAnyway.has(index) : space.isWide && !allSolved;
    if (!mayWait || index >= space.hypotheses.length) return (rows[index] = view.rowOf(faultsOf(hypothesis)));
    if (deferred.has(index)) return undefined;
    const quick = view.quickRowOf(faultsOf(hypothesis));
    if (quick === undefined) deferred.add(index);
    else rows[index] = quick;
    return quick;
  }

  const read: RowStore["read"] = (on, of, exact, readOff, isOscillating = () => false) => {
    const { view } = on;
    const own = row(on, of);
    if (view === undefined || own === undefined || own.unsolved) return UNKNOWN;
    const value = readOff(view, own) ?? NaN;
    const goes = isOscillating(view, own) ?? false;
    const oscillating = goes === false ? {} : goes === true ? { oscillating: true } : { oscillating: true, between: goes };
    if (!exact || of === undefined) return { value, low: value, high: value, ...oscillating };
    const halfWay = (other: Hypothesis | undefined): number => {
      const there = other === undefined ? undefined : row(on, other);
      const w = there === undefined || there.unsolved ? NaN : (readOff(view, there) ?? NaN);
      return Number.isNaN(w) ? value : (value + w) / 2;
    };
    // A contact that no longer holds at the next severity can turn the reading back, so that the value itself is not always in the middle.
    const [before, after] = besideOf(space, of);
    const [p, q] = [halfWay(before), halfWay(after)];
    return { value, low: Math.min(value, p, q), high: Math.max(value, p, q), ...oscillating };
  };

  return {
    harness,
    space,
    shelf,
    row,
    read,
    isDeferred: (of) => deferred.has(refinements.representativeOf(of).index),
    solveAllDeferred: () => {
      if (allSolved || space.isLarge) return;
      allSolved = true;
      deferred.clear();
    },
    solveDeferred: (of) => {
      const { index } = refinements.representativeOf(of);
      deferred.delete(index);
      solvedAnyway.add(index);
    },
    kept: () => shelves.size,
    holds: (name) => held.has(name) || !(placesKnown.has(name) || lookupOf(harness).parts.has(name)),
  };
}
