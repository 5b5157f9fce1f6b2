import { describeState } from "@rheonom/core/circuit";
import { catalogueOf, sweep, UNSOLVED } from "@rheonom/core/faults";
import { allPlaces, batteryNegative } from "@rheonom/core/harness";
import { CIRCUIT_OPTIONS, readCircuit, stateOf } from "./circuit-options.ts";
import { readOptions, UsageError, type Output } from "./usage.ts";

/** Volts below which a fault does not show on a usual meter. */
const SHOWS_VOLTS = 0.02;

const ANSWERS = [
  "solved",
  ...Object.entries(UNSOLVED)
    .sort(([, p], [, q]) => p - q)
    .map(([name]) => name),
];

/** Key and engine through which `--states all` goes. */
const STATES = [
  { key: "off", engine: "stopped" },
  { key: "accessory", engine: "stopped" },
  { key: "run", engine: "stopped" },
  { key: "crank", engine: "cranking" },
  { key: "run", engine: "idling" },
  { key: "run", engine: "at speed" },
] as const;

/** `rheonom sweep FILE`: every single fault, in a state or in all, and where it shows. */
export function sweepCommand(args: readonly string[], out: Output): number {
  const { file, values } = readOptions(args, { ...CIRCUIT_OPTIONS, states: { type: "string" }, json: { type: "boolean" } });
  const harness = readCircuit(file, values.options);
  if (values.states !== undefined && values.states !== "all") throw new UsageError("--states is all, or is left out.");
  const one = stateOf(harness, values);
  const states = values.states === "all" ? STATES.map((s) => ({ ...one, ...s })) : [one];
  const places = allPlaces(harness).filter((p) => p !== batteryNegative(harness));
  const result = sweep(harness, catalogueOf(harness), states, places);
  const round = (v: number): number => Number(v.toFixed(4));
  const row = (from: Float32Array, at: number): Record<string, number> =>
    Object.fromEntries(places.map((p, i) => [p, round(from[at * places.length + i]!)]));
  if (values.json === true) {
    const cases = result.cases.map(({ fault, severity }, c) => ({
      fault: fault.id,
      words: fault.words,
      severity: severity === 0 ? null : severity,
      prior: Number((fault.prior / fault.severities.length).toPrecision(3)),
      states: states.map((_, s) => ({
        answer: ANSWERS[result.unsolved[c * states.length + s]!],
        volts: row(result.volts, c * states.length + s),
      })),
    }));
    out.write(`${JSON.stringify({ states: states.map((state, s) => ({ state, sound: row(result.soundVolts, s) })), cases })}\n`);
    return 0;
  }
  states.forEach((state, s) => {
    out.write(`${harness.name}; ${describeState(state, harness)}; ${result.cases.length} cases\n`);
    const sound = row(result.soundVolts, s);
    result.cases.forEach(({ fault, severity }, c) => {
      const at = c * states.length + s;
      const volts = row(result.volts, at);
      const moved = places
        .map((p) => ({ p, by: volts[p]! - sound[p]! }))
        .filter(({ by }) => Math.abs(by) >= SHOWS_VOLTS)
        .sort((a, b) => Math.abs(b.by) - Math.abs(a.by));
      const answer = ANSWERS[result.unsolved[at]!]!;
      const shows =
        answer === "chatter"
          ? "opens and closes without end"
          : answer !== "solved"
            ? `no answer: ${answer}`
            : moved.length === 0
              ? "does not show in this state"
              : `shows at ${moved.length} places, most at ${moved[0]!.p} (${moved[0]!.by.toFixed(2)} V)`;
      out.write(`${fault.id}${severity === 0 ? "" : ` ${severity}`}: ${shows}\n`);
    });
  });
  return 0;
}
