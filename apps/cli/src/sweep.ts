import { describeState } from "@rheonom/core/circuit";
import { catalogueOf, sweep } from "@rheonom/core/faults";
import { allPlaces, batteryNegative } from "@rheonom/core/harness";
import { CIRCUIT_OPTIONS, readCircuit, stateOf } from "./circuit-options.ts";
import { readOptions, type Output } from "./usage.ts";

/** Volts below which a fault does not show on a usual meter. */
const SHOWS_VOLTS = 0.02;

/** `rheonom sweep FILE`: every single fault in a state, and where it shows. */
export function sweepCommand(args: readonly string[], out: Output): number {
  const { file, values } = readOptions(args, { ...CIRCUIT_OPTIONS, json: { type: "boolean" } });
  const harness = readCircuit(file);
  const state = stateOf(harness, values);
  const places = allPlaces(harness).filter((p) => p !== batteryNegative(harness));
  const result = sweep(harness, catalogueOf(harness), [state], places);
  const round = (v: number): number => Number(v.toFixed(4));
  const rows = result.cases.map(({ fault, ohms }, c) => ({
    fault: fault.id,
    words: fault.words,
    ohms: fault.mode === "open" ? null : ohms,
    prior: Number((fault.prior / fault.severitiesOhms.length).toPrecision(3)),
    solved: result.unsolved[c] === 0,
    volts: Object.fromEntries(places.map((p, i) => [p, round(result.volts[c * places.length + i]!)])),
  }));
  const sound = Object.fromEntries(places.map((p, i) => [p, round(result.soundVolts[i]!)]));
  if (values.json === true) {
    out.write(`${JSON.stringify({ state, sound, cases: rows })}\n`);
    return 0;
  }
  out.write(`${harness.name}; ${describeState(state)}; ${rows.length} cases\n`);
  for (const row of rows) {
    const moved = places
      .map((p) => ({ p, by: row.volts[p]! - sound[p]! }))
      .filter(({ by }) => Math.abs(by) >= SHOWS_VOLTS)
      .sort((a, b) => Math.abs(b.by) - Math.abs(a.by));
    const shows = !row.solved
      ? "no answer"
      : moved.length === 0
        ? "does not show in this state"
        : `shows at ${moved.length} places, most at ${moved[0]!.p} (${moved[0]!.by.toFixed(2)} V)`;
    out.write(`${row.fault}${row.ohms === null ? "" : ` ${row.ohms} ohm`}: ${shows}\n`);
  }
  return 0;
}
