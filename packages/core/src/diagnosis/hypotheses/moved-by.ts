import type { Fault, VehicleState } from "../../circuit/index.ts";
import type { SupposedFault } from "../../faults/index.ts";
import { batteryNegative, type Harness, moduleGround, onlyPlace, pinPlace } from "../../harness/index.ts";
import type { Evidence } from "../evidence/evidence.ts";
import { scaled, sigmaOf } from "../evidence/likelihood.ts";
import type { ViewOptions } from "../simulate/phase-base.ts";
import { flickersIn, type Row, voltsIn, workOf } from "../simulate/row.ts";
import { type View, viewOf } from "../simulate/view.ts";

/** Where and how a thing is observed, with nothing else computed. */
interface Lookout {
  readonly places: readonly string[];
  readonly parts: readonly string[];
  readonly state: VehicleState;
  readonly options: ViewOptions;
  /** Undefined: there is no telling. */
  readonly value: (view: View, row: Row, faults: readonly Fault[]) => number | undefined;
}

/** Work that changes by this share is no longer the same. */
const CHANGED = 0.05;
/** A fault counts when it moves what was observed by more than so many standard deviations. */
const SIGMAS = 1;
/** Up to so many faults of a circuit those that shake the whole of it are solved in full, and wires that may touch are tried. */
export const SMALL_CATALOGUE = 1500;

/**
 * Every fault of the catalogue that can move what was observed by more than its noise, whatever it does to a complaint: tried at its least, middle and greatest severity.
 * None for what no single solution tells: answers, codes, looks, swaps, wiggles and checks.
 */
export function faultsMoving(harness: Harness, e: Evidence, catalogue: readonly SupposedFault[]): readonly SupposedFault[] {
  const lookout = lookoutFor(harness, e);
  if (lookout === undefined) return [];
  const places = lookout.places.map(onlyPlace);
  const view = viewOf(harness, lookout.state, [...new Set([batteryNegative(harness), ...places])], lookout.parts, {
    watch: places,
    ...lookout.options,
  });
  const sound = view === undefined ? undefined : lookout.value(view, view.sound, []);
  if (view === undefined || sound === undefined) return [];
  const isSmall = catalogue.length <= SMALL_CATALOGUE;
  const moves = (fault: Fault): boolean => {
    const row = view.quickRowOf([fault]) ?? (isSmall ? view.rowOf([fault]) : undefined);
    if (row === undefined || row === view.sound || row.unsolved) return false;
    const value = lookout.value(view, row, [fault]);
    if (value === undefined) return false;
    if (e.observe.kind === "part")
      return Math.abs(value - sound) > CHANGED * Math.max(CHANGED, sound) || flickersIn(view, row, e.observe.part);
    return Math.abs(scaled(e.observe, value) - scaled(e.observe, sound)) > SIGMAS * sigmaOf(e.observe, sound);
  };
  return catalogue.filter((f) => {
    if (f.where !== undefined && !isSmall) return false;
    const tried = new Set([f.severities[0]!, f.severities[f.severities.length >> 1]!, f.severities.at(-1)!]);
    return [...tried].some((severity) => moves(f.faultAt(severity)));
  });
}

function lookoutFor(harness: Harness, { observe: o, state }: Evidence): Lookout | undefined {
  const between = (red: string, black: string): Lookout => ({
    places: [red, black],
    parts: [],
    state,
    options: {},
    value: (view, row) => voltsIn(view, row, red, black),
  });
  switch (o.kind) {
    case "volts":
      return between(o.red, o.black);
    case "live":
      return between(pinPlace(o.module, o.pin), moduleGround(o.module));
    case "lamp":
      return { ...between(o.red, o.black), state: { ...state, lamps: [...(state.lamps ?? []), [o.red, o.black, o.watts]] } };
    case "amps":
      return { places: [], parts: [], state, options: {}, value: (view, _, faults) => view.ampsOf(faults, o.around) };
    case "part":
      return { places: [], parts: [o.part], state, options: {}, value: (view, row) => workOf(view, row, o.part) };
    case "ohms": {
      const minus = batteryNegative(harness);
      const other = o.black === minus ? o.red : o.red === minus ? o.black : undefined;
      if (other === undefined) return undefined;
      return {
        places: [other],
        parts: [],
        state,
        options: { dead: true },
        value: (view, row) => row.drivingPointOhms[view.placeIndex.get(other) ?? -1],
      };
    }
    case "answers":
    case "code":
    case "look":
    case "swap":
    case "wiggle":
    case "check":
      return undefined;
  }
}
