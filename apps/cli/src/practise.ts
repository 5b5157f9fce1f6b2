import { describeState } from "@rheonom/core/circuit";
import { observableWords, resultWords } from "@rheonom/core/diagnosis";
import { catalogueOf } from "@rheonom/core/faults";
import { chanceOf, practise, practiseAll, truthsOf, type Run, type Truth } from "@rheonom/core/practice";
import type { Harness } from "@rheonom/core/harness";
import { readCircuit } from "./circuit-options.ts";
import { checkAllCommand, generateCommand, listCommand } from "./scenarios.ts";
import { parseArgs } from "node:util";
import { UsageError, type Output } from "./usage.ts";

const OPTIONS = {
  auto: { type: "boolean" },
  harness: { type: "string" },
  options: { type: "string" },
  fault: { type: "string", multiple: true },
  severity: { type: "string", multiple: true },
  presence: { type: "string" },
  all: { type: "boolean" },
  sample: { type: "string" },
  seed: { type: "string" },
  json: { type: "boolean" },
  generate: { type: "boolean" },
  misdrawn: { type: "boolean" },
  list: { type: "boolean" },
  "check-all": { type: "boolean" },
  family: { type: "string" },
  difficulty: { type: "string" },
  scenarios: { type: "string" },
  part: { type: "string" },
} as const;

/** `rheonom practise`: with --auto a simulated technician who takes the first proposed test until there is enough to act; else scenarios to practise on. */
export async function practiseCommand(args: readonly string[], out: Output, err: Output): Promise<number> {
  const values = valuesOf(args);
  if (values.generate === true) return generateCommand(values, out, err);
  if (values.list === true) return listCommand(values, out);
  if (values["check-all"] === true) return checkAllCommand(values, out, err);
  if (values.harness === undefined) throw new UsageError("practise needs --harness FILE.");
  if (values.auto !== true) throw new UsageError("practise needs one of --auto, --generate, --list, --check-all.");
  const harness = readCircuit(values.harness, values.options);
  const seed = whole("seed", values.seed ?? "1");
  if (values.all === true) {
    const truths = truthsOf(harness, values.sample === undefined ? undefined : whole("sample", values.sample), seed);
    const result = practiseAll(harness, truths, seed, true, (done) => {
      if (done % 50 === 0) err.write(`${done} of ${truths.length}\n`);
    });
    out.write(`${JSON.stringify(result, null, values.json === true ? 0 : 2)}\n`);
    return 0;
  }
  if (values.fault === undefined) throw new UsageError('practise needs --fault ID, such as "W5 open", or --all.');
  const truths = truthsNamed(harness, values.fault, values.severity);
  const presence = values.presence === undefined ? 1 : Number(values.presence);
  if (!(presence > 0 && presence <= 1)) throw new UsageError("--presence is a share above 0, 1 at most.");
  const run = practise(harness, truths, { chance: chanceOf(seed), presence });
  if (run === undefined) {
    err.write(
      `Nobody would notice ${truths.map((t) => t.fault.id).join(" and ")}: no part does anything else in any use of this circuit.\n`,
    );
    return 1;
  }
  out.write(values.json === true ? `${JSON.stringify(plain(run))}\n` : inWords(harness, run));
  return 0;
}

function valuesOf(args: readonly string[]) {
  try {
    return parseArgs({ args: [...args], options: OPTIONS, strict: true }).values;
  } catch (error) {
    throw new UsageError(error instanceof Error ? error.message : String(error));
  }
}

function whole(name: string, text: string): number {
  const n = Number(text);
  if (!Number.isInteger(n) || n < 1) throw new UsageError(`--${name} is a whole number from 1.`);
  return n;
}

/** Faults of the catalogue by their names, with one severity for all of them or one for each. Throws UsageError when one cannot be. */
export function truthsNamed(harness: Harness, ids: readonly string[], severities: readonly string[] = []): readonly Truth[] {
  if (severities.length > 1 && severities.length !== ids.length)
    throw new UsageError(
      `--severity: ${severities.length} for ${ids.length} faults. Give one for all of them, or one for each in their order.`,
    );
  return ids.map((id, i) => truthOf(harness, id, severities[i] ?? severities[0]));
}

/** A fault of the catalogue by its name, at a severity or in the middle of its range. Throws UsageError when there is none. */
function truthOf(harness: Harness, id: string, severity: string | undefined): Truth {
  const catalogue = catalogueOf(harness);
  const fault = catalogue.find((f) => f.id === id);
  if (fault === undefined) {
    const near = catalogue.filter((f) => f.link === id.split(" ")[0]).map((f) => f.id);
    throw new UsageError(`The circuit has no fault "${id}".${near.length === 0 ? "" : ` Of that part: ${near.slice(0, 12).join(", ")}`}`);
  }
  const chosen = severity === undefined ? fault.severities[fault.severities.length >> 1]! : Number(severity);
  if (!Number.isFinite(chosen) || chosen < 0) throw new UsageError("--severity is a number, in ohms for most faults.");
  return { fault, severity: chosen };
}

const plain = (run: Run) => ({
  fault: run.truth.map((t) => ({ id: t.fault.id, severity: t.severity })),
  complaint: { focus: run.complaint.focus, state: run.complaint.state },
  steps: run.steps,
  minutes: run.minutes,
  element: run.element,
  enoughToAct: run.enough?.yes ?? false,
  right: run.right,
});

function inWords(harness: Harness, run: Run): string {
  const lines = [
    `Complaint: ${run.complaint.evidence.map((e) => `${observableWords(harness, e.observe)}: ${resultWords(e.observe, e.result)}`).join("; ")} (${describeState(run.complaint.state)})`,
  ];
  run.steps.forEach((s, i) => {
    lines.push(`${String(i + 1).padStart(2)}. ${observableWords(harness, s.test.observe)}; ${describeState(s.test.state, harness)}`);
    lines.push(`    ${resultWords(s.test.observe, s.result)} (${s.minutes.toFixed(1)} min)`);
  });
  const verdict = run.enough?.yes === true ? `enough to ${run.enough.act}` : "not enough to act on";
  lines.push(
    `${run.element}: ${verdict}; ${run.right ? "right" : "wrong"}: it was ${run.truth.map((t) => t.fault.words).join(" and ")}. ${run.steps.length} tests, ${run.minutes.toFixed(0)} minutes.`,
  );
  return `${lines.join("\n")}\n`;
}
