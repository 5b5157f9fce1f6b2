import { type Circuit, reduceCircuit } from "../circuit/index.ts";
import { partNameIn, type PlaceId } from "../harness/index.ts";
import { createSolver, curveOf, type Element, type Memory, type Point, waveAt } from "../solver/index.ts";

/** Where a trace is taken: between two nodes, or around an element, by index. */
export type Look = { readonly p: number; readonly q: number } | { readonly around: number };

/** A source that moves what is looked at by less than this share of what the others do, or by less than this many V or A, stands still. */
const LEAST_SHARE = 2e-3;
const LEAST = 2e-4;
/** A curve is straight enough where its tangent is right within this share of what its current changes by. */
const STRAIGHT = 0.01;
const LEAST_AMPS = 1e-7;
/** A junction whose voltage swings by so much may conduct while a winding kicks, whatever it does at rest, V. */
const SWINGS_VOLTS = 0.3;
/** An inductor's current that changes by less stands still, A and as a share of it. */
const STILL_AMPS = 1e-5;
const STILL_SHARE = 0.02;
const WIRE_OHMS = 1e-3;
/** What is cut off is not turned into a mesh of more than this many with each other: that would cost more at every step than it saves. */
const MOST_NEIGHBOURS = 3;
/** Moments of a turn at which sources that swing are looked at. */
const MOMENTS = 6;

type Source = Extract<Element, { kind: "source" | "current" }>;
const swings = (e: Element): e is Source => (e.kind === "source" || e.kind === "current") && e.wave !== undefined;

/**
 * Cuts a transient's circuit down to what moves where it is looked at: sources whose course makes no difference there stand still, and what no other one
 * moves is stood in for by its tangents (see reduceCircuit). The whole circuit where it has no rest to judge by. Names of what is looked at stay.
 */
export function whatMoves(circuit: Circuit, looks: readonly Look[]): Circuit {
  const { netlist } = circuit;
  const solver = createSolver();
  /** What contacts and relays remember of the rest before anything swings: they go on from there. */
  let before: Memory | undefined;
  const solveAt = (values: ReadonlyMap<string, number>): Point | undefined => {
    const solved = solver(
      {
        // At rest windings are wires.
        nodes: netlist.nodes,
        elements: netlist.elements.map((e) => (swings(e) ? held(e, values.get(e.id) ?? waveAt(e.wave!, 0)) : e)),
      },
      before,
    );
    if (solved.kind !== "solved") return undefined;
    before ??= solved.memory();
    return solved;
  };
  const base = solveAt(new Map());
  if (base === undefined) return circuit;
  const seen = (point: Point): readonly number[] =>
    looks.map((l) => ("around" in l ? point.amps[l.around]! : point.volts[l.p]! - point.volts[l.q]!));
  const groups = groupsOf(netlist.elements.filter(swings));
  // What one of them moves may show only while another is on, as ripple does behind a pulsed output: each is looked at beside all the others at rest, and beside all of them at their first moment.
  const moved = groups.map(({ ids, moments }) => {
    const around = [new Map<string, number>(), new Map(groups.flatMap((g) => (g.ids === ids ? [] : [...g.moments[0]!])))];
    const rounds = around.map((others) => ({
      from: solveAt(others),
      points: moments.flatMap((values) => solveAt(new Map([...others, ...values])) ?? []),
    }));
    const by = looks.map((_, k) =>
      Math.max(0, ...rounds.flatMap(({ from, points }) => points.map((p) => Math.abs(seen(p)[k]! - seen(from ?? base)[k]!)))),
    );
    const points = rounds.flatMap((r) => r.points);
    return { ids, points, by, isWhole: rounds.every((r) => r.from !== undefined) && points.length === around.length * moments.length };
  });
  if (!moved.every((m) => m.isWhole)) return circuit;
  const most = looks.map((_, k) => Math.max(0, ...moved.map((m) => m.by[k]!)));
  const lively = moved.filter((m) => m.by.some((by, k) => by > Math.max(LEAST, LEAST_SHARE * most[k]!)));
  const live = new Set(lively.flatMap((m) => m.ids));
  // All at once as well: what two of them throw together.
  const together = solveAt(new Map(groups.flatMap((g) => (live.has(g.ids[0]!) ? [...g.moments[0]!] : []))));
  const points = [...lively.flatMap((m) => m.points), ...(together === undefined ? [] : [together])];

  // A coil strikes its arc only once it is switched off: with one winding all of its part stays.
  const coils = new Set(
    (netlist.couplings ?? []).flatMap(({ first, second }) => {
      const isMoving = [first, second].some((id) => {
        const i = circuit.elementOf.get(id);
        return i !== undefined && moves(netlist.elements[i]!, i, base, points);
      });
      return isMoving ? [partNameIn(first)] : [];
    }),
  );
  const looked = new Set(looks.flatMap((l) => ("around" in l ? [l.around] : [])));
  const keeps = new Set<string>();
  const elements = netlist.elements.map((e, i): Element => {
    if (swings(e) && !live.has(e.id)) return held(e, waveAt(e.wave!, 0));
    if (
      looked.has(i) ||
      (swings(e) && live.has(e.id)) ||
      e.kind === "capacitor" ||
      (!isStill(e) && coils.has(partNameIn(e.id))) ||
      moves(e, i, base, points)
    ) {
      keeps.add(e.id);
      return e;
    }
    if (e.kind !== "inductor") return e;
    // One that carries next to nothing lets a signal through, as a sensor's winding does; one that carries its current keeps it.
    const amps = base.amps[i]!;
    return Math.abs(amps) < STILL_AMPS
      ? { id: e.id, kind: "resistor", a: e.a, b: e.b, ohms: WIRE_OHMS }
      : { id: e.id, kind: "current", a: e.a, b: e.b, amps };
  });
  const places = looks.flatMap((l) => ("around" in l ? [] : [netlist.nodes[l.p] as PlaceId, netlist.nodes[l.q] as PlaceId]));
  const cut = reduceCircuit({ ...circuit, netlist: { ...netlist, elements } }, base, (id) => keeps.has(id), places, MOST_NEIGHBOURS);
  const couplings = (netlist.couplings ?? []).filter((c) => keeps.has(c.first) && keeps.has(c.second));
  return { ...cut, netlist: { ...cut.netlist, couplings } };
}

const isStill = (e: Element): boolean => e.kind === "resistor" || e.kind === "source" || e.kind === "current";

const held = ({ id, a, b, ...e }: Source, value: number): Element =>
  e.kind === "source"
    ? { id, a, b, kind: "source", volts: value, internalOhms: e.internalOhms }
    : { id, a, b, kind: "current", amps: value };

/** Sources that move together, and what each of them has at the moments to look at. */
function groupsOf(
  sources: readonly Source[],
): readonly { readonly ids: readonly string[]; readonly moments: readonly ReadonlyMap<string, number>[] }[] {
  const byPace = new Map<string, Source[]>();
  for (const e of sources) {
    const { wave } = e;
    if (wave === undefined || (wave.kind === "sine" && wave.amplitude === 0)) continue;
    const pace = wave.kind === "sine" ? `${wave.hertz} Hz` : e.id;
    byPace.set(pace, [...(byPace.get(pace) ?? []), e]);
  }
  return [...byPace.values()].map((group) => ({
    ids: group.map((e) => e.id),
    moments: momentsOf(group[0]!).map((t) => new Map(group.map((e) => [e.id, typeof t === "number" ? waveAt(e.wave!, t) : t.value]))),
  }));
}

function momentsOf({ wave }: Source): readonly (number | { readonly value: number })[] {
  switch (wave!.kind) {
    case "sine": {
      const { hertz, delayS } = wave as Extract<NonNullable<Source["wave"]>, { kind: "sine" }>;
      return Array.from({ length: MOMENTS }, (_, k) => Math.max(0, delayS) + (k + 0.5) / (MOMENTS * hertz));
    }
    case "pulse": {
      const { low, high } = wave as Extract<NonNullable<Source["wave"]>, { kind: "pulse" }>;
      return [{ value: high }, { value: low }];
    }
    case "corners": {
      // Each of its values once: at rest it does not matter when.
      const { points } = wave as Extract<NonNullable<Source["wave"]>, { kind: "corners" }>;
      return [...new Set(points.map(([, value]) => value))].map((value) => ({ value }));
    }
  }
}

/** Whether an element must stay itself: its switch is thrown, its current stored, or its curve bent between these points. */
function moves(e: Element, i: number, base: Point, points: readonly Point[]): boolean {
  switch (e.kind) {
    case "switch":
      return points.some((p) => p.closed[i] !== base.closed[i]);
    case "inductor":
      return points.some((p) => Math.abs(p.amps[i]! - base.amps[i]!) > Math.max(STILL_AMPS, STILL_SHARE * Math.abs(base.amps[i]!)));
    case "curve":
    case "diode": {
      const curve = curveOf(e, false)!;
      const v = base.volts[e.a]! - base.volts[e.b]!;
      const tangent = curve(v);
      return points.some((p) => {
        const by = p.volts[e.a]! - p.volts[e.b]! - v;
        const change = curve(v + by).amps - tangent.amps;
        if (Math.abs(by) > SWINGS_VOLTS) return true;
        return Math.abs(change - tangent.siemens * by) > Math.max(LEAST_AMPS, STRAIGHT * Math.abs(change));
      });
    }
    default:
      return false;
  }
}
