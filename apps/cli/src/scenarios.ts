import { spawn } from "node:child_process";
import { availableParallelism } from "node:os";
import { dirname, join } from "node:path";
import { z } from "zod";
import { readyFile, type ReadyScenario } from "@rheonom/contract/practice";
import type { Harness } from "@rheonom/core/harness";
import {
  FAMILIES,
  isFamily,
  makeScenario,
  misdrawnWords,
  MOST_SEED,
  playScenario,
  type Family,
  type Scenario,
} from "@rheonom/core/practice";
import { readCircuit } from "./circuit-options.ts";
import { readJson, UsageError, type Output } from "./usage.ts";

export interface ScenarioValues {
  readonly harness?: string | undefined;
  readonly options?: string | undefined;
  readonly family?: string | undefined;
  readonly difficulty?: string | undefined;
  readonly seed?: string | undefined;
  readonly scenarios?: string | undefined;
  readonly part?: string | undefined;
  readonly json?: boolean | undefined;
  readonly misdrawn?: boolean | undefined;
}

const LISTED = "demo/practice/scenarios.json";

/** `rheonom practise --generate`: a scenario with its answer. */
export function generateCommand(values: ScenarioValues, out: Output, err: Output): number {
  if (values.harness === undefined) throw new UsageError("practise --generate needs --harness FILE.");
  const harness = readCircuit(values.harness, values.options);
  const family = values.family === undefined ? undefined : familyOf(values.family);
  const difficulty = Number(values.difficulty ?? "0.4");
  if (!(difficulty >= 0 && difficulty <= 1)) throw new UsageError("--difficulty is a number from 0 to 1.");
  const seed = Number(values.seed ?? "1");
  if (!Number.isInteger(seed) || seed < 0 || seed > MOST_SEED) throw new UsageError(`--seed is a whole number from 0 to ${MOST_SEED}.`);
  const made = makeScenario(harness, { difficulty, seed, misdrawn: values.misdrawn, ...(family === undefined ? {} : { family }) });
  if (made === undefined) {
    err.write(`On ${harness.name} nothing of ${family ?? "any family"} would be noticed.\n`);
    return 1;
  }
  out.write(values.json === true ? `${JSON.stringify(plain(made))}\n` : inWords(harness, made));
  return 0;
}

function familyOf(text: string): Family {
  if (!isFamily(text)) throw new UsageError(`There is no family "${text}". Families: ${FAMILIES.join(", ")}.`);
  return text;
}

const plain = (s: Scenario) => ({
  family: s.family,
  seed: s.seed,
  difficulty: s.difficulty,
  presence: s.presence,
  fault: s.truth.map((t) => ({ id: t.fault.id, severity: t.severity })),
  beside: s.beside,
  ...(s.misdrawn === undefined ? {} : { misdrawn: s.misdrawn }),
  complaint: { by: s.complaint.by, focus: s.complaint.focus, state: s.complaint.state, evidence: s.complaint.evidence },
  told: s.told,
});

function inWords(harness: Harness, s: Scenario): string {
  const { told, difficulty: d } = s;
  return [
    `${s.family}, seed ${s.seed}, difficulty ${d.value.toFixed(2)} (${d.bits.toFixed(1)} bits, ${d.minutes.toFixed(0)} min to lay open${d.twists.length === 0 ? "" : `; ${d.twists.join(", ")}`})`,
    `${told.speaker}: “${told.words}” (${told.conditions})${told.triedBefore === "" ? "" : ` ${told.triedBefore}`}`,
    `It is: ${s.truth.map((t) => `${t.fault.words} (${t.fault.id}, ${t.severity})`).join(" and ")}${s.presence < 1 ? `, ${Math.round(100 * s.presence)} % of the time` : ""}`,
    ...(s.misdrawn === undefined ? [] : [misdrawnWords(harness, s.misdrawn)]),
    "",
  ].join("\n");
}

function readListed(file: string): readonly ReadyScenario[] {
  const read = readyFile.safeParse(readJson(file));
  if (!read.success) throw new UsageError(`${file} is no list of scenarios: ${z.prettifyError(read.error)}`);
  return read.data.scenarios;
}

/** `rheonom practise --list`: the scenarios that come with the app. */
export function listCommand(values: ScenarioValues, out: Output): number {
  const all = readListed(values.scenarios ?? LISTED);
  const wanted = values.family === undefined ? all : all.filter((s) => s.family === familyOf(values.family!));
  if (values.json === true) out.write(`${JSON.stringify(wanted)}\n`);
  else
    for (const s of wanted)
      out.write(`${s.id}  ${s.family}  difficulty ${s.difficulty}  ${s.tests} tests, ${s.minutes} min  “${s.words}”\n`);
  return 0;
}

/** How a listed scenario fared. */
interface Checked {
  readonly id: string;
  readonly family: string;
  readonly trouble: string;
  readonly tests: number;
  readonly minutes: number;
}

/** `rheonom practise --check-all`: makes every listed scenario anew and lets the simulated technician play it, on all cores. */
export async function checkAllCommand(values: ScenarioValues, out: Output, err: Output): Promise<number> {
  const file = values.scenarios ?? LISTED;
  const all = readListed(file);
  if (values.part !== undefined) {
    const [at, of] = values.part.split("/").map(Number) as [number, number];
    if (!(at >= 1 && at <= of)) throw new UsageError("--part is such as 1/2.");
    const folder = join(dirname(file), "../vehicles");
    checkSome(
      folder,
      all.filter((_, i) => i % of === at - 1),
      (c) => out.write(`${JSON.stringify(c)}\n`),
    );
    return 0;
  }
  const began = Date.now();
  const cores = Math.max(1, Math.min(availableParallelism(), all.length));
  const parts = await Promise.all(Array.from({ length: cores }, (_, i) => partOf(file, `${i + 1}/${cores}`, err)));
  const checked = parts.flat();
  const bad = checked.filter((c) => c.trouble !== "");
  for (const c of bad) err.write(`${c.id} (${c.family}): ${c.trouble}\n`);
  const missing = all.length - checked.length;
  if (missing > 0) err.write(`${missing} scenarios were not played to their end.\n`);
  const seconds = Math.round((Date.now() - began) / 1000);
  if (values.json === true)
    out.write(`${JSON.stringify({ scenarios: all.length, solved: checked.length - bad.length, seconds, checked })}\n`);
  else {
    const mean = (of: (c: Checked) => number, list: readonly Checked[]): string =>
      (list.reduce((s, c) => s + of(c), 0) / Math.max(1, list.length)).toFixed(1);
    for (const f of FAMILIES) {
      const own = checked.filter((c) => c.family === f);
      if (own.length === 0) continue;
      out.write(
        `${f.padEnd(22)} ${String(own.length).padStart(3)} scenarios, ${mean((c) => c.tests, own)} tests, ${mean((c) => c.minutes, own)} min\n`,
      );
    }
    out.write(`${checked.length - bad.length} of ${all.length} solved in ${seconds} s on ${cores} ${cores === 1 ? "core" : "cores"}\n`);
  }
  return bad.length + missing === 0 ? 0 : 1;
}

/** Runs a share of the list in a process of its own: what is worked out of a vehicle takes a core for seconds. */
function partOf(file: string, part: string, err: Output): Promise<readonly Checked[]> {
  return new Promise((done, failed) => {
    const child = spawn(process.execPath, [
      ...process.execArgv,
      process.argv[1]!,
      "practise",
      "--check-all",
      "--scenarios",
      file,
      "--part",
      part,
    ]);
    const rows: Checked[] = [];
    let text = "";
    child.stdout.on("data", (chunk: Buffer) => {
      const lines = (text + chunk.toString()).split("\n");
      text = lines.pop()!;
      for (const line of lines) rows.push(JSON.parse(line) as Checked);
    });
    child.stderr.on("data", (chunk: Buffer) => err.write(chunk.toString()));
    child.on("error", failed);
    child.on("close", () => done(rows));
  });
}

function checkSome(folder: string, listed: readonly ReadyScenario[], told: (c: Checked) => void): void {
  const circuits = new Map<string, Harness>();
  for (const s of listed) {
    const key = `${s.vehicle} ${s.options.join()}`;
    const harness = circuits.get(key) ?? readCircuit(join(folder, `${s.vehicle}.circuit`), s.options.join(","));
    circuits.set(key, harness);
    told(checkOne(harness, s));
  }
}

function checkOne(harness: Harness, s: ReadyScenario): Checked {
  const row = { id: s.id, family: s.family, tests: 0, minutes: 0 };
  if (!isFamily(s.family)) return { ...row, trouble: `there is no family "${s.family}"` };
  const made = makeScenario(harness, { family: s.family, difficulty: s.difficulty, seed: s.seed, misdrawn: s.misdrawn });
  if (made === undefined) return { ...row, trouble: "nothing is noticed" };
  if (made.told.words !== s.words) return { ...row, trouble: `another scenario comes of this seed now: “${made.told.words}”` };
  const played = playScenario(harness, made);
  const trouble = played.solved
    ? ""
    : `not solved: ${played.runs.map((r) => r.element).join(", ")} instead of ${made.truth.map((t) => t.fault.id).join(", ")}`;
  return { ...row, tests: played.tests, minutes: played.minutes, trouble };
}
