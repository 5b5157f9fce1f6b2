import type { VehicleState } from "../circuit/index.ts";
import { type Harness, partNameIn } from "../harness/index.ts";
import type { Leads } from "../instruments/index.ts";
import type { TemporaryKind } from "./events.ts";
import type { JobView } from "./fold.ts";

export interface Caution {
  readonly id: string;
  readonly title: string;
  /** What to do. */
  readonly text: string;
}

/** Stands below every set of cautions. */
export const CAUTION_FOOTER = "The vehicle manufacturer's procedure, local rules and licensed practice take precedence over this tool.";

const CAUTIONS = {
  cranking: {
    id: "cranking",
    title: "The engine is going to turn",
    text: "Neutral or park, brake on, wheels chocked. Nobody under or leaning into the vehicle; agree on a signal before cranking. Keep leads, sleeves and hair out of belts and fan.",
  },
  running: {
    id: "running",
    title: "The engine is running",
    text: "Belts and fan turn and the exhaust is hot. Route the leads away from both, and use exhaust extraction.",
  },
  ohms: {
    id: "ohms",
    title: "Ohms only on a dead circuit",
    text: "Key off, consumer off, feed disconnected. Never on an airbag or seat-belt pretensioner circuit.",
  },
  pierced: {
    id: "pierced",
    title: "A pierced wire lets water in",
    text: "Seal every pierced spot before the job ends. Never pierce orange cables or airbag wiring.",
  },
  jumper: {
    id: "jumper",
    title: "A jumper bypasses the fuse",
    text: "Use a fused lead, its fuse no larger than the circuit's. Know what the pin is first: a module output, a 5 V reference, a sensor signal, a bus line or an airbag circuit is never bridged.",
  },
  unplug: {
    id: "unplug",
    title: "Key off before unplugging",
    text: "Unplugging with the key on sets codes of its own. Airbag connectors stay plugged: battery off, then wait as the manufacturer states.",
  },
  lamp: {
    id: "lamp",
    title: "A lamp loads whatever it touches",
    text: "Good on feeds and grounds. Never on module outputs, 5 V references, sensor signals, bus lines or airbag circuits.",
  },
  battery: {
    id: "battery",
    title: "Battery cables",
    text: "Negative off first and on last. Eye protection, jewellery off, no spanner across the posts, no flame or spark near a charging battery. Let the modules go to sleep first.",
  },
  fuse: {
    id: "fuse",
    title: "The rating on the diagram, never larger",
    text: "A fuse that blows protects the wire. Find what blew it before the next one goes in.",
  },
  heat: {
    id: "heat",
    title: "A bad joint under load gets hot",
    text: "Load it only as long as the reading takes. Smoke or a smell of insulation: switch off, disconnect, ventilate.",
  },
  highVoltage: {
    id: "high-voltage",
    title: "High voltage on this vehicle",
    text: "Orange cables and what they lead to are out of bounds for these tests. Isolating and proving dead is for qualified people only. Work on the 12 V side can still wake the system.",
  },
} as const satisfies Record<string, Caution>;

/** Something that is about to be done. */
export type RiskyAct =
  | { readonly kind: "reading"; readonly quantity: Leads["quantity"]; readonly state: VehicleState; readonly loadAmps: number }
  | { readonly kind: "temporary"; readonly temporary: TemporaryKind }
  | { readonly kind: "mend"; readonly at: string; readonly method: string };

/** Load current from which a bad joint gets hot within minutes, A. */
const HOT_AMPS = 10;

/** Whether the engine is cranked. */
export const turnsEngine = (state: VehicleState): boolean => state.engine === "cranking" || state.key === "crank";
/** Whether a caution is the one that somebody answers before the engine turns. */
export const isCranking = (caution: Caution): boolean => caution.id === CAUTIONS.cranking.id;

/** The cautions that belong to an act, most serious first. */
export function cautionsFor(act: RiskyAct, harness: Harness | undefined): Caution[] {
  switch (act.kind) {
    case "reading":
      return [
        ...(turnsEngine(act.state) ? [CAUTIONS.cranking] : []),
        ...(act.state.engine === "idling" || act.state.engine === "at speed" ? [CAUTIONS.running] : []),
        ...(act.quantity === "ohms" ? [CAUTIONS.ohms] : []),
        ...(act.loadAmps >= HOT_AMPS ? [CAUTIONS.heat] : []),
      ];
    case "temporary":
      switch (act.temporary) {
        case "jumpered":
          return [CAUTIONS.jumper];
        case "pierced":
          return [CAUTIONS.pierced];
        case "unplugged":
          return [CAUTIONS.unplug];
        case "pulled":
          return [CAUTIONS.fuse];
        case "lamp fitted":
          return [CAUTIONS.lamp];
        case "cover off":
        case "other":
          return [];
      }
      break;
    case "mend":
      return [...(touchesBattery(harness, act.at) ? [CAUTIONS.battery] : []), ...(act.method === "fuse renewed" ? [CAUTIONS.fuse] : [])];
  }
}

/** Battery cables and what hangs on a heavy cable: mending it means disconnecting the battery. */
function touchesBattery(harness: Harness | undefined, at: string): boolean {
  const name = partNameIn(at).toLowerCase();
  if (harness === undefined) return false;
  return (
    harness.components.some((c) => c.kind === "battery" && c.id.toLowerCase() === name) ||
    harness.wires.some((w) => w.areaMm2 >= 10 && [w.id, w.from.component, w.to.component].some((id) => id.toLowerCase() === name))
  );
}

/** Cautions that applied to what a job's log shows was done, each once. */
export function cautionsOfJob(view: JobView, harness: Harness | undefined): Caution[] {
  const acts: RiskyAct[] = [
    ...view.readings.map((r): RiskyAct => {
      const loadAmps = r.data.leads.quantity === "amps" && r.data.shown.kind === "value" ? Math.abs(r.data.shown.value) : 0;
      return { kind: "reading", quantity: r.data.leads.quantity, state: r.data.state, loadAmps };
    }),
    ...view.tray.map((t): RiskyAct => ({ kind: "temporary", temporary: t.kind })),
    ...view.mends.map((m): RiskyAct => ({ kind: "mend", at: m.data.at, method: m.data.method })),
  ];
  const found = new Map<string, Caution>();
  if (view.complaint.highVoltage) found.set(CAUTIONS.highVoltage.id, CAUTIONS.highVoltage);
  for (const act of acts) for (const c of cautionsFor(act, harness)) found.set(c.id, c);
  return [...found.values()];
}

/** The caution that stands on every screen of a hybrid or electric vehicle. */
export const HIGH_VOLTAGE_CAUTION: Caution = CAUTIONS.highVoltage;
