/**
 * What the engine makes of a diagram that is wrong in one place: faults that anybody notices on vehicles that are not as drawn, tested by the proposals of an engine that only knows the
 * drawing. Run: node --import ./scripts/ts-hook.mjs bench/deviations.ts [cases of each circuit] [folder]
 */
import { readdirSync, readFileSync } from "node:fs";
import { shownBy, sigmaOf, type Result, type Test } from "@rheonom/core/diagnosis";
import { catalogueOf } from "@rheonom/core/faults";
import { resolveVariant, sliceOf, type Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { chanceOf, complaintOf, deviationsOf, practise, truthsOf, type Run, type Truth } from "@rheonom/core/practice";

const [count = "40", folder = "bench/frozen"] = process.argv.slice(2);
const SEED = 31;
/** A reading shows that the vehicle is not as drawn when it is so many standard deviations from what it would be. */
const SHOWS_SIGMAS = 5;

/** Whether a test gives something else on the vehicle than it would with the same fault if the vehicle were as drawn. */
function tells(drawn: Harness, supposed: Truth, vehicle: Harness, real: Truth, test: Test): boolean {
  const of = (harness: Harness, { fault, severity }: Truth): Result => shownBy(harness, test, [fault.faultAt(severity)]);
  if (test.observe.kind === "look" || test.observe.kind === "wiggle" || test.observe.kind === "swap") return false;
  const [is, would] = [of(vehicle, real), of(drawn, supposed)];
  if (is.kind === "value" && would.kind === "value")
    return Math.abs(is.value - would.value) > SHOWS_SIGMAS * sigmaOf(test.observe, would.value);
  return is.kind !== would.kind || (is.kind === "word" && would.kind === "word" && is.word !== would.word);
}

interface Case {
  readonly kind: string;
  readonly run: Run;
  readonly shows: boolean;
}
const cases: Case[] = [];
for (const file of readdirSync(folder).filter((f) => f.endsWith(".circuit"))) {
  const whole = parseNotation(readFileSync(`${folder}/${file}`, "utf8")).harness!;
  const drawn = resolveVariant(whole, whole.options?.map((o) => o.id) ?? []);
  const deviations = deviationsOf(drawn);
  truthsOf(drawn, Number(count), SEED).forEach((truth, i) => {
    const complaint = complaintOf(drawn, [truth.fault.faultAt(truth.severity)]);
    if (complaint === undefined || deviations.length === 0) return;
    // One that lies on the way of what is complained of, where there is one.
    const core = sliceOf(drawn, complaint.focus).core;
    const near = deviations.filter((d) => d.wires.some((w) => core.has(w)));
    const from = near.length > 0 ? near : deviations;
    const deviation = from[Math.floor(chanceOf(SEED * 7 + i)() * from.length)]!;
    const fault = catalogueOf(deviation.vehicle).find((f) => f.id === truth.fault.id);
    if (fault === undefined) return;
    const real = { fault, severity: truth.severity };
    const run = practise(drawn, [real], { chance: chanceOf(SEED + i), vehicle: deviation.vehicle });
    if (run === undefined) return;
    const shows = run.steps.some((s) => tells(drawn, truth, deviation.vehicle, real, s.test));
    cases.push({ kind: deviation.kind, run, shows });
    if (run.enough?.yes === true && !run.right)
      console.error(
        `${file}: ${truth.fault.id} at ${truth.severity}, ${deviation.words}: enough for ${run.element}; ${run.misfit ?? "nothing said"}`,
      );
    else if (shows && run.misfit === undefined)
      console.error(`${file}: ${truth.fault.id}, ${deviation.words}: not named, ended at ${run.element}, ${run.right ? "right" : "wrong"}`);
  });
}
const share = (list: readonly Case[], is: (c: Case) => boolean): string =>
  list.length === 0 ? "–" : `${list.filter(is).length} of ${list.length}`;
console.log(
  "| diagram | cases | right | *enough* on a wrong thing | to renew a wrong part | a reading shows it | named where one does | said although none does |",
);
console.log("| --- | --- | --- | --- | --- | --- | --- | --- |");
for (const kind of [...new Set(cases.map((c) => c.kind)), "all"]) {
  const list = cases.filter((c) => kind === "all" || c.kind === kind);
  const [showing, silent] = [list.filter((c) => c.shows), list.filter((c) => !c.shows)];
  const isWrong = ({ run }: Case): boolean => run.enough?.yes === true && !run.right;
  console.log(
    `| ${kind} | ${list.length} | ${share(list, (c) => c.run.right)} | ${share(list, isWrong)} | ${share(list, (c) => isWrong(c) && c.run.enough?.act === "renew")} | ${showing.length} | ${share(showing, (c) => c.run.misfit !== undefined)} | ${share(silent, (c) => c.run.misfit !== undefined)} |`,
  );
}
