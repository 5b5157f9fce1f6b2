import { z } from "zod";
import { ENGINE_STATES, KEY_POSITIONS } from "../devices/index.ts";
import { type Harness, leadFuseAmps, lookupOf } from "../harness/index.ts";

/** Sensors and modules that something may act on at one time; no vehicle has as many. */
const MOST_INPUTS = 200;
/** Largest of them, in whatever unit the device says. */
const MOST_INPUT = 1e9;

/**
 * The state a reading is taken in. Without it a reading means nothing.
 * `on`: hand switches that are closed. `opened`: parts or connectors unplugged or pulled; `bridged`: pairs of places joined by a
 * jumper; `lamps`: test lamps of so many watts between two places, in place of a fuse or in series with a wire; `asleep`: modules that sleep; `inputs`: what acts on
 * sensors and modules, in the unit that the device says; nothing of the last three when not said. Lists are sorted, so that equal states are equal texts.
 */
export const vehicleState = z.strictObject({
  key: z.enum(KEY_POSITIONS),
  engine: z.enum(ENGINE_STATES),
  on: z.array(z.string().max(40)).max(200),
  temperatureC: z.number().min(-50).max(150),
  opened: z.array(z.string().max(40)).max(200),
  bridged: z.array(z.tuple([z.string().max(40), z.string().max(40)])).max(50),
  lamps: z
    .array(z.tuple([z.string().max(40), z.string().max(40), z.number().positive().max(100)]))
    .max(20)
    .optional(),
  asleep: z.array(z.string().max(40)).max(200).optional(),
  inputs: z
    .record(z.string().max(40), z.number().min(-MOST_INPUT).max(MOST_INPUT))
    .refine((inputs) => Object.keys(inputs).length <= MOST_INPUTS, { message: `at most ${MOST_INPUTS} inputs` })
    .optional(),
});
export type VehicleState = z.infer<typeof vehicleState>;

export const REST_STATE: VehicleState = {
  key: "off",
  engine: "stopped",
  on: [],
  temperatureC: 20,
  opened: [],
  bridged: [],
  lamps: [],
  asleep: [],
  inputs: {},
};

/** Two states with the same key are the same for comparing readings. Kept by the state, which nothing writes to. */
export function stateKey(state: VehicleState): string {
  const known = keys.get(state) ?? keyMadeOf(state);
  keys.set(state, known);
  return known;
}
const keys = new WeakMap<VehicleState, string>();

const keyMadeOf = (state: VehicleState): string =>
  JSON.stringify([
    state.key,
    state.engine,
    [...state.on].sort(),
    [...state.opened].sort(),
    state.bridged.map((pair) => [...pair].sort().join("~")).sort(),
    (state.lamps ?? []).map(([p, q, watts]) => `${[p, q].sort().join("~")} ${watts}`).sort(),
    [...(state.asleep ?? [])].sort(),
    Object.entries(state.inputs ?? {}).sort(([p], [q]) => (p < q ? -1 : 1)),
  ]);

/** A state with everything put back that was unplugged, pulled, jumpered or fitted. */
export const withoutChanges = (state: VehicleState): VehicleState => ({ ...state, opened: [], bridged: [], lamps: [] });

/** What was done to a part that carries nothing: fuses are pulled, plugs and parts unplugged, all else is disconnected. */
export function openedWord(harness: Harness | undefined, id: string): string {
  switch (harness === undefined ? undefined : lookupOf(harness).parts.get(id)?.kind) {
    case "fuse":
      return "pulled";
    case "connector":
    case "load":
    case "device":
      return "unplugged";
    default:
      return "disconnected";
  }
}

/** "key run, engine stopped, SW1 on, C12 unplugged"; without the harness nobody can say whether something was pulled or unplugged. */
export function describeState(state: VehicleState, harness?: Harness): string {
  return [
    `key ${state.key}`,
    `engine ${state.engine}`,
    ...[...state.on].sort().map((s) => `${s} on`),
    ...[...state.opened].sort().map((s) => `${s} ${openedWord(harness, s)}`),
    ...state.bridged.map(([p, q]) => `${p} bridged to ${q}`),
    ...(state.lamps ?? []).map(([p, q, watts]) => `${watts} W lamp from ${p} to ${q}`),
    ...[...(state.asleep ?? [])].sort().map((s) => `${s} asleep`),
    ...Object.entries(state.inputs ?? {}).map(([id, value]) => `${id} at ${value}`),
  ].join(", ");
}

/** What has to be done to bring the vehicle from one state into another: "key crank, engine cranking, F3 put back"; empty when nothing has to be. */
export function describeChange(from: VehicleState, to: VehicleState, harness: Harness): string {
  const gone = <T>(a: readonly T[] | undefined, b: readonly T[] | undefined): readonly T[] => {
    const kept = new Set((b ?? []).map((x) => JSON.stringify(x)));
    return (a ?? []).filter((x) => !kept.has(JSON.stringify(x)));
  };
  return [
    ...(from.key === to.key ? [] : [`key ${to.key}`]),
    ...(from.engine === to.engine ? [] : [`engine ${to.engine}`]),
    ...gone(to.on, from.on).map((s) => `${s} on`),
    ...gone(from.on, to.on).map((s) => `${s} off`),
    ...gone(from.opened, to.opened).map((s) => `${s} put back`),
    ...gone(to.opened, from.opened).map((s) => `${s} ${openedWord(harness, s)}`),
    ...gone(from.bridged, to.bridged).map(([p, q]) => `jumper from ${p} to ${q} taken off`),
    ...gone(to.bridged, from.bridged).map(([p, q]) => `${p} bridged to ${q} by a lead with a ${leadFuseAmps(harness, p, q)} A fuse`),
    ...gone(from.lamps, to.lamps).map(([p, q]) => `lamp from ${p} to ${q} taken off`),
    ...gone(to.lamps, from.lamps).map(([p, q, watts]) => `${watts} W lamp from ${p} to ${q}`),
    ...gone(from.asleep, to.asleep).map((s) => `${s} awake`),
    ...gone(to.asleep, from.asleep).map((s) => `${s} asleep`),
    ...Object.entries(to.inputs ?? {})
      .filter(([id, value]) => from.inputs?.[id] !== value)
      .map(([id, value]) => `${id} at ${value}`),
  ].join(", ");
}
