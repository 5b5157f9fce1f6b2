import { REST_STATE, type VehicleState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";

/** A made-up vehicle: branches of fuse, switch, connector, load and one of a dozen grounds; every fifth is fed by a relay. Six wires and more a branch. */
export function vehicle(branches: number): Harness {
  const lines = ["BAT -- RD 35mm2 0.6m -- S1"];
  for (let i = 1; i <= branches; i++) {
    const load =
      i % 3 === 0
        ? `L${i}(lamp ${i % 2 === 0 ? 21 : 55}W)`
        : i % 3 === 1
          ? `M${i}(dcmotor runningAmps=${2 + (i % 9)})`
          : `H${i}(heater ${1 + (i % 5)}A)`;
    const feed = i % 5 === 0 ? `R${i}.30\nR${i}.87(relay)` : `SW${i}`;
    lines.push(
      `S1 -- RD 6mm2 0.4m -- F${i}(${20}A) -- RD 2.5mm2 1.${i % 10}m -- ${feed} -- RD 1.5mm2 2m -- C${i}.1 -- RD 1.5mm2 1m -- ${load}`,
      `${load.slice(0, load.indexOf("("))} -- BK 1.5mm2 0.5m -- C${i}.2 -- BK 1.5mm2 0.7m -- G${1 + (i % 12)}`,
    );
    if (i % 5 === 0)
      lines.push(`F${i}.2 -- RD 0.75mm2 0.8m -- SW${i} -- BU 0.75mm2 0.5m -- R${i}.86`, `R${i}.85 -- BN 0.75mm2 0.6m -- G${1 + (i % 12)}`);
  }
  lines.push("G20 -- BK 50mm2 0.5m -- BAT");
  const { harness, problems } = parseNotation(lines.join("\n"));
  if (harness === undefined) throw new Error(problems.find((p) => p.severity === "error")?.message);
  return harness;
}

export function statesOf(harness: Harness): VehicleState[] {
  const on = harness.components.filter((c) => c.kind === "switch").map((c) => c.id);
  return [
    { ...REST_STATE, on },
    { ...REST_STATE, on: [] },
    { ...REST_STATE, on, engine: "idling" },
    { ...REST_STATE, on: on.filter((_, i) => i % 2 === 0) },
    { ...REST_STATE, on: on.filter((_, i) => i % 3 === 0), temperatureC: 80 },
    { ...REST_STATE, on, key: "run", engine: "at speed", temperatureC: -20 },
  ];
}
