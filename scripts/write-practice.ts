import { readFileSync, writeFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { readyFile, type ReadyScenario } from "@rheonom/contract/practice";
import { resolveVariant, type Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { chanceOf, FAMILIES, isFamily, makeScenario, playScenario, shuffled, type Family } from "@rheonom/core/practice";

/**
 * Makes the scenarios that come with the app anew for the vehicles that are named: `node --import ./scripts/ts-hook.mjs scripts/write-practice.ts rig-horn gritter`. Of every family
 * the first seeds are taken whose scenario the simulated technician solves without too many tests, each fault once. The others stay as they are. On the large vehicles a family
 * takes minutes. `--family "misfire" --count 6`: only of that family, until there are so many of it on each of the vehicles; `--misdrawn`: the same of those whose diagram is wrong
 * in one place, of any family. What is there stays then.
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

function vehicleOf(vehicle: string): { readonly harness: Harness; readonly options: readonly string[] } {
  const notation = readFileSync(new URL(`../demo/vehicles/${vehicle}.circuit`, import.meta.url), "utf8");
  const whole = parseNotation(notation).harness!;
  const options = (whole.options ?? []).slice(0, 1).map((o) => o.id);
  return { harness: resolveVariant(whole, options), options };
}

/** Scenarios of a family until there are so many with those that are `there`. */
function ofFamily(vehicle: string, family: Family, wanted: number, misdrawn: boolean, there: readonly Made[]): readonly Made[] {
  const { harness, options } = vehicleOf(vehicle);
  const made: Made[] = [];
  const faults = new Set<string>();
  let none = 0;
  for (let seed = 1; seed <= MOST_SEEDS && made.length + there.length < wanted && none < MOST_NONE; seed++) {
    const difficulty = DIFFICULTIES[seed % DIFFICULTIES.length]!;
    const scenario = makeScenario(harness, { family, difficulty, seed, misdrawn });
    if (scenario === undefined) none++;
    const fault = scenario?.truth.map((t) => t.fault.id).join();
    if (scenario === undefined || fault === undefined || faults.has(fault)) continue;
    faults.add(fault);
    if (there.some((s) => s.seed === seed) || (misdrawn && scenario.misdrawn === undefined)) continue;
    const { solved, tests, minutes } = playScenario(harness, scenario);
    if (!solved || tests > MOST_TESTS) continue;
    const kept = { vehicle, options: [...options], family, difficulty, seed, ...(misdrawn ? { misdrawn } : {}) };
    made.push({ ...kept, tests, minutes: Number(minutes.toFixed(1)), words: scenario.told.words });
  }
  console.log(`${vehicle}, ${family}: ${made.length} more`);
  return made;
}

const numbered = (list: readonly Made[], vehicle: string, from: number): readonly ReadyScenario[] =>
  list.map((s, i) => ({ id: `${vehicle}-${String(from + i + 1).padStart(2, "0")}`, ...s }));

/** All of a vehicle anew. Neither names nor order tell of which family one is. */
function anew(vehicle: string): readonly ReadyScenario[] {
  const made = FAMILIES.flatMap((family) => ofFamily(vehicle, family, WANTED[vehicle] ?? USUALLY_WANTED, false, []));
  return numbered(shuffled(made, chanceOf(made.length)), vehicle, 0);
}

/** What there is of a vehicle, and more of some. */
function added(vehicle: string, before: readonly ReadyScenario[]): readonly ReadyScenario[] {
  const count = Number(values.count);
  const made: Made[] = [];
  if (values.misdrawn) {
    // One of each family in turns, until there are enough.
    const there = before.filter((s) => s.misdrawn === true).length;
    for (const family of shuffled(FAMILIES, chanceOf(count))) {
      if (there + made.length >= count) break;
      const known = before.filter((s) => s.misdrawn === true && s.family === family);
      made.push(...ofFamily(vehicle, family, known.length + 1, true, known));
    }
  } else {
    for (const family of values.family.filter(isFamily))
      made.push(
        ...ofFamily(
          vehicle,
          family,
          count,
          false,
          before.filter((s) => s.family === family && s.misdrawn !== true),
        ),
      );
  }
  return [...before, ...numbered(made, vehicle, before.length)];
}

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    family: { type: "string", multiple: true, default: [] },
    misdrawn: { type: "boolean", default: false },
    count: { type: "string", default: "4" },
  },
});
const before = readyFile.parse(JSON.parse(readFileSync(FILE, "utf8"))).scenarios;
const isMore = values.misdrawn || values.family.length > 0;
const scenarios = [...new Set([...before.map((s) => s.vehicle), ...positionals])].sort().flatMap((vehicle) => {
  const there = before.filter((s) => s.vehicle === vehicle);
  return !positionals.includes(vehicle) ? there : isMore ? added(vehicle, there) : anew(vehicle);
});
writeFileSync(FILE, `${JSON.stringify({ format: "rheonom-practice", version: 1, scenarios }, null, 2)}\n`);
console.log(`${scenarios.length} scenarios`);
