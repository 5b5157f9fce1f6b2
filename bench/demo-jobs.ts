/**
 * Carries every open demo job to its end as a technician would who follows the first proposal: readings from its simulated vehicle, codes from a scan where nobody complains of a part.
 * Prints how many tests it took, what was repaired, and whether the simulated vehicle is sound then.
 * Run: node --import ./scripts/ts-hook.mjs bench/demo-jobs.ts [NAME]
 */
import { readdirSync, readFileSync } from "node:fs";
import { REST_STATE, type Fault, type VehicleState } from "@rheonom/core/circuit";
import { diagnose, shownBy, type Evidence, type Question, type Result } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { scanAll } from "@rheonom/core/instruments";
import { foldJob, jobEvent, questionOfJob, type JobView } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import { faultsLeft } from "../apps/server/src/demo/stand-in.ts";

const MOST_TESTS = 30;
const RUN: VehicleState = { ...REST_STATE, key: "run" };
const wanted = process.argv[2];

/** What a scan with the key on finds that a sound vehicle does not have. */
function scanned(harness: Harness, faults: readonly Fault[]): readonly Evidence[] {
  const [now, sound] = [scanAll(harness, RUN, faults), scanAll(harness, RUN, [])];
  const found = (observe: Evidence["observe"], word: "active" | "no", i: number): Evidence => ({
    id: `scan ${word} ${i}`,
    state: RUN,
    observe,
    result: { kind: "word", word },
    source: "scan",
  });
  return [
    ...now.codes.filter((c) => !sound.codes.includes(c)).map((code, i) => found({ kind: "code", code }, "active", i)),
    ...now.silent.filter((m) => !sound.silent.includes(m)).map((module, i) => found({ kind: "answers", module }, "no", i)),
  ];
}

function carry(
  view: JobView,
  harness: Harness,
  faults: readonly Fault[],
): { readonly tests: number; readonly repaired: string | undefined } {
  const load = harness.components[0]!.id;
  const asked = questionOfJob(harness, view, load, RUN);
  const isByCodes = view.seen.length === 0 && view.readings.length === 0;
  const codes = isByCodes ? scanned(harness, faults) : [];
  const silent = codes.flatMap((e) => (e.observe.kind === "answers" ? [e.observe.module] : []));
  let q: Question = isByCodes ? { ...asked, focus: silent, state: RUN, evidence: codes } : asked;
  for (let tests = 0; ; tests++) {
    const d = diagnose(q);
    if (d.enough?.yes === true) return { tests, repaired: d.enough.element };
    const test = d.next()[0];
    if (test === undefined || tests === MOST_TESTS) return { tests, repaired: undefined };
    // Nothing is to be seen on the simulated vehicle from outside.
    const result: Result = test.observe.kind === "look" ? { kind: "word", word: "nothing" } : shownBy(harness, test, faults);
    const found: Evidence = { id: `t${tests}`, state: test.state, observe: test.observe, result, source: "technician" };
    q = { ...q, evidence: [...q.evidence, found], vehicleNow: test.state };
  }
}

console.log("| job | tests | repaired | simulated vehicle then |\n| --- | --- | --- | --- |");
for (const file of readdirSync("demo/jobs").sort()) {
  if (wanted !== undefined && !file.startsWith(wanted)) continue;
  const { events, truth } = JSON.parse(readFileSync(`demo/jobs/${file}`, "utf8")) as { events: unknown[]; truth: Fault[] };
  const entries = events.map((e) => jobEvent.parse(e));
  const view = foldJob(entries)!;
  if (view.closed !== undefined || view.mends.length > 0) continue;
  const harness = parseNotation(view.circuit!.notation).harness!;
  const { tests, repaired } = carry(view, harness, truth);
  const mend = jobEvent.parse({
    ...entries[0],
    id: entries[0]!.id.replace(/^.{8}/, "0190b000"),
    type: "mend-made",
    data: { at: repaired ?? "nothing", found: "x", cause: "", method: "other", done: "x" },
  });
  const left = faultsLeft(foldJob([...entries, mend])!, harness, { truth });
  console.log(`| ${file.replace(".json", "")} | ${tests} | ${repaired ?? "–"} | ${left.length === 0 ? "sound" : "still faulty"} |`);
}
