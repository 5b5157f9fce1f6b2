import { lampBrightness } from "../../devices/index.ts";
import { volts } from "../../quantity/index.ts";
import { stateKey, type VehicleState } from "../../circuit/index.ts";
import { allPlaces, batteryNegative, type Harness, lookupOf, moduleGround, partNameIn, type PlaceId } from "../../harness/index.ts";
import { LIVE_VOLTS, predictReading, ratedWork } from "../../instruments/index.ts";
import { busesOf, hears, touchesBus, type Speaker } from "../simulate/bus-view.ts";
import type { Observable } from "../evidence/evidence.ts";
import { lookChance } from "./sight-of-fault.ts";
import type { Predicted } from "../evidence/likelihood.ts";
import { endsOf, placesOfInterest } from "../simulate/places.ts";
import { besideOf, faultsOf, singlesOf, type Hypothesis, type HypothesisSpace } from "../hypotheses/space.ts";
import { flickersIn, swingsIn, voltsIn, workOf, type Row } from "../simulate/row.ts";
import type { ViewOptions } from "../simulate/phase-base.ts";
import { viewOf, type View } from "../simulate/view.ts";

/** A thing to observe in a state. */
export interface Test {
  readonly state: VehicleState;
  readonly observe: Observable;
}

/** Answers what a hypothesis shows in a test, with everything that was computed once kept. */
export interface Oracle {
  readonly space: HypothesisSpace;
  /** `of` undefined: the sound vehicle. `exact` weighs neighbouring severities too. */
  readonly predict: (test: Test, of: Hypothesis | undefined, exact?: boolean) => Predicted;
  /** Undefined where the sound circuit has no answer. */
  readonly view: (state: VehicleState) => View | undefined;
  readonly row: (state: VehicleState, of: Hypothesis | undefined) => Row | undefined;
  /** Whether a hypothesis would have to be solved in full, which is deferred: what it shows is not known. */
  readonly isDeferred: (of: Hypothesis) => boolean;
  /** From now on every case is, unless the space is a large one. */
  readonly solveAllDeferred: () => void;
  /** From now on this case is solved in full. */
  readonly solveDeferred: (of: Hypothesis) => void;
  /** A hypothesis at a severity of its own. */
  readonly at: (of: Hypothesis, severity: number) => Hypothesis;
  /** Two faults at once. */
  readonly pairOf: (first: Hypothesis, second: Hypothesis) => Hypothesis;
  /** Whether it can say something of a place or part. */
  readonly holds: (name: string) => boolean;
}

interface Entry {
  readonly view: View | undefined;
  readonly rows: (Row | undefined)[];
  /** A by what the clamp is around and by hypothesis index, -1 for the sound vehicle; NaN where there is no answer. */
  readonly amps: Map<string, Map<number, number>>;
}

/** The state with a test lamp put in, the same object for the same lamp. */
const lit = new WeakMap<VehicleState, Map<string, VehicleState>>();
function litBy(state: VehicleState, o: Extract<Observable, { kind: "lamp" }>): VehicleState {
  const known = lit.get(state) ?? new Map<string, VehicleState>();
  lit.set(state, known);
  const key = `${o.red} ${o.black} ${o.watts}`;
  const made = known.get(key) ?? { ...state, lamps: [...(state.lamps ?? []), [o.red, o.black, o.watts]] };
  known.set(key, made);
  return made;
}

const UNKNOWN: Predicted = { value: NaN, low: NaN, high: NaN };
const LEAST_WORK = 0.02;

/** Chance that a vehicle with one fault has another near it, before anything is measured. */
const SECOND_FAULT = 0.05;

const keyOf = (state: VehicleState, dead: boolean, name: string): string => `${stateKey(state)} ${state.temperatureC} ${dead} ${name}`;

/** `also`: places and parts that readings stand at although nothing in question leads there. */
export function createOracle(space: HypothesisSpace, also: readonly string[] = []): Oracle {
  const { harness } = space;
  const minus = batteryNegative(harness);
  const known = new Set<string>(allPlaces(harness));
  const own = placesOfInterest(
    harness,
    space.hypotheses.map((c) => c.fault),
    space.parts,
  );
  const places = [...new Set([...own, ...also.filter((p) => known.has(p))])] as PlaceId[];
  const parts = [...new Set([...space.parts, ...also.filter((p) => lookupOf(harness).parts.has(p))])];
  const watch = [...new Set([...endsOf(harness, space.core), ...(also.filter((p) => known.has(p)) as PlaceId[])])];
  const alsoParts = new Set(also.map((p) => partNameIn(p)));
  const keepsAll = (id: string): boolean => space.keeps(id) || alsoParts.has(partNameIn(id)) || also.includes(id);
  const held = new Set<string>([...places, ...parts]);
  const views = new Map<string, Entry>();
  /** The plain views again, by the state itself: making a key of a state costs more than looking a row up. */
  const plain = new WeakMap<VehicleState, Entry>();
  const buses = busesOf(harness);
  const finer = new Map<string, Hypothesis>();
  const deferred = new Set<number>();
  const solvedAnyway = new Set<number>();
  let allSolved = false;
  /** The same for severities that were made finer. */
  const finerRepresentative = new Map<number, Hypothesis>();
  const firstAt = new Map<string, Hypothesis>();
  for (const c of space.hypotheses) if (!firstAt.has(c.fault.id)) firstAt.set(c.fault.id, c);
  const representativeOf = (of: Hypothesis): number =>
    space.representative[of.index] ?? finerRepresentative.get(of.index)?.index ?? of.index;

  function entry(state: VehicleState, options?: ViewOptions, name = ""): Entry {
    if (options !== undefined) return named(state, options, name);
    const found = plain.get(state) ?? named(state, {}, "");
    plain.set(state, found);
    return found;
  }

  function named(state: VehicleState, options: ViewOptions, name: string): Entry {
    const key = keyOf(state, options.dead ?? false, name);
    const found = views.get(key);
    if (found !== undefined) return found;
    const tried = space.firstRows !== undefined && keyOf(space.firstRows.view.state, false, "") === key ? space.firstRows : undefined;
    // What was tried to find the space is at hand, unless a reading stands at a place that it left out.
    const made: Entry =
      tried !== undefined && places.every((p) => tried.view.placeIndex.has(p)) && parts.every((p) => tried.view.partIndex.has(p))
        ? { view: tried.view, rows: space.hypotheses.map((c) => tried.rowOf(c.fault, c.severity)), amps: new Map() }
        : { view: viewOf(harness, state, places, parts, { watch, keep: keepsAll, ...options }), rows: [], amps: new Map() };
    views.set(key, made);
    return made;
  }

  function rowIn({ view, rows }: Entry, of: Hypothesis | undefined): Row | undefined {
    if (view === undefined || of === undefined) return view?.sound;
    const index = representativeOf(of);
    const known = rows[index];
    if (known !== undefined) return known;
    const supposed = faultsOf(space.hypotheses[index] ?? finerRepresentative.get(of.index) ?? of);
    const mayWait = space.isLarge ? !solvedAnyway.has(index) : space.isWide && !allSolved;
    if (!mayWait || index >= space.hypotheses.length) return (rows[index] = view.rowOf(supposed));
    if (deferred.has(index)) return undefined;
    const quick = view.quickRowOf(supposed);
    if (quick === undefined) deferred.add(index);
    else rows[index] = quick;
    return quick;
  }

  /** A number from the rows of a hypothesis and, when exact, of the severities beside it. */
  function fromRows(
    e: Entry,
    of: Hypothesis | undefined,
    exact: boolean,
    read: (view: View, row: Row) => number | undefined,
    isOscillating: (view: View, row: Row) => boolean = () => false,
  ): Predicted {
    const row = rowIn(e, of);
    if (e.view === undefined || row === undefined || row.unsolved) return UNKNOWN;
    const value = read(e.view, row) ?? NaN;
    const oscillating = isOscillating(e.view, row) ? { oscillating: true } : {};
    if (!exact || of === undefined) return { value, low: value, high: value, ...oscillating };
    const beside = (other: Hypothesis | undefined): number => {
      const there = other === undefined ? undefined : rowIn(e, other);
      const w = there === undefined || there.unsolved ? NaN : (read(e.view!, there) ?? NaN);
      return Number.isNaN(w) ? value : (value + w) / 2;
    };
    // A contact that no longer holds at the next severity can turn the reading back, so that the value itself is not always in the middle.
    const [before, after] = besideOf(space, of);
    const [p, q] = [beside(before), beside(after)];
    return { value, low: Math.min(value, p, q), high: Math.max(value, p, q), ...oscillating };
  }

  function predict({ state, observe: o }: Test, of: Hypothesis | undefined, exact = false): Predicted {
    switch (o.kind) {
      case "volts":
        return fromRows(
          entry(state),
          of,
          exact,
          (v, r) => voltsIn(v, r, o.red, o.black),
          (v, r) => swingsIn(v, r, o.red, o.black),
        );
      case "lamp": {
        return fromRows(entry(litBy(state, o)), of, exact, (v, r) => {
          const across = voltsIn(v, r, o.red, o.black);
          return across === undefined ? undefined : lampBrightness(volts(harness.nominalVolts), volts(across));
        });
      }
      case "part": {
        const e = entry(state);
        const sound = e.view === undefined ? undefined : workOf(e.view, e.view.sound, o.part);
        return fromRows(
          e,
          of === undefined ? undefined : (space.hypotheses[space.sameWork[of.index] ?? -1] ?? of),
          exact,
          (v, r) => {
            const work = workOf(v, r, o.part);
            if (work === undefined || sound === undefined) return undefined;
            return work / (sound > LEAST_WORK ? sound : ratedWork(harness, o.part));
          },
          (v, r) => flickersIn(v, r, o.part),
        );
      }
      case "amps": {
        const { view, amps } = entry(state);
        const known = amps.get(o.around) ?? new Map<number, number>();
        amps.set(o.around, known);
        const value = known.get(of?.index ?? -1) ?? view?.ampsOf(faultsOf(of), o.around) ?? NaN;
        known.set(of?.index ?? -1, value);
        return { value, low: value, high: value };
      }
      case "ohms":
        return ohms(state, o, of, exact);
      case "answers":
        return chance(answers(state, o.module, of));
      case "live":
        return fromRows(entry(state), of, exact, (v, r) =>
          (workOf(v, r, o.module) ?? 1) < 0.5 ? undefined : voltsIn(v, r, `${o.module}.${o.pin}`, moduleGround(o.module)),
        );
      case "code":
        return chance(codeChance(state, o.code, of));
      case "look": {
        // A fuse that has opened shows it, whatever opened it.
        if (lookupOf(harness).parts.get(o.at)?.kind === "fuse") {
          const e = entry(state);
          const row = rowIn(e, of);
          if (e.view !== undefined && row !== undefined && workOf(e.view, row, o.at) === 0) return chance(0.98);
        }
        return chance(of === undefined ? 0.01 : Math.max(...singlesOf(of).map((c) => lookChance(harness, c, o.at))));
      }
      case "swap":
        return chance(of?.fault.link === o.part && of.second === undefined ? 0.98 : 0.02);
      case "wiggle":
        return chance(of !== undefined && singlesOf(of).some((c) => isAt(harness, c.fault.link, o.at)) ? 0.8 : 0.05);
      case "check":
        return UNKNOWN;
    }
  }

  const chance = (p: number): Predicted => ({ value: p, low: p, high: p });

  function ohms(state: VehicleState, o: Extract<Observable, { kind: "ohms" }>, of: Hypothesis | undefined, exact: boolean): Predicted {
    const live = fromRows(entry(state), of, false, (v, r) => voltsIn(v, r, o.red, o.black));
    if (Math.abs(live.value) > LIVE_VOLTS) return { ...live, oscillating: true };
    const other = o.black === minus ? o.red : o.red === minus ? o.black : undefined;
    if (other !== undefined)
      return fromRows(entry(state, { dead: true }), of, exact, (v, r) => {
        const i = v.placeIndex.get(other);
        return i === undefined ? undefined : r.drivingPointOhms[i];
      });
    const reading = predictReading(harness, state, faultsOf(of), { quantity: "ohms", red: o.red, black: o.black });
    const value = reading.kind === "value" ? reading.value : reading.kind === "over" ? Infinity : NaN;
    return { value, low: value, high: value };
  }

  function answers(state: VehicleState, module: string, of: Hypothesis | undefined): number {
    if (!lookupOf(harness).parts.has(module)) return NaN;
    const e = entry(state);
    const row = rowIn(e, of);
    if (e.view === undefined || row === undefined || row.unsolved) return NaN;
    if ((workOf(e.view, row, module) ?? 1) < 0.5) return 0;
    const member = buses.find((b) => b.id === module && b.listeners.length > 0);
    if (member === undefined) return 1;
    // What has nothing to do with the lines leaves them as they are: then it is enough that somebody listens.
    if (of !== undefined && !singlesOf(of).some((c) => touchesBus(harness, member, c.fault)))
      return member.listeners.some((ear) => (workOf(e.view!, row, ear.id) ?? 1) >= 0.5) ? heard(state, member, undefined) : 0;
    return heard(state, member, of);
  }

  function heard(state: VehicleState, member: Speaker, of: Hypothesis | undefined): number {
    const quiet = entry(state, { phase: 1 }, "quiet");
    const speaks = entry(state, { phase: 1, also: [member.held] }, `speaks ${member.id}`);
    const [still, held] = [rowIn(quiet, of), rowIn(speaks, of)];
    if (quiet.view === undefined || speaks.view === undefined || still === undefined || held === undefined) return NaN;
    return hears(member, quiet.view, still, speaks.view, held) ? 1 : 0;
  }

  function codeChance(state: VehicleState, code: string, of: Hypothesis | undefined): number {
    // A tool may add a failure type that the vehicle's list does not tell apart.
    const monitors = harness.monitors?.filter((m) => m.code === code || code.startsWith(`${m.code}-`)) ?? [];
    if (monitors.every((m) => m.silent === undefined && m.pin === undefined)) return NaN;
    let set = 0.02;
    for (const m of monitors) {
      if (m.silent !== undefined) {
        const speaks = answers(state, m.silent, of);
        if (speaks === 0 && answers(state, m.module, of) === 1) set = 0.95;
        continue;
      }
      if (m.pin === undefined) continue;
      const seen = predict({ state, observe: { kind: "live", module: m.module, pin: m.pin } }, of).value;
      if (m.belowVolts !== undefined && seen < m.belowVolts) set = 0.95;
      if (m.aboveVolts !== undefined && seen > m.aboveVolts) set = 0.95;
    }
    return set;
  }

  function at(of: Hypothesis, wanted: number): Hypothesis {
    // A setting has no meaning beyond those that the catalogue gives it; ohms may be anything.
    const { severities } = of.fault;
    const severity =
      of.supposed.kind === "settings" ? Math.min(Math.max(...severities), Math.max(Math.min(...severities), wanted)) : wanted;
    const key = `${of.fault.id} ${severity}`;
    const known = finer.get(key);
    if (known !== undefined) return known;
    const made = { ...of, index: space.hypotheses.length + finer.size, severity, supposed: of.fault.faultAt(severity) };
    finer.set(key, made);
    const first = firstAt.get(of.fault.id);
    const representative = first === undefined ? undefined : space.hypotheses[space.representative[first.index]!];
    if (representative !== undefined && representative !== first) finerRepresentative.set(made.index, at(representative, severity));
    return made;
  }

  return {
    space,
    predict,
    view: (state) => entry(state).view,
    row: (state, of) => rowIn(entry(state), of),
    isDeferred: (of) => deferred.has(representativeOf(of)),
    solveAllDeferred: () => {
      if (allSolved || space.isLarge) return;
      allSolved = true;
      deferred.clear();
    },
    solveDeferred: (of) => {
      deferred.delete(representativeOf(of));
      solvedAnyway.add(representativeOf(of));
    },
    at,
    pairOf: (first, second) => {
      const key = `${first.fault.id} ${first.severity} + ${second.fault.id} ${second.severity}`;
      const logPrior = Math.log(SECOND_FAULT) + first.logPrior + second.logPrior;
      const made = finer.get(key) ?? { ...first, index: space.hypotheses.length + finer.size, second, alone: first, logPrior };
      finer.set(key, made);
      return made;
    },
    holds: (name) => held.has(name) || !(known.has(name) || lookupOf(harness).parts.has(name)),
  };
}

/** Whether a thing lies in a zone, a loom, or at a connector. */
export function isAt(harness: Harness, link: string, where: string): boolean {
  if (link === where || link.startsWith(`${where}.`)) return true;
  const wire = lookupOf(harness).wires.get(link);
  if (wire !== undefined) return (wire.segments ?? []).includes(where);
  const part = lookupOf(harness).parts.get(partNameIn(link));
  return part?.zone === where;
}
