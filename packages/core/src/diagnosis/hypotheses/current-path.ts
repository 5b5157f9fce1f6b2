import { buildCircuit, watchedPairs, type Circuit, type VehicleState } from "../../circuit/index.ts";
import { insulated } from "../../faults/index.ts";
import {
  batteryNegative,
  type Harness,
  isInnerPlace,
  linkOf,
  lookupOf,
  moduleSupply,
  placesOfComponent,
  roleOfPlace,
} from "../../harness/index.ts";
import { createSolver, type SolveResult } from "../../solver/index.ts";

/** Below this a link carries nothing, A. */
const CARRIED_AMPS = 1e-5;
/** What carries less than this share of all that flows to or from a point only leaks past the way. */
const LEAST_SHARE = 0.01;
/** A pin that gives more than this into the circuit at the part's highest voltage is the output of a generator, A. */
const GENERATED_AMPS = 1;

type Solved = Extract<SolveResult, { kind: "solved" }>;
/** Towards where current comes from, or towards where it goes. */
type Direction = "up" | "down";
type Start = readonly [node: number, way: Direction];

/**
 * Links on the way that current takes to and from the parts in question while all is sound: up from their pins to the battery, down to its negative post, and the same for whatever
 * a switch on the way watches. Loads that only share the way are not on it. What a generator gives is followed to the battery and no farther: every load of the vehicle lives on it.
 */
export function currentPath(harness: Harness, parts: readonly string[], state: VehicleState): readonly string[] {
  const circuit = buildCircuit(harness, state, [], { phase: 0, fusesHold: true });
  const solved = createSolver()(insulated(circuit.netlist));
  if (solved.kind !== "solved") return [];
  const walk = walker(harness, circuit, solved);
  const found = new Set<string>();
  const starts: Start[] = [];
  for (const id of parts) {
    const pins = placesOfComponent(harness, lookupOf(harness).parts.get(id)!).map((p) => circuit.nodeOf.get(p) ?? 0);
    const ways = generatorOf(circuit, solved, id, pins);
    for (const n of pins) if (ways === undefined || (n !== ways.out && n !== ways.back)) starts.push([n, "up"], [n, "down"]);
    if (ways === undefined) continue;
    const minus = circuit.nodeOf.get(batteryNegative(harness)) ?? 0;
    const plus = batteryPlus(harness, circuit, minus);
    for (const [from, to] of [
      [ways.out, plus],
      [minus, ways.back],
    ] as const) {
      const arriving = walk([[to, "up"]]);
      for (const l of walk([[from, "down"]])) if (arriving.has(l)) found.add(l);
    }
  }
  for (const l of walk(starts)) found.add(l);
  return [...found].filter((id) => linkOf(harness, id) !== undefined);
}

function batteryPlus(harness: Harness, circuit: Circuit, minus: number): number {
  const battery = harness.components.find((c) => c.kind === "battery")!;
  return placesOfComponent(harness, battery)
    .map((p) => circuit.nodeOf.get(p) ?? 0)
    .find((n) => n !== minus)!;
}

/** Where a part gives current into the circuit and where it takes it back; undefined for one that only uses it. */
function generatorOf(
  { netlist }: Circuit,
  { volts, amps }: Solved,
  id: string,
  pins: readonly number[],
): { readonly out: number; readonly back: number } | undefined {
  const byVolts = [...new Set(pins)].sort((p, q) => volts[q]! - volts[p]!);
  const [out, back] = [byVolts[0], byVolts.at(-1)];
  if (out === undefined || back === undefined || out === back) return undefined;
  let given = 0;
  netlist.elements.forEach((e, i) => {
    if (e.id !== id && !e.id.startsWith(`${id}.`)) return;
    if (e.b === out) given += amps[i]!;
    if (e.a === out) given -= amps[i]!;
  });
  return given > GENERATED_AMPS ? { out, back } : undefined;
}

function walker(harness: Harness, { netlist, battery }: Circuit, solved: Solved): (starts: readonly Start[]) => ReadonlySet<string> {
  const { elements, nodes } = netlist;
  const at: number[][] = nodes.map(() => []);
  elements.forEach((e, i) => {
    at[e.a]!.push(i);
    at[e.b]!.push(i);
  });
  return (starts) => {
    const found = new Set<string>();
    const done = { up: new Uint8Array(nodes.length), down: new Uint8Array(nodes.length) };
    const open: Start[] = [];
    const visit = (node: number, way: Direction, isStart = false): void => {
      if (node < 0 || (node === 0 && !isStart) || done[way][node] === 1) return;
      done[way][node] = 1;
      open.push([node, way]);
    };
    for (const [node, way] of starts) visit(node, way, true);
    for (let here = open.pop(); here !== undefined; here = open.pop()) {
      const [node, way] = here;
      const module = /^(.+)\.~ground$/.exec(nodes[node]!)?.[1];
      // What pulls a module's line up begins at its ground in the model; it lives on the module's supply and not on its other outputs.
      if (module !== undefined && way === "up") {
        visit(node, "down");
        visit(nodes.indexOf(moduleSupply(module)), "up");
        continue;
      }
      const carrying = at[node]!.map((i) => ({
        i,
        amps: (elements[i]!.b === node ? solved.amps[i]! : -solved.amps[i]!) * (way === "up" ? 1 : -1),
      }));
      const least = Math.max(CARRIED_AMPS, LEAST_SHARE * carrying.reduce((sum, { amps }) => sum + Math.max(0, amps), 0));
      for (const { i, amps } of carrying) {
        const e = elements[i]!;
        if (e.id === battery || amps < least) continue;
        if (module !== undefined && /(pull-up|bias|regulator)$/.test(e.id)) continue;
        found.add(e.id);
        visit(e.a === node ? e.b : e.a, way);
        if (e.kind === "switch" && !lookupOf(harness).parts.has(e.id))
          for (const [plus, minus] of watchedPairs(e.rule)) {
            visit(plus, "up");
            visit(minus, "down");
            // What pulls a watched line down is on its way; what else lives on a watched feed or coil is not.
            if (!/^(feed|control|load)$/.test(roleOfPlace(harness, nodes[plus]!) ?? "") && !isInnerPlace(nodes[plus]!)) visit(plus, "down");
          }
      }
    }
    return found;
  };
}
