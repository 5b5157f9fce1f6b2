import { REST_STATE, type VehicleState } from "../circuit/index.ts";
import { shownBy } from "../diagnosis/index.ts";
import {
  batteryNegative,
  batteryPositive,
  type Component,
  deviceOf,
  groundMap,
  type Harness,
  type Hop,
  isInnerPlace,
  linkOf,
  linksOf,
  loadsOf,
  lookupOf,
  massesOf,
  netAt,
  partNameIn,
  partOfPlace,
  pathOfLoad,
  pinPlace,
} from "../harness/index.ts";
import { operationsOf } from "./operations.ts";
import type { Target } from "./procedure.ts";

/** Battery positive post. Throws RangeError when there is no battery. */
export const plusOf = (h: Harness): string => batteryPositive(h);
/** Battery negative post. Throws RangeError when there is no battery. */
export const minusOf = (h: Harness): string => batteryNegative(h);

/** Where the black lead goes; battery negative where the vehicle has no such block. */
export const referenceOf = (h: Harness, option: string): string =>
  option === "engine block" && massesOf(h).some((m) => m === "engine") ? "engine" : minusOf(h);

/** Volts of a 12 V system for this one. */
export const scaled = (h: Harness, voltsAt12: number): number => (voltsAt12 * h.nominalVolts) / 12;

/** Name and label of a part, for a person. */
export const called = (h: Harness, id: string): string => {
  const label = lookupOf(h).parts.get(id)?.label;
  return label === undefined ? id : `${id} ${label}`;
};
/** A part as the target of a procedure. */
export const targetOf = (h: Harness, id: string): Target => ({ element: id, words: called(h, id) });

/** Devices of some kinds. */
export const devices = (h: Harness, ...kinds: string[]): readonly Component[] =>
  h.components.filter((c) => c.kind === "device" && kinds.includes(c.device));

/** Terminals of a device that have a wire, by role. */
export function pinsBy(h: Harness, id: string, ...roles: string[]): readonly string[] {
  const part = lookupOf(h).parts.get(id);
  if (part?.kind !== "device") return [];
  const { device, settings } = deviceOf(part);
  return device
    .terminals(settings)
    .flatMap((t) => (roles.includes(t.role) && netAt(h, pinPlace(id, t.name)) !== undefined ? [`${id}.${t.name}`] : []));
}

/** A terminal of a device if it has one of that name with something at it. */
export const pin = (h: Harness, id: string, name: string): string | undefined =>
  netAt(h, pinPlace(id, name)) === undefined ? undefined : `${id}.${name}`;

/** The vehicle at rest apart from `change`, at the temperature of `state`. */
export const at = (state: VehicleState, change: Partial<VehicleState>): VehicleState => ({
  ...REST_STATE,
  temperatureC: state.temperatureC,
  ...change,
});
/** The same state with these unplugged, pulled or opened as well. */
export const opening = (state: VehicleState, ...ids: string[]): VehicleState => ({
  ...state,
  opened: [...new Set([...state.opened, ...ids])].sort(),
});

/** The mildest use in which a part works, several switches together where one alone is not enough; the one given when none is known. */
export function workingState(h: Harness, part: string, state: VehicleState): VehicleState {
  const op = operationsOf(h).find((o) => o.working.has(part));
  if (op !== undefined) return { ...op.state, temperatureC: state.temperatureC };
  const on = [...switchesFor(h, part, new Set())].sort();
  for (const change of [{ key: "off" }, { key: "run" }, { key: "run", engine: "idling" }] as const) {
    const tried = at(state, { ...change, on });
    const shown = shownBy(h, { state: tried, observe: { kind: "part", part } }, []);
    if (shown.kind === "word" && shown.word === "full") return tried;
  }
  return state;
}

/** Hand switches on the way of a part and of the relays on it. */
function switchesFor(h: Harness, part: string, seen: Set<string>): ReadonlySet<string> {
  const found = new Set<string>();
  if (seen.has(part)) return found;
  seen.add(part);
  const ways = waysOf(h, part);
  for (const { link } of [...(ways?.feed ?? []), ...(ways?.ground ?? [])]) {
    const id = partNameIn(link.id);
    const owner = lookupOf(h).parts.get(id);
    if (owner?.kind === "switch" && owner.closedBy === "hand") found.add(id);
    if (owner?.kind === "device" && owner.device === "relay") for (const s of switchesFor(h, id, seen)) found.add(s);
  }
  return found;
}

/** The use in which most current goes through a link, and how much, A. */
export function busiestState(h: Harness, link: string, state: VehicleState): { readonly state: VehicleState; readonly amps: number } {
  let best = { state, amps: 0 };
  for (const op of operationsOf(h)) {
    const amps = Math.abs(op.view.ampsOf([], link) ?? 0);
    if (amps > best.amps) best = { state: { ...op.state, temperatureC: state.temperatureC }, amps };
  }
  return best;
}

/** The vehicle while it is cranked, at the temperature of `state`. */
export const crankingState = (h: Harness, state: VehicleState): VehicleState => {
  const op = operationsOf(h).find((o) => o.state.engine === "cranking");
  return { ...(op?.state ?? at(state, { key: "crank", engine: "cranking" })), temperatureC: state.temperatureC };
};

/** Where current goes through a part: its link, or the part of a device that works. */
export const loadLinkOf = (h: Harness, part: string): string | undefined =>
  loadsOf(h).find((l) => l.id === part || l.id.startsWith(`${part}.`))?.id;

export interface Ways {
  readonly feed: readonly Hop[];
  readonly ground: readonly Hop[];
  readonly near: string;
  readonly far: string;
}

/** The way to a part and back. */
export function waysOf(h: Harness, part: string): Ways | undefined {
  const link = loadLinkOf(h, part);
  if (link === undefined) return undefined;
  const path = pathOfLoad(h, link);
  return path.kind === "path" ? { feed: path.feed, ground: path.ground, near: path.load.from, far: path.load.to } : undefined;
}

/** Whether a lead can be put there: not inside a splice or a device. */
export const isMeasurable = (h: Harness, place: string): boolean => partOfPlace(h, place)?.kind !== "splice" && !isInnerPlace(place);

/** Plugs and parts by which the far side of a place can be taken off, those that take off nearest to half of it first. */
export function plugsBehind(h: Harness, place: string): readonly string[] {
  const links = linksOf(h);
  const near = new Map<string, { readonly id: string; readonly to: string }[]>();
  for (const l of links) {
    if (l.kind === "ground") continue;
    for (const [p, q] of [
      [l.a, l.b],
      [l.b, l.a],
    ] as const)
      near.set(p, [...(near.get(p) ?? []), { id: l.id, to: q }]);
  }
  const isEnd = (p: string): boolean => {
    const kind = partOfPlace(h, p)?.kind;
    return kind === "battery" || kind === "ground" || kind === undefined;
  };
  const reach = (without: string | undefined): ReadonlySet<string> => {
    const seen = new Set([place]);
    for (const here of seen) {
      if (here !== place && isEnd(here)) continue;
      for (const { id, to } of near.get(here) ?? []) {
        const owner = partNameIn(id);
        const part = lookupOf(h).parts.get(owner);
        // Current goes on through loads to ground; what hangs behind a fuse ends at its loads.
        if (owner === without || part?.kind === "load" || part?.kind === "device" || part?.kind === "battery") continue;
        if (part?.kind === "fuse") continue;
        seen.add(to);
      }
    }
    return seen;
  };
  const whole = reach(undefined);
  const parts = [...new Set([...whole].flatMap((p) => partOfPlace(h, p) ?? []))];
  const plugs = parts.filter((p) => p.kind === "connector" || p.kind === "load" || p.kind === "device");
  const half = (id: string): number => Math.abs(reach(id).size - whole.size / 2);
  return plugs.map((p) => p.id).sort((p, q) => half(p) - half(q));
}

/** Grounds that current comes back through, with what they serve. */
export const groundsOf = (h: Harness): readonly Target[] =>
  groundMap(h).map((g) => ({
    element: g.id,
    words: `${called(h, g.id)}${
      g.serves.length === 0
        ? ""
        : `, serves ${g.serves
            .slice(0, 4)
            .map((u) => u.id)
            .join(", ")}`
    }`,
  }));

/** A wire with colour and ends. The wire must be one of the harness. */
export const wireWords = (h: Harness, id: string): string => {
  const w = lookupOf(h).wires.get(id)!;
  const link = linkOf(h, id)!;
  return `${id} ${w.colour} from ${link.a} to ${link.b}`;
};
