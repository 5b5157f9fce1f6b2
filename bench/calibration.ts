/**
 * How far the engine's answers can be trusted, over faults that anybody notices (driver, warning lamp, scan, a meter at service): a table by kind of complaint and by family, how
 * often what was given so much was right, and the same with people who err two and four times as often, or as seldom. Run:
 * node --import ./scripts/ts-hook.mjs bench/calibration.ts [cases] [folder] [errors,errors,…]
 * Folders hold circuits: bench/frozen (written before anything was measured on them, and not changed since), packages/core/src/test/proving, demo/vehicles.
 */
import { readdirSync, readFileSync } from "node:fs";
import { resolveVariant } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import {
  calibrationOf,
  chanceOf,
  familyOf,
  peopleWhoErr,
  practise,
  safetyTogether,
  summarise,
  truthsOf,
  type Run,
} from "@rheonom/core/practice";

const [count = "40", folder = "bench/frozen", errors = "1"] = process.argv.slice(2);
const SEED = 23;
const pct = (x: number): string => (Number.isNaN(x) ? "" : `${(100 * x).toFixed(1)} %`);
const row = (name: string, runs: readonly Run[]): string => {
  const s = summarise(runs);
  const acted = runs.filter((r) => r.enough?.yes === true);
  const wrong = acted.filter((r) => !r.right).length;
  return `| ${name} | ${s.cases} | ${pct(s.rightFirst)} | ${pct(s.wrongPart)} | ${pct(wrong / Math.max(1, acted.length))} of ${acted.length} | ${pct(s.notEnough)} | ${s.meanTests.toFixed(2)} | ${s.p95Tests} | ${s.meanMinutes.toFixed(1)} |`;
};
const HEAD =
  "| | cases | right first | wrong part | *enough* and wrong | not enough | mean tests | p95 tests | mean min |\n| --- | --- | --- | --- | --- | --- | --- | --- | --- |";

for (const times of errors.split(",").map(Number)) {
  const all: Run[] = [];
  const perCircuit: [string, Run[]][] = [];
  for (const file of readdirSync(folder).filter((f) => f.endsWith(".circuit"))) {
    const { harness: whole, problems } = parseNotation(readFileSync(`${folder}/${file}`, "utf8"));
    if (whole === undefined) throw new Error(`${file}: ${problems[0]?.message}`);
    const harness = resolveVariant(whole, whole.options?.map((o) => o.id) ?? []);
    const truths = truthsOf(harness, Number(count), SEED);
    const runs = truths.flatMap((t, i) => {
      const run = practise(harness, [t], { chance: chanceOf(SEED + i), people: peopleWhoErr(times) });
      if (run !== undefined && (!run.right || run.enough?.yes !== true))
        console.error(
          `${file} errors ${times}: ${t.fault.id} at ${t.severity} ended at ${run.element}, ${run.enough?.yes === true ? "enough" : "not enough"}, ${run.steps.length} tests`,
        );
      return run ?? [];
    });
    console.error(`${file}: ${runs.length} of ${truths.length} noticed`);
    perCircuit.push([file.replace(".circuit", ""), runs]);
    all.push(...runs);
  }
  console.log(`\nPeople who err ${times} times as often as usual; ${folder}, ${count} faults of each circuit tried.\n\n${HEAD}`);
  for (const [name, runs] of perCircuit) console.log(row(name, runs));
  for (const by of ["driver", "lamp", "scan", "meter"] as const)
    console.log(
      row(
        `complaint: ${by}`,
        all.filter((r) => r.complaint.by === by),
      ),
    );
  for (const family of [...new Set(all.map((r) => familyOf(r.truth[0]!)))].sort())
    console.log(
      row(
        `family: ${family}`,
        all.filter((r) => familyOf(r.truth[0]!) === family),
      ),
    );
  console.log(row("all", all));
  const safety = safetyTogether(all.map((r) => r.safety));
  const named = (list: readonly string[]): string => `${list.length}${list.length === 0 ? "" : ` (${[...new Set(list)].join("; ")})`}`;
  console.log(
    `\nOf ${safety.proposals} proposals on the way a rule forbids ${named(safety.refused)}; ohms between live points ${named(safety.live)}; of ${safety.leads} fused leads the real vehicle blows ${named(safety.blown)}.`,
  );
  const { bins, expectedError } = calibrationOf(all);
  console.log(`\n| given | answers | mean given | right |\n| --- | --- | --- | --- |`);
  for (const b of bins) console.log(`| ${pct(b.from)} – ${pct(b.to)} | ${b.count} | ${pct(b.given)} | ${pct(b.right)} |`);
  console.log(`\nExpected calibration error ${pct(expectedError)}.`);
}
