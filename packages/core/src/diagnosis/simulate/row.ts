import { shareShown } from "../../instruments/index.ts";

/** What one hypothesis shows in one state. */
export interface Row {
  /** V against battery negative without a meter, mean over pulses, by place index. */
  readonly volts: Float64Array;
  /** Resistance that a meter there looks into, Ω, by place index. */
  readonly drivingPointOhms: Float32Array;
  /** What each part does, by part index: a share of what it does when rated, or rpm; NaN where it shows nothing. */
  readonly work: Float64Array;
  /** 1 for each part that goes on and off without end, by part index; empty when all rests. */
  readonly flickers: Uint8Array;
  /** V by place index at the points between which it goes while something chatters, for each phase in which it does; empty when all rests. */
  readonly swings: readonly (readonly Float64Array[])[];
  /** What the places whose levels are kept stand at in each phase of the pulses; empty where there are none. */
  readonly moments: readonly LevelMoment[];
  /** Without an answer: the circuit is singular or diverged. */
  readonly unsolved: boolean;
}

/** Levels in one phase. */
export interface LevelMoment {
  /** Share of the time. */
  readonly share: number;
  /** V by level index. */
  readonly volts: Float64Array;
}

/** A row while it is being filled, phase by phase. */
export interface RowBeingFilled {
  volts: Float64Array;
  drivingPointOhms: Float32Array;
  work: Float64Array;
  flickers: Uint8Array;
  swings: Float64Array[][];
  moments: LevelMoment[];
  /** Least and most work of parts that work by being switched off, by part index. */
  extremes: Map<number, readonly [least: number, most: number]>;
  unsolved: boolean;
}

const NONE = new Uint8Array(0);

/** A row of zeros for so many places and parts. */
export const emptyRow = (places: number, parts: number): RowBeingFilled => ({
  volts: new Float64Array(places),
  drivingPointOhms: new Float32Array(places),
  work: new Float64Array(parts),
  flickers: NONE,
  swings: [],
  moments: [],
  extremes: new Map(),
  unsolved: false,
});

/** Where in a row a place or part stands. */
export interface RowIndex {
  readonly placeIndex: ReadonlyMap<string, number>;
  readonly partIndex: ReadonlyMap<string, number>;
  /** Of places whose levels are kept phase by phase. */
  readonly levelIndex: ReadonlyMap<string, number>;
}

/** What hangs on more than this hangs on insulation, Ω. */
const FLOATS_OHMS = 5e7;
/** A meter that moves by more than this does not stand still, V. */
const SWINGS_VOLTS = 0.3;

/** How pulses stand between two places of a row: share of the time at each level, V. Undefined for places whose levels the row does not hold. */
export function levelsIn(
  { levelIndex, placeIndex }: RowIndex,
  row: Row,
  red: string,
  black: string,
): readonly (readonly [volts: number, share: number])[] | undefined {
  const [p, q] = [levelIndex.get(red), levelIndex.get(black)];
  if (p === undefined || q === undefined) return undefined;
  // Through the probe a lead that only insulation holds follows the other one.
  const behind = (place: string): number => row.drivingPointOhms[placeIndex.get(place) ?? -1] ?? 0;
  if (behind(red) + behind(black) > FLOATS_OHMS) return row.moments.map(({ share }) => [0, share] as const);
  return row.moments.map(({ volts, share }) => [volts[p]! - volts[q]!, share] as const);
}

/** What a meter, of 10 MΩ unless something else is said, shows between two places of a row, V. Undefined for places that the row does not hold. */
export function voltsIn(
  { placeIndex }: Pick<RowIndex, "placeIndex">,
  row: Row,
  red: string,
  black: string,
  meterOhms?: number,
): number | undefined {
  const [p, q] = [placeIndex.get(red), placeIndex.get(black)];
  if (p === undefined || q === undefined) return undefined;
  const behind = row.drivingPointOhms[p]! + row.drivingPointOhms[q]!;
  // Through the meter a lead that only insulation holds follows the other one.
  if (behind > FLOATS_OHMS) return 0;
  // Two weak places that hang together are taken for apart; what they differ by is nothing then.
  return (row.volts[p]! - row.volts[q]!) * shareShown(behind, meterOhms);
}

/** What a part does in a row; undefined where it shows nothing or the row does not hold it. */
export function workOf({ partIndex }: Pick<RowIndex, "partIndex">, row: Row, part: string): number | undefined {
  const index = partIndex.get(part);
  const value = index === undefined ? NaN : row.work[index]!;
  return Number.isNaN(value) ? undefined : value;
}

/** A module that works by less is asleep. */
const AWAKE = 0.5;
/** Whether a module is awake in a row; one whose work nobody can tell is. */
export const isAwakeIn = (index: RowIndex, row: Row, module: string): boolean => (workOf(index, row, module) ?? 1) >= AWAKE;

/** Whether a part goes on and off without end in a row. */
export const flickersIn = ({ partIndex }: RowIndex, row: Row, part: string): boolean => row.flickers[partIndex.get(part) ?? -1] === 1;

/** Between which values a meter between two places goes in a row, V; undefined where it stands still. */
export function swingIn(index: RowIndex, row: Row, red: string, black: string): readonly [low: number, high: number] | undefined {
  const [p, q] = [index.placeIndex.get(red), index.placeIndex.get(black)];
  if (p === undefined || q === undefined) return undefined;
  // What swings together stands still to a meter between them.
  const swings = row.swings.map((points) => points.map((volts) => volts[p]! - volts[q]!));
  if (!swings.some((across) => Math.max(...across) - Math.min(...across) > SWINGS_VOLTS)) return undefined;
  // Where nothing chatters in another phase it still goes there.
  const all = [...swings.flat(), ...(levelsIn(index, row, red, black) ?? []).map(([level]) => level)];
  return [Math.min(...all), Math.max(...all)];
}
