import { REST_STATE, type VehicleState } from "../circuit/index.ts";
import { stateInWhich, viewOf, workOf, type View } from "../diagnosis/index.ts";
import { allPlaces, deviceOf, sliceOf, type Harness } from "../harness/index.ts";

/** A state in which a driver uses the vehicle, and which parts do something in it when all is sound. */
export interface Operation {
  readonly state: VehicleState;
  readonly view: View;
  /** Work of each part that does something, by part. */
  readonly working: ReadonlyMap<string, number>;
}

const LEAST_WORK = 0.05;

const permits = new WeakMap<Harness, readonly string[]>();

/** Switches that whoever starts the engine holds closed (clutch, neutral, range, brake): those by hand without which nothing cranks. */
export function startPermits(harness: Harness): readonly string[] {
  const made = permits.get(harness) ?? permitsOf(harness);
  permits.set(harness, made);
  return made;
}

function permitsOf(harness: Harness): readonly string[] {
  const cranking: VehicleState = { ...REST_STATE, key: "crank", engine: "cranking" };
  const cranks = (id: string): boolean =>
    sliceOf(harness, [id]).harness.components.some((c) => c.kind === "switch" && c.closedBy === "crank");
  const starters = harness.components.flatMap((c) => (c.kind === "device" && c.device === "starter" ? [c.id] : []));
  const cranked = starters.length > 0 ? starters : harness.components.flatMap((c) => (c.kind === "load" && cranks(c.id) ? [c.id] : []));
  return [...new Set(cranked.flatMap((id) => stateInWhich(harness, id, cranking)?.on ?? []))];
}

const known = new WeakMap<Harness, readonly Operation[]>();

/**
 * The ways in which a vehicle is used: key off, run, idling, cranking, and each hand switch in the mildest of them in which it does something new. Modules that are told by bus
 * to do something are told.
 */
export function operationsOf(harness: Harness): readonly Operation[] {
  const made = known.get(harness);
  if (made !== undefined) return made;
  const parts = harness.components.flatMap((c) => (c.kind === "load" || c.kind === "device" ? [c.id] : []));
  const found: Operation[] = [];
  const operate = (change: Partial<VehicleState>): Operation | undefined => {
    const state = { ...REST_STATE, ...change };
    const view = viewOf(harness, state, [], parts, { watch: allPlaces(harness) });
    if (view === undefined) return undefined;
    const working = new Map(
      parts.flatMap((p) => {
        const w = workOf(view, view.sound, p);
        return w !== undefined && w > LEAST_WORK ? [[p, w] as const] : [];
      }),
    );
    return { state, view, working };
  };
  const add = (op: Operation | undefined): void => void (op !== undefined && found.push(op));
  const rest = operate({});
  const run = operate({ key: "run" });
  const idle = operate({ key: "run", engine: "idling" });
  for (const op of [rest, run, idle]) add(op);
  const hand = harness.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" ? [c] : []));
  for (const s of hand) {
    for (const base of [rest, run, idle]) {
      if (base === undefined) continue;
      const op = operate({ ...base.state, on: [s.id] });
      // It counts where something begins, or gets clearly more.
      if (op !== undefined && [...op.working].some(([p, w]) => w > 1.5 * (base.working.get(p) ?? 0) + LEAST_WORK)) {
        found.push(op);
        break;
      }
    }
  }
  const told = harness.components.flatMap((c) =>
    c.kind === "device" && JSON.stringify(deviceOf(c).settings).includes("inputAbove") ? [[c.id, 1] as const] : [],
  );
  if (told.length > 0) {
    add(operate({ key: "run", inputs: Object.fromEntries(told) }));
    add(operate({ key: "run", engine: "idling", inputs: Object.fromEntries(told) }));
  }
  add(operate({ key: "crank", engine: "cranking", on: [...startPermits(harness)] }));
  // What no single switch works takes several.
  for (const part of parts) {
    if (found.some((op) => op.working.has(part)) || rest === undefined || workOf(rest.view, rest.view.sound, part) === undefined) continue;
    const asked = harness.components.some((c) => c.id === part && (c.kind === "load" || (c.kind === "device" && c.device !== "module")))
      ? stateInWhich(harness, part, REST_STATE)
      : undefined;
    if (asked !== undefined) add(operate(asked));
  }
  known.set(harness, found);
  return found;
}
