import type { VehicleState } from "../../circuit/index.ts";
import { lampBrightness } from "../../devices/index.ts";
import { batteryNegative, lookupOf, moduleGround, pinPlace } from "../../harness/index.ts";
import { LIVE_VOLTS, predictReading, pulsesOf, ratedWork, type Pulses } from "../../instruments/index.ts";
import { volts } from "../../quantity/index.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import { exactly, MUTE, UNKNOWN, type Predicted } from "../evidence/predicted.ts";
import { faultsOf, singlesOf, type Hypothesis } from "../hypotheses/space.ts";
import { flickersIn, isAwakeIn, levelsIn, swingIn, voltsIn, workOf, type Row } from "../simulate/row.ts";
import type { View } from "../simulate/view.ts";
import { answersChance, codeChance } from "./communication.ts";
import { isAt } from "./is-at.ts";
import { damageOf, lookChance } from "./look-chance.ts";
import { asideIn, type RowStore } from "./row-store.ts";

/** What a hypothesis (undefined: the sound vehicle) shows in a state; `exact` weighs neighbouring severities too. */
type Predictor<K extends Observable["kind"]> = (
  rows: RowStore,
  state: VehicleState,
  o: Extract<Observable, { kind: K }>,
  of: Hypothesis | undefined,
  exact: boolean,
) => Predicted;

/** Below this a part does nothing in the sound vehicle, and what it is rated for counts instead; in the unit of its work. */
const LEAST_WORK = 0.02;
/** Chances where the circuit decides nothing: what a swap, a new fuse, a wiggle and a look at a sound vehicle show. Estimates. */
const CHANCES = {
  swapCures: 0.98,
  swapMisleads: 0.02,
  wiggleMoves: 0.8,
  wiggleMisleads: 0.05,
  soundLooksDamaged: 0.01,
  blownShows: 0.98,
  newFuseHolds: 0.98,
} as const;

/** More than any beeper answers, Ω. */
const OPEN_OHMS = 1e7;

/** Whether something chatters: then a scope shows no pulses that could be read. */
function isRestless(rows: RowStore, state: VehicleState, of: Hypothesis | undefined): boolean {
  const row = rows.row(rows.shelf(state), of);
  return row !== undefined && row.swings.length > 0;
}

/** Pulses between two places of a row; where none are kept or nothing pulses, one level. */
function pulsesIn(view: View, row: Row, red: string, black: string): Pulses | undefined {
  const steady = voltsIn(view, row, red, black);
  const levels = levelsIn(view, row, red, black) ?? [];
  return levels.length > 0 ? pulsesOf(levels) : steady === undefined ? undefined : pulsesOf([[steady, 1]]);
}

/** How each kind of evidence is predicted. */
const PREDICTORS: { readonly [K in Observable["kind"]]: Predictor<K> } = {
  volts: (rows, state, o, of, exact) =>
    rows.read(
      rows.shelf(state),
      of,
      exact,
      (v, r) => voltsIn(v, r, o.red, o.black, o.inputOhms),
      (v, r) => swingIn(v, r, o.red, o.black),
    ),
  level: (rows, state, o, of, exact) =>
    isRestless(rows, state, of)
      ? MUTE
      : rows.read(rows.shelf(state), of, exact, (v, r) => {
          const pulses = pulsesIn(v, r, o.red, o.black);
          return pulses === undefined ? undefined : o.which === "high" ? pulses.high : pulses.low;
        }),
  duty: (rows, state, o, of, exact) =>
    isRestless(rows, state, of) ? MUTE : rows.read(rows.shelf(state), of, exact, (v, r) => pulsesIn(v, r, o.red, o.black)?.dutyPercent),
  ohms: (rows, state, o, of, exact) => {
    const live = rows.read(rows.shelf(state), of, false, (v, r) => voltsIn(v, r, o.red, o.black));
    if (Math.abs(live.value) > LIVE_VOLTS) return { ...live, oscillating: true };
    const minus = batteryNegative(rows.harness);
    const other = o.black === minus ? o.red : o.red === minus ? o.black : undefined;
    if (other !== undefined)
      return rows.read(rows.shelf(state, { dead: true }), of, exact, (v, r) => {
        const i = v.placeIndex.get(other);
        return i === undefined ? undefined : r.drivingPointOhms[i];
      });
    const dead = rows.shelf(state, { dead: true });
    return exactly(
      asideIn(dead, `${o.red} ${o.black}`, of, () => {
        const quick = dead.view?.ohmsBetween(faultsOf(of), o.red, o.black);
        if (quick !== undefined) return quick;
        const reading = predictReading(rows.harness, state, faultsOf(of), { quantity: "ohms", red: o.red, black: o.black });
        return reading.kind === "value" ? reading.value : reading.kind === "over" ? Infinity : NaN;
      }),
    );
  },
  // An end to the ohms that are told apart: what is open is open.
  continuity: (rows, state, o, of, exact) => {
    const { value, low, high, ...rest } = predictIn(rows, state, { ...o, kind: "ohms" }, of, exact);
    return { ...rest, value: Math.min(OPEN_OHMS, value), low: Math.min(OPEN_OHMS, low), high: Math.min(OPEN_OHMS, high) };
  },
  amps: (rows, state, o, of) => {
    const shelf = rows.shelf(state);
    return exactly(asideIn(shelf, o.around, of, () => shelf.view?.ampsOf(faultsOf(of), o.around) ?? NaN));
  },
  lamp: (rows, state, o, of, exact) =>
    rows.read(rows.shelf(litBy(state, o)), of, exact, (v, r) => {
      const across = voltsIn(v, r, o.red, o.black);
      return across === undefined ? undefined : lampBrightness(volts(rows.harness.nominalVolts), volts(across));
    }),
  part: (rows, state, o, of, exact) => {
    const shelf = rows.shelf(state);
    const sound = shelf.view === undefined ? undefined : workOf(shelf.view, shelf.view.sound, o.part);
    const { hypotheses, sameWork } = rows.space;
    const isUnasked = sound !== undefined && sound <= LEAST_WORK;
    const seen = rows.read(
      shelf,
      of === undefined ? undefined : (hypotheses[sameWork[of.index] ?? -1] ?? of),
      exact,
      (v, r) => {
        const work = workOf(v, r, o.part);
        if (work === undefined || sound === undefined) return undefined;
        return work / (sound > LEAST_WORK ? sound : ratedWork(rows.harness, o.part));
      },
      (v, r) => flickersIn(v, r, o.part),
    );
    return isUnasked ? { ...seen, isUnasked } : seen;
  },
  answers: (rows, state, o, of) => exactly(answersChance(rows, state, o.module, of)),
  live: (rows, state, o, of, exact) => {
    const shelf = rows.shelf(state);
    const row = rows.row(shelf, of);
    if (shelf.view !== undefined && row !== undefined && !row.unsolved && !isAwakeIn(shelf.view, row, o.module)) return MUTE;
    const [pin, ground] = [pinPlace(o.module, o.pin), moduleGround(o.module)];
    return rows.read(
      shelf,
      of,
      exact,
      (v, r) => voltsIn(v, r, pin, ground),
      (v, r) => swingIn(v, r, pin, ground),
    );
  },
  code: (rows, state, o, of) =>
    exactly(codeChance(rows, state, o.code, of, (module, pin) => predictIn(rows, state, { kind: "live", module, pin }, of).value)),
  look: (rows, state, o, of) => {
    // A fuse that has opened shows it, whatever opened it.
    if (lookupOf(rows.harness).parts.get(o.at)?.kind === "fuse") {
      const shelf = rows.shelf(state);
      const row = rows.row(shelf, of);
      if (shelf.view !== undefined && row !== undefined && workOf(shelf.view, row, o.at) === 0)
        return { ...exactly(CHANCES.blownShows), damage: "burn" };
    }
    if (of === undefined) return exactly(CHANCES.soundLooksDamaged);
    const [likeliest] = singlesOf(of)
      .map((c) => ({ c, chance: lookChance(rows.harness, c, o.at) }))
      .sort((p, q) => q.chance - p.chance);
    const damage = likeliest!.chance > CHANCES.soundLooksDamaged ? damageOf(rows.harness, likeliest!.c) : undefined;
    return { ...exactly(likeliest!.chance), ...(damage === undefined ? {} : { damage }) };
  },
  swap: (_, __, o, of) => exactly(of?.fault.link === o.part && of.second === undefined ? CHANCES.swapCures : CHANCES.swapMisleads),
  // A fuse that was blown and is renewed is sound again; what else is wrong blows it or does not.
  fuse: (rows, state, o, of) => {
    const rest = of === undefined ? [] : singlesOf(of).filter((c) => c.fault.link !== o.at);
    if (rest.length === 0) return exactly(CHANCES.newFuseHolds);
    const { view } = rows.shelf(state);
    const row = rows.row(rows.shelf(state), of);
    const work = view === undefined || row === undefined || row.unsolved ? undefined : workOf(view, row, o.at);
    return work === undefined ? UNKNOWN : exactly(work > 0.5 ? CHANCES.newFuseHolds : 1 - CHANCES.newFuseHolds);
  },
  wiggle: (rows, _, o, of) =>
    exactly(
      of !== undefined && singlesOf(of).some((c) => isAt(rows.harness, c.fault.link, o.at)) ? CHANCES.wiggleMoves : CHANCES.wiggleMisleads,
    ),
  check: () => UNKNOWN,
};

/** What a hypothesis shows where something is observed in a state. */
export const predictIn = (rows: RowStore, state: VehicleState, o: Observable, of: Hypothesis | undefined, exact = false): Predicted =>
  (PREDICTORS[o.kind] as Predictor<typeof o.kind>)(rows, state, o as never, of, exact);

/** The state with a test lamp put in, the same object for the same lamp. */
function litBy(state: VehicleState, o: Extract<Observable, { kind: "lamp" }>): VehicleState {
  const known = lit.get(state) ?? new Map<string, VehicleState>();
  lit.set(state, known);
  const key = `${o.red} ${o.black} ${o.watts}`;
  const made = known.get(key) ?? { ...state, lamps: [...(state.lamps ?? []), [o.red, o.black, o.watts]] };
  known.set(key, made);
  return made;
}
const lit = new WeakMap<VehicleState, Map<string, VehicleState>>();
