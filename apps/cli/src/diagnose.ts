import {
  answerCase,
  caseFileSchema,
  namesIn,
  questionOf,
  standingOf,
  type CaseAnswer,
  type CaseFile,
  type Standing,
} from "@rheonom/core/diagnosis";
import { linksOf, lookupOf, type Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { withOptions } from "./circuit-options.ts";
import { placeInJson, readJson, readOptions, UsageError, type Output } from "./usage.ts";

/** `rheonom diagnose CASE.json`: suspects, what to measure next, and whether it is enough to act. */
export function diagnoseCommand(args: readonly string[], out: Output): number {
  const { file, values } = readOptions(args, { json: { type: "boolean" }, why: { type: "string", multiple: true } });
  const parsed = readCase(file);
  const harness = harnessOf(file, parsed);
  checkNames(file, harness, parsed);
  const question = questionOf(parsed, harness);
  const asked = typeof values.why === "string" ? [values.why] : ((values.why as readonly string[] | undefined) ?? []);
  let answer: CaseAnswer;
  let standings: readonly Standing[];
  try {
    answer = answerCase(question);
    standings = asked.map((element) => standingOf(question, element));
  } catch (error) {
    if (error instanceof RangeError) throw new UsageError(`${file}: ${error.message}`);
    throw error;
  }
  out.write(
    values.json === true
      ? `${JSON.stringify(asked.length === 0 ? answer : { ...answer, why: standings })}\n`
      : `${inWords(answer)}${standings.map(whyWords).join("")}`,
  );
  return 0;
}

function readCase(file: string): CaseFile {
  const parsed = caseFileSchema.safeParse(readJson(file));
  if (!parsed.success)
    throw new UsageError(parsed.error.issues.map((i) => `${placeInJson(file, i.path)} at ${i.path.join(".")}: ${i.message}`).join("\n"));
  return parsed.data;
}

function harnessOf(file: string, c: CaseFile): Harness {
  if (c.harness !== undefined) return withOptions(file, c.harness, c.options);
  if (c.notation === undefined) throw new UsageError(`${file}: it needs "harness" or "notation".`);
  const { harness, problems } = parseNotation(c.notation);
  if (harness === undefined)
    throw new UsageError(
      problems
        .filter((p) => p.severity === "error")
        .map((p) => `${file} notation:${p.line}:${p.column} ${p.message}`)
        .join("\n"),
    );
  return withOptions(file, harness, c.options);
}

/** What a case names must be in its circuit; otherwise a slip of the pen would be taken for a reading that says nothing. */
function checkNames(file: string, harness: Harness, c: CaseFile): void {
  const parts = new Set(harness.components.map((p) => p.id));
  const links = new Set(linksOf(harness).map((l) => l.id));
  const places = new Set(linksOf(harness).flatMap((l) => [l.a as string, l.b as string]));
  const segments = new Set(harness.wires.flatMap((w) => w.segments ?? []));
  const held = {
    place: (name: string) => places.has(name),
    current: (name: string) => links.has(name) || lookupOf(harness).parts.get(name)?.kind === "battery",
    part: (name: string) => parts.has(name),
    thing: (name: string) => parts.has(name) || links.has(name) || segments.has(name),
  };
  const problems: string[] = [];
  const need = (at: readonly (string | number)[], name: string, ok: boolean): void =>
    void (ok || problems.push(`${placeInJson(file, at)} at ${at.join(".")}: the circuit has nothing called ${name}.`));
  c.complaint.focus.forEach((id, i) => need(["complaint", "focus", i], id, parts.has(id)));
  c.evidence.forEach(({ observe: o }, i) => {
    for (const [is, name] of namesIn(o)) need(["evidence", i, "observe"], name, held[is](name));
  });
  if (problems.length > 0) throw new UsageError(problems.join("\n"));
}

const percent = (p: number): string => `${(100 * p).toFixed(p > 0.995 && p < 1 ? 1 : 0)} %`;

const whyWords = (s: Standing): string =>
  [s.words, ...s.because.map((r) => `  ${r.words}: ${r.measured}, predicted ${r.predicted}`), ""].join("\n");

function inWords(a: CaseAnswer): string {
  const lines: string[] = [...a.questioned, ...a.notAsked].map((n) => n.words);
  for (const s of a.suspects) {
    lines.push(
      `${percent(s.probability).padStart(6)}  ${s.words}${s.severity === null || s.words.endsWith(s.severity) ? "" : ` (${s.severity})`}`,
    );
    for (const r of s.for.slice(0, 4)) lines.push(`          for: ${r.words}: ${r.measured}, predicted ${r.predicted}`);
    for (const r of s.against.slice(0, 4)) lines.push(`      against: ${r.words}: ${r.measured}, predicted ${r.predicted}`);
  }
  if (a.misfit !== null) lines.push(a.misfit);
  for (const r of a.references) lines.push(r.words);
  for (const o of a.overheating) lines.push(`Caution: ${o.words}`);
  for (const r of a.refused) lines.push(`Not safe: ${r.reason} Instead: ${r.instead}`);
  if (a.suspects.length === 0 && a.notAsked.length > 0) return `${lines.join("\n")}\n`;
  lines.push(a.enoughToAct.yes ? `Enough to ${a.enoughToAct.act} ${a.enoughToAct.element}: ${a.enoughToAct.how}.` : "Not enough to act:");
  for (const m of a.enoughToAct.missing) lines.push(`  ${m.words}`);
  const w = a.enoughToAct.ifWrong;
  if (w !== null && w.chance > 0.002)
    lines.push(
      `  if it is not ${a.enoughToAct.element} (${(100 * w.chance).toFixed(0)} %): ${w.minutes} minutes${w.part ? " and a part" : ""} for nothing${w.instead === null ? "" : `; then most likely ${w.instead}`}`,
    );
  for (const o of a.ownDoing) lines.push(`${o.code} was set by our own work: ${o.because.join(", ")}`);
  if (!a.enoughToAct.yes)
    for (const [i, t] of a.next.slice(0, 4).entries())
      lines.push(
        `${i === 0 ? "Next" : "  or"}: ${t.words} (${t.minutes} min); sound: ${t.expected.sound}${t.expected.suspects.map((s) => `, ${s.element}: ${s.shows}`).join("")}`,
        ...t.access.map((x) => `        at ${x}`),
        ...t.cautions.map((x) => `        caution: ${x}`),
      );
  return `${lines.join("\n")}\n`;
}
