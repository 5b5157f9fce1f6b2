import { describeState, openedWord } from "../circuit/index.ts";
import {
  refusalsOfTest,
  cautionsOf,
  minutesOf,
  observableWords,
  resultWords,
  shownBy,
  sigmaOf,
  testKey,
  type Evidence,
  type Result,
  type Test,
} from "../diagnosis/index.ts";
import type { Harness } from "../harness/index.ts";
import type { Refusal } from "../instruments/index.ts";
import { limitVolts } from "../limits/index.ts";
import type { Good, Grade, Procedure, Rule, Setting, Step } from "./procedure.ts";

export interface StepView {
  readonly id: string;
  readonly does: string;
  readonly because: string | undefined;
  readonly test: Test;
  /** Where the leads go, in words. */
  readonly leads: string;
  /** State of the vehicle, in words. */
  readonly state: string;
  /** What may go wrong in it, and what to do: cranking, a running engine, what is unplugged or bridged. */
  readonly cautions: readonly string[];
  /** What it should show, in words. */
  readonly expected: string;
  /** "next": to be done now. "later": hangs on a step before it. "left out": not needed as things came out. "refused": a rule about people forbids it. */
  readonly status: "done" | "next" | "later" | "left out" | "refused";
  readonly shown: string | undefined;
  readonly grade: Grade | undefined;
  readonly minutes: number;
  readonly refusals: readonly Refusal[];
}

export interface ProcedureView {
  readonly steps: readonly StepView[];
  /** Once the steps that count are done. */
  readonly verdict: { readonly words: string; readonly points: readonly string[]; readonly sound: boolean } | undefined;
  /** What is still unplugged, bridged or fitted after the steps done so far, by the state of the last of them. */
  readonly undo: readonly string[];
}

/**
 * How far a procedure has come: a step is done when the evidence holds a finding with its leads in its state, whoever asked for it. Computed anew from the evidence each time;
 * nothing is kept.
 */
export function runProcedure(procedure: Procedure, setting: Setting, evidence: readonly Evidence[]): ProcedureView {
  const { harness } = setting;
  const { steps, rules } = procedure.plan(setting);
  const found = new Map(evidence.map((e) => [testKey(e), e]));
  const grades = new Map<string, Grade>();
  const results = new Map<string, Result>();
  /** Steps that are not done, nor those that hang on them. */
  const dropped = new Set<string>();
  let standing = setting.state;
  let asked = false;
  const views = steps.map((step): StepView => {
    const sound = soundOf(harness, step.test);
    const e = found.get(testKey(step.test));
    const gates = Object.entries(step.only ?? {});
    const out = gates.some(([id, grade]) => dropped.has(id) || (grades.has(id) && grades.get(id) !== grade));
    const open = gates.every(([id, grade]) => grades.get(id) === grade);
    const grade = e === undefined || out ? undefined : gradeOf(setting, step, e.result, sound, results);
    if (grade !== undefined) grades.set(step.id, grade);
    if (e !== undefined) results.set(step.id, e.result);
    const refusals = out ? [] : refusalsOfTest(harness, step.test);
    if (out) dropped.add(step.id);
    const forbidden = refusals.some((r) => r.harm === "people" || step.knowingly !== true);
    const status = out ? "left out" : e !== undefined ? "done" : forbidden ? "refused" : !open ? "later" : asked ? "later" : "next";
    if (status === "next") asked = true;
    if (status === "refused") dropped.add(step.id);
    const minutes = minutesOf(harness, step.test, standing, new Set());
    if (status === "done" || status === "next") standing = step.test.state;
    return {
      id: step.id,
      does: step.does,
      because: step.because,
      test: step.test,
      leads: observableWords(harness, step.test.observe),
      state: describeState(step.test.state, harness),
      cautions: cautionsOf(harness, step.test),
      expected: expectedWords(setting, step, sound),
      status,
      shown: e === undefined ? undefined : resultWords(e.observe, e.result),
      grade,
      minutes,
      refusals: status === "refused" ? refusals : [],
    };
  });
  const rule = decided(rules, grades, new Set(steps.flatMap((s) => (dropped.has(s.id) ? [] : [s.id]))));
  const bad = steps.filter((s) => grades.get(s.id) === "bad");
  const isOver = views.every((v) => v.status !== "next" && v.status !== "later");
  const last = views.findLast((v) => v.status === "done");
  return {
    steps: views,
    // No good verdict stands over a bad step, and none is left without a word.
    verdict:
      bad.length > 0 && (rule === undefined ? isOver : rule.sound === true)
        ? unexplained(bad)
        : rule === undefined
          ? undefined
          : { words: rule.words, points: rule.points, sound: rule.sound ?? false },
    undo: last === undefined ? [] : changesOf(harness, last.test),
  };
}

const unexplained = (bad: readonly Step[]): NonNullable<ProcedureView["verdict"]> => ({
  words: `Nothing is cleared: ${bad.map((s) => `“${s.does}”`).join(" and ")} came out bad, and the other steps do not explain it. Repeat ${bad.length === 1 ? "it" : "them"}; if the result stays, go on from there.`,
  points: [],
  sound: false,
});

/** The first rule that fits, once none before it can fit any more. `open`: steps that are done or still to come. */
function decided(rules: readonly Rule[], grades: ReadonlyMap<string, Grade>, open: ReadonlySet<string>): Rule | undefined {
  for (const r of rules) {
    const said = Object.entries(r.when);
    if (said.every(([id, grade]) => grades.get(id) === grade)) return r;
    if (said.every(([id, grade]) => open.has(id) && (!grades.has(id) || grades.get(id) === grade))) return undefined;
  }
  return undefined;
}

/** Sound results by harness and test: they cost a solution each. */
const known = new WeakMap<Harness, Map<string, Result>>();
function soundOf(harness: Harness, test: Test): Result {
  const made = known.get(harness) ?? new Map<string, Result>();
  known.set(harness, made);
  const key = `${testKey(test)} ${test.state.temperatureC}`;
  const result = made.get(key) ?? shownBy(harness, test, []);
  made.set(key, result);
  return result;
}

/** Three standard deviations of meter and model, and never less than so many volts or amperes. */
const SIGMAS = 3;
const LEAST = { volts: 0.05, live: 0.1, amps: 0.05, ohms: 0.5 } as const;
/** A sound path may drop this many times what the model says before the drop is bad. */
const DROP_TIMES = 1.5;

function gradeOf(setting: Setting, step: Step, result: Result, sound: Result, results: ReadonlyMap<string, Result>): Grade | undefined {
  const o = step.test.observe;
  const { good } = step;
  if (result.kind === "word") {
    const wanted = good.kind === "word" ? good.words : sound.kind === "word" ? [sound.word] : [];
    return wanted.includes(result.word) ? "good" : "bad";
  }
  if (result.kind === "over") {
    if (good.kind === "as sound") return sound.kind === "over" ? "good" : "bad";
    return good.kind === "at least" ? "good" : "bad";
  }
  // What does not stand still is not what a sound vehicle shows, unless that does not either.
  if (result.kind === "swings") return good.kind === "as sound" && sound.kind === "swings" ? "good" : "bad";
  const { value } = result;
  switch (good.kind) {
    case "as sound": {
      if (sound.kind !== "value") return "bad";
      if (o.kind === "ohms") return value > sound.value / 1.6 - LEAST.ohms && value < sound.value * 1.6 + LEAST.ohms ? "good" : "bad";
      const least = o.kind === "volts" || o.kind === "live" || o.kind === "amps" ? LEAST[o.kind] : 0;
      return Math.abs(value - sound.value) <= Math.max(least, SIGMAS * sigmaOf(o, sound.value)) ? "good" : "bad";
    }
    case "drop":
      return Math.abs(value) <= dropLimit(setting, good, sound) ? "good" : "bad";
    case "at least sound":
      return sound.kind !== "value" || value >= 0.96 * sound.value - LEAST.volts ? "good" : "bad";
    case "at most":
      return value <= good.value ? "good" : "bad";
    case "at least":
      return value >= good.value ? "good" : "bad";
    case "between":
      return value >= good.low && value <= good.high ? "good" : "bad";
    case "same as": {
      const other = results.get(good.step);
      return other?.kind !== "value" ? undefined : Math.abs(other.value - value) <= good.within ? "good" : "bad";
    }
    case "word":
      return undefined;
  }
}

const dropLimit = ({ rules, harness }: Setting, good: Extract<Good, { kind: "drop" }>, sound: Result): number =>
  Math.max(limitVolts(good.path, rules, harness.nominalVolts), sound.kind === "value" ? DROP_TIMES * Math.abs(sound.value) : 0);

/** The limit as it comes about: by the shop's rules, or by what good copper drops at this current where that is more. */
function dropWords(setting: Setting, good: Extract<Good, { kind: "drop" }>, sound: Result): string {
  const [limit, allowed] = [dropLimit(setting, good, sound), limitVolts(good.path, setting.rules, setting.harness.nominalVolts)];
  const rules = `limits “${setting.rules}”`;
  return limit > allowed
    ? `at most ${limit.toFixed(2)} V, ${DROP_TIMES} × the expected drop (${rules}: ${allowed.toFixed(2)} V)`
    : `at most ${limit.toFixed(2)} V (${rules})`;
}

/** What a part does, for a person. */
const AT_WORK: Readonly<Record<string, string>> = {
  full: "on",
  weak: "weak",
  none: "off",
  flickers: "intermittent",
  "too much": "more than it should",
};

const UNIT = { volts: "V", level: "V", live: "V", amps: "A", ohms: "Ω", duty: "%" } as const;

function expectedWords(setting: Setting, { good, test }: Step, sound: Result): string {
  const o = test.observe;
  const unit = o.kind in UNIT ? UNIT[o.kind as keyof typeof UNIT] : "";
  const figure = (v: number): string => `${Number(v.toPrecision(3))} ${unit}`;
  const soundly = resultWords(o, sound);
  if (o.kind === "check") return o.what;
  switch (good.kind) {
    case "as sound":
      return sound.kind === "word" ? (AT_WORK[soundly] ?? soundly) : `about ${soundly}`;
    case "at least sound":
      return `about ${soundly} or more`;
    case "at most":
    case "at least":
      return `${good.kind} ${figure(good.value)}; expected ${soundly}`;
    case "between":
      return `${figure(good.low)} to ${figure(good.high)}; expected ${soundly}`;
    case "drop":
      return `${dropWords(setting, good, sound)}; expected ${soundly}`;
    case "word":
      return good.words.map((w) => (o.kind === "part" ? (AT_WORK[w] ?? w) : w)).join(" or ");
    case "same as":
      return `the same as before, within ${good.within} ${unit}; expected ${soundly}`;
  }
}

function changesOf(harness: Harness, { state }: Test): readonly string[] {
  return [
    ...state.opened.map((id) => `${id} is ${openedWord(harness, id)}`),
    ...state.bridged.map(([p, q]) => `a jumper joins ${p} and ${q}`),
    ...(state.lamps ?? []).map(([p, q]) => `a lamp is between ${p} and ${q}`),
  ];
}
