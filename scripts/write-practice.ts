import { readFileSync, writeFileSync } from "node:fs";
import { readyFile, type ReadyScenario } from "@rheonom/contract/practice";
import { resolveVariant } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { chanceOf, FAMILIES, makeScenario, playScenario, shuffled } from "@rheonom/core/practice";

/**
 * Makes the scenarios that come with the app anew for the vehicles that are named: `node --import ./scripts/ts-hook.mjs scripts/write-practice.ts rig-horn gritter`. Of every family
 * the first seeds are taken whose scenario the simulated technician solves without too many tests, each fault once. The others stay as they are. On the large vehicles a family
 * takes minutes.
 */
const FILE = new URL("../demo/practice/scenarios.json", import.meta.url);
/** Scenarios of a family on a vehicle. */
const WANTED: Readonly<Record<string, number>> = { brigg: 2, ouse: 2, plover: 1 };
const USUALLY_WANTED = 3;
const MOST_SEEDS = 40;
/** Seeds for which nothing is noticed, after which a family is given up on a vehicle. */
const MOST_NONE = 4;
const MOST_TESTS = 25;
/** Wishes for how hard, in turns. */
const DIFFICULTIES = [0.2, 0.45, 0.7, 0.35, 0.6];

type Made = Omit<ReadyScenario, "id">;

function scenariosOf(vehicle: string): readonly Made[] {
  const notation = readFileSync(new URL(`../demo/vehicles/${vehicle}.circuit`, import.meta.url), "utf8");
  const whole = parseNotation(notation).harness!;
  const options = (whole.options ?? []).slice(0, 1).map((o) => o.id);
  const harness = resolveVariant(whole, options);
  return FAMILIES.flatMap((family): readonly Made[] => {
    const made: Made[] = [];
    const faults = new Set<string>();
    let none = 0;
    for (let seed = 1; seed <= MOST_SEEDS && made.length < (WANTED[vehicle] ?? USUALLY_WANTED) && none < MOST_NONE; seed++) {
      const difficulty = DIFFICULTIES[seed % DIFFICULTIES.length]!;
      const scenario = makeScenario(harness, { family, difficulty, seed });
      if (scenario === undefined) none++;
      const fault = scenario?.truth.map((t) => t.fault.id).join();
      if (scenario === undefined || fault === undefined || faults.has(fault)) continue;
      faults.add(fault);
      const { solved, tests, minutes } = playScenario(harness, scenario);
      if (!solved || tests > MOST_TESTS) continue;
      made.push({ vehicle, options, family, difficulty, seed, tests, minutes: Number(minutes.toFixed(1)), words: scenario.told.words });
    }
    console.log(`${vehicle}, ${family}: ${made.length}`);
    return made;
  });
}

const vehicles = process.argv.slice(2);
const before = readyFile.parse(JSON.parse(readFileSync(FILE, "utf8"))).scenarios;
const made = vehicles.flatMap(scenariosOf);
// Neither names nor order tell of which family one is.
const numbered = [...new Set([...before.map((s) => s.vehicle), ...vehicles])].sort().flatMap((vehicle): readonly ReadyScenario[] =>
  vehicles.includes(vehicle)
    ? shuffled(
        made.filter((s) => s.vehicle === vehicle),
        chanceOf(made.length),
      ).map((s, i) => ({ id: `${vehicle}-${String(i + 1).padStart(2, "0")}`, ...s }))
    : before.filter((s) => s.vehicle === vehicle),
);
writeFileSync(FILE, `${JSON.stringify({ format: "rheonom-practice", version: 1, scenarios: numbered }, null, 2)}\n`);
console.log(`${numbered.length} scenarios`);
