import type { VehicleState } from "../../circuit/index.ts";
import { batteryNegative, type Harness, linkOf, lookupOf, partOfPlace, pinPlace, type PlaceId } from "../../harness/index.ts";
import { outOfBounds, refusalsOf } from "../../instruments/index.ts";
import { LAMP_WATTS, lampFor, measurable, type TestSetting, type CandidateTest } from "../effort/candidate-test.ts";
import type { Belief } from "../belief/belief.ts";
import { dividersOf } from "./divide.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import type { Oracle } from "../predict/oracle.ts";

/** Things of which it is thought through what unplugging them would tell; each costs a solution of its own, which takes long on a whole vehicle. */
const MOST_UNPLUGGED = 14;
const FEW_UNPLUGGED = 4;
const MANY_WIRES = 120;

/** Fuses of which the belief says that they may have opened in a state. */
export function blownFuses(oracle: Oracle, belief: Belief, state: VehicleState): readonly string[] {
  const view = oracle.view(state);
  if (view === undefined) return [];
  const fuses = [...oracle.space.parts].filter(
    (id) => lookupOf(oracle.space.harness).parts.get(id)?.kind === "fuse" && !state.opened.includes(id),
  );
  return fuses.filter((id) => {
    const index = view.partIndex.get(id)!;
    let open = 0;
    for (const c of belief.alive) {
      const w = belief.posterior(c);
      if (w > 1e-4 && (oracle.row(state, c)?.work[index] ?? 1) < 0.5) open += w;
    }
    return open > 0.1;
  });
}

/** Unplug one thing and look again at what is wrong: at readings that were off, `offReadings`, among them. */
export function unplugged(
  oracle: Oracle,
  belief: Belief,
  setting: TestSetting,
  accessible: ReadonlySet<string>,
  offReadings: readonly Observable[],
): CandidateTest[] {
  const { harness } = oracle.space;
  const base = setting.state;
  const fuses = setting.instruments.has("test lamp") ? blownFuses(oracle, belief, base) : [];
  const most = harness.wires.length > MANY_WIRES ? FEW_UNPLUGGED : MOST_UNPLUGGED;
  // What shows the trouble is looked at again: the place that reads farthest from sound, or the part itself.
  const place = strangest(oracle, belief, base);
  const fuse = fuses[0];
  const anchor = fuse === undefined ? place : pinPlace(fuse, "2");
  const dividers = anchor === undefined ? [] : dividersOf(harness, belief, anchor, base.opened, accessible);
  const groups = dividers.flatMap((d) => (d.kind === "plug" && !d.ids.includes(fuse ?? "") ? [d.ids] : [])).slice(0, most);
  const things = new Set<string>();
  for (const c of [...belief.alive].sort((p, q) => belief.posterior(q) - belief.posterior(p))) {
    if (belief.posterior(c) < 2e-3) break;
    for (const id of unpluggable(harness, c.fault.link)) things.add(id);
    if (things.size > most) break;
  }
  const found: CandidateTest[] = [];
  const single = [...things].slice(0, most).flatMap((id) => (groups.some((g) => g.length === 1 && g[0] === id) ? [] : [[id]]));
  for (const ids of [...groups, ...single]) {
    if (refusalsOf(harness, base, { kind: "unplug", places: ids }).length > 0) continue;
    const opened = [...new Set([...base.opened, ...ids])].sort();
    if (fuse !== undefined) {
      found.push({ ...lampFor({ ...base, opened }, fuse), kind: "unplug" });
      continue;
    }
    for (const observe of offReadings) found.push({ kind: "unplug", state: { ...base, opened }, observe });
    // What is complained of cannot be looked at while it is unplugged.
    if (ids.some((id) => setting.focus.includes(id))) continue;
    if (place !== undefined && setting.instruments.has("meter"))
      found.push({ kind: "unplug", state: { ...base, opened }, observe: { kind: "volts", red: place, black: batteryNegative(harness) } });
    for (const part of setting.focus.slice(0, 2))
      found.push({ kind: "unplug", state: { ...base, opened }, observe: { kind: "part", part } });
  }
  if (fuse === undefined || refusalsOf(harness, base, { kind: "lamp", places: [`${fuse}.1`, `${fuse}.2`] }).length > 0) return found;
  // With a lamp in place of the fuse its current flows to the short: what it leaves tells a short from what is fed, a clamp tells on which side.
  const state: VehicleState = { ...lampFor(base, fuse).state, lamps: [...(base.lamps ?? []), [`${fuse}.1`, `${fuse}.2`, LAMP_WATTS]] };
  if (setting.instruments.has("meter"))
    found.push({ kind: "measure", state, observe: { kind: "volts", red: `${fuse}.2`, black: batteryNegative(harness) } });
  if (setting.instruments.has("clamp")) {
    const wires = dividers.flatMap((d) => (d.kind === "wire" && outOfBounds(harness, d.ids[0]!) === undefined ? d.ids : []));
    for (const around of wires.slice(0, FEW_UNPLUGGED)) found.push({ kind: "clamp", state, observe: { kind: "amps", around } });
  }
  return found;
}

/** Plugs that isolate a thing: itself where it is a part, and the connectors at its ends. */
function unpluggable(harness: Harness, element: string): readonly string[] {
  const link = linkOf(harness, element);
  const part = lookupOf(harness).parts.get(element);
  const own = part !== undefined && (part.kind === "load" || part.kind === "device" || part.kind === "switch") ? [part.id] : [];
  const ends =
    link === undefined
      ? []
      : [link.a, link.b].flatMap((p) => {
          const at = partOfPlace(harness, p);
          return at !== undefined && (at.kind === "connector" || at.kind === "load" || at.kind === "device") ? [at.id] : [];
        });
  return [...own, ...ends];
}

/** The place that the belief expects farthest from sound, in V. */
function strangest(oracle: Oracle, belief: Belief, state: VehicleState): PlaceId | undefined {
  const view = oracle.view(state);
  if (view === undefined) return undefined;
  const best = belief.alive.reduce((p, q) => (belief.posterior(q) > belief.posterior(p ?? q) ? q : (p ?? q)), belief.alive[0]);
  const row = best === undefined ? undefined : oracle.row(state, best);
  if (row === undefined) return undefined;
  let [found, off] = [undefined as PlaceId | undefined, 0.3];
  for (const p of measurable(oracle, belief)) {
    const i = view.placeIndex.get(p);
    if (i === undefined) continue;
    const by = Math.abs(row.volts[i]! - view.sound.volts[i]!);
    if (by > off) [found, off] = [p, by];
  }
  return found;
}
