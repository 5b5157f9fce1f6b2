import { readFileSync } from "node:fs";
import { resolveVariant } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { FAMILIES, makeScenario } from "@rheonom/core/practice";

/** How long a scenario takes to make: the first on a vehicle that was never looked at, and others after it, two of each family. */
const VEHICLES = process.argv.length > 2 ? process.argv.slice(2) : ["rig-horn", "gritter", "ouse", "brigg", "plover"];
console.log("| vehicle | first ms | median ms | p90 ms | slowest |\n| --- | --- | --- | --- | --- |");
for (const vehicle of VEHICLES) {
  const open = () => {
    const { harness } = parseNotation(readFileSync(`demo/vehicles/${vehicle}.circuit`, "utf8"));
    return resolveVariant(
      harness!,
      (harness!.options ?? []).slice(0, 1).map((o) => o.id),
    );
  };
  const timed = (harness: ReturnType<typeof open>, family: (typeof FAMILIES)[number], seed: number): number => {
    const began = performance.now();
    makeScenario(harness, { family, difficulty: 0.3 + 0.3 * (seed % 2), seed });
    return performance.now() - began;
  };
  const first = timed(open(), "open", 5);
  const harness = open();
  const rows = [10, 11]
    .flatMap((seed) => FAMILIES.map((family) => ({ family, ms: timed(harness, family, seed) })))
    .sort((p, q) => p.ms - q.ms);
  const at = (share: number): string => rows[Math.floor(share * (rows.length - 1))]!.ms.toFixed(0);
  const slowest = rows.at(-1)!;
  console.log(`| ${vehicle} | ${first.toFixed(0)} | ${at(0.5)} | ${at(0.9)} | ${slowest.ms.toFixed(0)} (${slowest.family}) |`);
}
