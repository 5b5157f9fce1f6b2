import type { Netlist, Pace, Rule, Watcher } from "./netlist.ts";

/** From the quickest. */
const PACES = ["electronics", "contact", "boot", "fuse"] as const satisfies readonly Pace[];

const FUSE = PACES.indexOf("fuse");

/** The discrete side of a netlist: what its switches watch, gathered once. */
export interface Watch {
  readonly watchers: readonly Watcher[];
  /** The watchers' nodes and thresholds (V) by index, for quick looking. */
  readonly plus: Int32Array;
  readonly minus: Int32Array;
  readonly rises: Float64Array;
  readonly falls: Float64Array;
  readonly eitherWay: Uint8Array;
  /** Places in PACES of falling and rising. */
  readonly pace: Uint8Array;
  readonly paceUp: Uint8Array;
  /** Element indices of the switches. */
  readonly switches: Int32Array;
  /** Whether the rule of the switch at a position in `switches` holds, given the memory of the watchers. */
  readonly holds: (position: number, memory: Uint8Array) => boolean;
}

/** Watchers and switches of a netlist by index; a watcher that several rules share is one. */
export function watchOf(elements: Netlist["elements"]): Watch {
  const watchers: Watcher[] = [];
  const indexOf = new Map<Watcher, number>();
  const switches: number[] = [];
  const rules: Rule[] = [];
  const gather = (rule: Rule): void => {
    if (rule.kind === "not") gather(rule.of);
    else if (rule.kind !== "watcher") rule.of.forEach(gather);
    else if (!indexOf.has(rule)) indexOf.set(rule, watchers.push(rule) - 1);
  };
  elements.forEach((e, i) => {
    if (e.kind !== "switch") return;
    switches.push(i);
    rules.push(e.rule);
    gather(e.rule);
  });
  // Asked a thousand times for each circuit: looked up once.
  const holding = (rule: Rule): ((memory: Uint8Array) => boolean) => {
    switch (rule.kind) {
      case "watcher": {
        const k = indexOf.get(rule)!;
        return (memory) => memory[k] === 1;
      }
      case "not": {
        const of = holding(rule.of);
        return (memory) => !of(memory);
      }
      case "all": {
        const all = rule.of.map(holding);
        return (memory) => all.every((of) => of(memory));
      }
      case "any": {
        const any = rule.of.map(holding);
        return (memory) => any.some((of) => of(memory));
      }
    }
  };
  const held = rules.map(holding);
  return {
    watchers,
    plus: Int32Array.from(watchers, (w) => w.plus),
    minus: Int32Array.from(watchers, (w) => w.minus),
    rises: Float64Array.from(watchers, (w) => w.rises),
    falls: Float64Array.from(watchers, (w) => w.falls),
    eitherWay: Uint8Array.from(watchers, (w) => (w.eitherWay === true ? 1 : 0)),
    pace: Uint8Array.from(watchers, (w) => PACES.indexOf(w.pace)),
    paceUp: Uint8Array.from(watchers, (w) => PACES.indexOf(w.paceUp ?? w.pace)),
    switches: Int32Array.from(switches),
    holds: (position, memory) => held[position]!(memory),
  };
}

/**
 * Lets the watchers see new potentials; true when any memory differs from what it was. Writes into `memory`. Slower ones look only when the quicker ones
 * rest; of fuses only the one that is loaded most beyond what it bears goes, and so spares those before it. With `turns` (by watcher, when each last moved) only one moves, the one
 * that has waited longest, and its turn is written.
 */
export function updateWatchers(watch: Watch, volts: Float64Array, memory: Uint8Array, turns?: Int32Array): boolean {
  const willing: number[] = [];
  for (let k = 0; k < watch.plus.length; k++) if (wants(watch, k, volts, memory) !== memory[k]) willing.push(k);
  if (willing.length === 0) return false;
  const movers = quickestOf(watch, willing, memory, (k) => controlOf(watch, k, volts));
  if (turns === undefined) {
    for (const k of movers) memory[k] = 1 - memory[k]!;
    return true;
  }
  const waiting = movers.reduce((longest, k) => (turns[k]! < turns[longest]! ? k : longest));
  memory[waiting] = 1 - memory[waiting]!;
  turns[waiting] = Math.max(...turns) + 1;
  return true;
}

/**
 * What goes round without end holds up nothing slower: a watcher that would move at every point of the circle does. True when any moved; writes into `memory`. A module boots on a steady
 * feed while a relay chatters elsewhere.
 */
export function updateWatchersOverCycle(watch: Watch, points: readonly Float64Array[], memory: Uint8Array): boolean {
  const steady = [...watch.plus.keys()].filter((k) => points.every((volts) => wants(watch, k, volts, memory) !== memory[k]));
  const movers = quickestOf(watch, steady, memory, (k) => Math.min(...points.map((volts) => controlOf(watch, k, volts))));
  for (const k of movers) memory[k] = 1 - memory[k]!;
  return movers.length > 0;
}

function controlOf({ plus, minus, eitherWay }: Watch, k: number, volts: Float64Array): number {
  const across = volts[plus[k]!]! - volts[minus[k]!]!;
  return eitherWay[k] === 1 ? Math.abs(across) : across;
}

function wants(watch: Watch, k: number, volts: Float64Array, memory: Uint8Array): number {
  const control = controlOf(watch, k, volts);
  return control > watch.rises[k]! ? 1 : control < watch.falls[k]! ? 0 : memory[k]!;
}

/** Of those that would move the quickest; of fuses only the one that is loaded most beyond what it bears. */
function quickestOf(
  { pace, paceUp, rises }: Watch,
  movers: readonly number[],
  memory: Uint8Array,
  control: (k: number) => number,
): readonly number[] {
  const paceOf = (k: number): number => (memory[k] === 1 ? pace[k]! : paceUp[k]!);
  let quickest: number = PACES.length;
  for (const k of movers) quickest = Math.min(quickest, paceOf(k));
  const first = movers.filter((k) => paceOf(k) === quickest);
  if (quickest !== FUSE) return first;
  const loaded = (k: number): number => control(k) / rises[k]!;
  return [first.reduce((most, k) => (loaded(k) > loaded(most) ? k : most))];
}

/** State of every switch after the memory of the watchers, 1 closed, by element index. Writes into `closed`; true when any moved. */
export function throwSwitches(watch: Watch, memory: Uint8Array, closed: Uint8Array): boolean {
  let moved = false;
  for (let s = 0; s < watch.switches.length; s++) {
    const next = watch.holds(s, memory) ? 1 : 0;
    const i = watch.switches[s]!;
    if (closed[i] !== next) moved = true;
    closed[i] = next;
  }
  return moved;
}
