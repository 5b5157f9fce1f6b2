import { stateKey, type VehicleState } from "../circuit/index.ts";
import type { ClampFact, VoltFact } from "../diagnosis/index.ts";
import { type Harness, placesOfComponent } from "../harness/index.ts";
import type { JobView, ReadingView } from "./fold.ts";

/** Unstruck voltage readings of one state as evidence, in order of time. */
export function voltFacts(readings: readonly ReadingView[], state: VehicleState): VoltFact[] {
  const key = stateKey(state);
  return readings.flatMap((r) => {
    const { leads, shown } = r.data;
    if (r.struck !== undefined || leads.quantity !== "volts" || shown.kind !== "value" || stateKey(r.data.state) !== key) return [];
    return [{ id: r.id, red: leads.red, black: leads.black, volts: shown.value, resolutionVolts: resolutionOf(r.data.text) }];
  });
}

/** Unstruck clamp readings of one state. */
export function clampFacts(readings: readonly ReadingView[], state: VehicleState): ClampFact[] {
  const key = stateKey(state);
  return readings.flatMap((r) => {
    const { leads, shown } = r.data;
    if (r.struck !== undefined || leads.quantity !== "amps" || shown.kind !== "value" || stateKey(r.data.state) !== key) return [];
    return [{ id: r.id, around: leads.around, amps: shown.value }];
  });
}

/** Value of the last digit of a voltage as typed: "12.3" → 0.1, "440 mV" → 0.001. V. */
export function resolutionOf(text: string): number {
  const match = /(\d+)(?:\.(\d*))?\s*(m?)v?$/i.exec(text.trim());
  const decimals = match?.[2]?.length ?? 0;
  return 10 ** -decimals * (match?.[3]?.toLowerCase() === "m" ? 1e-3 : 1);
}

/** Readings since the last unstruck mend ("after") or up to it ("before"). */
export function readingsAroundMend(view: JobView, phase: "before" | "after"): readonly ReadingView[] {
  const mends = view.mends.filter((m) => m.struck === undefined).length;
  return view.readings.filter((r) => (phase === "after" ? r.mendsBefore === mends : r.mendsBefore < mends));
}

/** Lamp that a technician puts in place of a fuse, W. */
const FITTED_LAMP_WATTS = 21;

/** What the open tray changes in the model: parts that carry nothing, bridges between places, and lamps. */
export function trayInModel(harness: Harness, view: JobView): Pick<VehicleState, "opened" | "bridged" | "lamps"> {
  const places = new Set<string>(harness.components.flatMap((c) => placesOfComponent(harness, c)));
  const names = new Map<string, string>();
  for (const c of harness.components) names.set(c.id.toLowerCase(), c.id);
  for (const w of harness.wires) names.set(w.id.toLowerCase(), w.id);
  const opened: string[] = [];
  const bridged: [string, string][] = [];
  const lamps: [string, string, number][] = [];
  for (const item of view.tray) {
    if (item.ended !== undefined) continue;
    const name = names.get(item.place.toLowerCase());
    if ((item.kind === "unplugged" || item.kind === "pulled") && name !== undefined) opened.push(name);
    if (item.kind === "jumpered" && places.has(item.place) && places.has(item.to)) bridged.push([item.place, item.to]);
    if (item.kind === "lamp fitted" && places.has(item.place) && places.has(item.to)) lamps.push([item.place, item.to, FITTED_LAMP_WATTS]);
  }
  return { opened: [...new Set(opened)].sort(), bridged, lamps };
}
