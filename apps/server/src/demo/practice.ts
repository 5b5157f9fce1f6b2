import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { PracticeWorld } from "@rheonom/contract/api";
import { readyFile, type DrillShown, type practising, type ReadyScenario } from "@rheonom/contract/practice";
import { vehicleState, type VehicleState } from "@rheonom/core/circuit";
import type { Instrument } from "@rheonom/core/diagnosis";
import { catalogueOf } from "@rheonom/core/faults";
import { harnessSchema, resolveVariant, type Harness } from "@rheonom/core/harness";
import { EMPTY_COMPLAINT, jobEvent, type Advice, type JobEvent } from "@rheonom/core/job";
import { parseNotation, printNotation } from "@rheonom/core/notation";
import {
  chanceOf,
  DRILL_KINDS,
  isFamily,
  makeDrill,
  makeScenario,
  MOST_SEED,
  scenarioOf,
  type Scenario,
  type ScenarioAsk,
} from "@rheonom/core/practice";
import { AppError } from "../errors.ts";
import { parseBody } from "../http/validate.ts";
import type { Hidden } from "../store/job-store.ts";
import { newIds } from "./new-ids.ts";

/** A job with something wrong in its vehicle. */
export interface PracticeJob {
  readonly events: readonly JobEvent[];
  readonly hidden: Required<Hidden>;
}

/** A vehicle to practise on that ships with the app. */
export interface BenchVehicle {
  readonly id: string;
  readonly name: string;
  readonly notation: string;
}

/** Rigs first, then the fleet. */
export function readBench(root: string): readonly BenchVehicle[] {
  const folder = join(root, "demo/vehicles");
  const isRig = (id: string): number => (id.startsWith("rig-") ? 0 : 1);
  return readdirSync(folder)
    .filter((f) => f.endsWith(".circuit"))
    .map((f) => {
      const notation = readFileSync(join(folder, f), "utf8");
      const id = f.replace(/\.circuit$/, "");
      return { id, name: /^circuit "([^"]*)"/m.exec(notation)?.[1] ?? id, notation };
    })
    .sort((p, q) => isRig(p.id) - isRig(q.id) || p.id.localeCompare(q.id));
}

/** The scenarios that come with the app. Throws on a file that is not valid. */
export const readReady = (root: string): readonly ReadyScenario[] =>
  readyFile.parse(JSON.parse(readFileSync(join(root, "demo/practice/scenarios.json"), "utf8"))).scenarios;

/** A vehicle as it is practised on. */
export interface PracticeOn {
  readonly from: "bench" | "shop";
  readonly id: string;
  readonly name: string;
  /** As text, or as JSON as the store has it. */
  readonly wiring: { readonly notation: string } | { readonly json: Uint8Array };
  /** The first of its options when left out. */
  readonly options?: readonly string[] | undefined;
  /** The version that the job is pinned to, where it is one of the shop's. */
  readonly pin?: number | undefined;
}

type ChosenFaults = NonNullable<ReturnType<typeof practising.parse>["faults"]>;

/** What is asked for: drawn by chance, or chosen. */
export type PracticeAsk = Omit<ScenarioAsk, "family"> & {
  readonly family?: string | undefined;
  readonly faults?: ChosenFaults | undefined;
};

/** How a practice job is called on every screen and paper, and back. */
const MARK = "Practice: ";
const titleOf = (name: string): string => MARK + name;
export const nameInTitle = (title: string): string => (title.startsWith(MARK) ? title.slice(MARK.length) : title);

/** How it is practised. */
export interface PracticeManner {
  readonly by: string;
  readonly advice: Advice;
  readonly clock: boolean;
  /** What may not be used. */
  readonly without: readonly Instrument[];
}

/** Circuits that a thread keeps open. */
const MOST_KEPT = 6;
const kept = new Map<string, Harness>();

/** The wiring of a vehicle with its options; what was read before is the same object, so that what was worked out of it is known. */
function harnessOf({ wiring, options }: Pick<PracticeOn, "wiring" | "options">): {
  readonly harness: Harness;
  readonly options: readonly string[];
} {
  const key = "notation" in wiring ? wiring.notation : new TextDecoder().decode(wiring.json);
  const whole = kept.get(key) ?? ("notation" in wiring ? parseNotation(key).harness : harnessSchema.parse(JSON.parse(key)));
  if (whole === undefined) throw new AppError("no-circuit");
  if (!kept.has(key) && kept.size >= MOST_KEPT) kept.delete(kept.keys().next().value!);
  kept.set(key, whole);
  const all = (whole.options ?? []).map((o) => o.id);
  const chosen = options ?? all.slice(0, 1);
  return { harness: all.length === 0 ? whole : resolveVariant(whole, chosen), options: chosen };
}

/**
 * Makes a job to practise on. Throws AppError: practice-family for a family that there is none of, practice-nothing where nothing of what is asked for is noticed on this
 * vehicle, no-circuit where it cannot be read.
 */
export function practiceJob(on: PracticeOn, ask: PracticeAsk, manner: PracticeManner, now: Date): PracticeJob {
  const { family } = ask;
  if (family !== undefined && !isFamily(family)) throw new AppError("practice-family", { family });
  const { harness, options } = harnessOf(on);
  const made =
    ask.faults === undefined
      ? makeScenario(harness, {
          difficulty: ask.difficulty,
          seed: ask.seed,
          ...(family === undefined ? {} : { family }),
          misdrawn: ask.misdrawn,
        })
      : chosenScenario(harness, ask.faults, ask.seed);
  if (made === undefined) throw new AppError("practice-nothing", { vehicle: on.name, family: family ?? "any family" });
  const { told, complaint, presence, truth, beside } = made;
  const ids = newIds(now);
  const afterMinutes = ask.faults?.afterMinutes;
  const shareTold = afterMinutes === undefined ? presence : Math.min(presence, LATE_SHARE);
  const words = {
    ...EMPTY_COMPLAINT,
    vehicle: titleOf(on.name),
    words: told.words,
    conditions: told.conditions,
    triedBefore: told.triedBefore,
    warningLamps: [...told.warningLamps],
    circumstances: [...made.circumstances],
  };
  // What only a scan or a meter tells is found by whoever practises.
  const said = complaint.evidence.flatMap(({ observe, result, state, source }) =>
    source === "customer" && result.kind === "word" ? [{ state, observe, word: result.word, wrong: true, source }] : [],
  );
  const bodies = [
    { type: "job-opened", data: words },
    {
      type: "practice-begun",
      data: {
        advice: manner.advice,
        clock: manner.clock,
        speaker: told.speaker,
        ...(manner.without.length === 0 ? {} : { without: [...manner.without] }),
      },
    },
    {
      type: "circuit-set",
      data: {
        notation: printNotation(harness),
        ...(on.pin === undefined ? {} : { vehicle: { id: on.id, version: on.pin, options: [...options] } }),
      },
    },
    ...(shareTold < 1 ? [{ type: "presence-told", data: { share: Math.max(0.05, Number(shareTold.toFixed(1))) } }] : []),
    ...said.map((data) => ({ type: "seen", data })),
    ...(ask.faults === undefined || (ask.faults.whose === "" && ask.faults.until === "")
      ? []
      : [{ type: "planned", data: { whose: ask.faults.whose, waits: "", until: ask.faults.until } }]),
  ];
  const world: PracticeWorld = {
    from: on.from,
    vehicle: on.id,
    family: made.family,
    seed: made.seed,
    difficulty: Number(made.difficulty.value.toFixed(3)),
    twists: [...made.difficulty.twists],
    beside: [...beside],
    presence,
    ...(afterMinutes === undefined ? {} : { afterMinutes }),
    ...(made.misdrawn === undefined ? {} : { misdrawn: made.misdrawn }),
  };
  return {
    hidden: { truth: truth.map((t) => t.fault.faultAt(t.severity)), world },
    events: bodies.map((body) => jobEvent.parse({ ...body, ...ids.next(), by: manner.by })),
  };
}

/** What is told of how often a fault is there that is not from the beginning: it is neither always there nor mostly away. */
const LATE_SHARE = 0.5;

/** A scenario of faults that somebody chose. Throws AppError practice-fault for one that this circuit has not, body-invalid for a state that is none. */
function chosenScenario(
  harness: Harness,
  { supposed, state, presence, afterMinutes, words }: ChosenFaults,
  seed: number,
): Scenario | undefined {
  const all = catalogueOf(harness);
  const truth = supposed.map(({ id, severity }) => {
    const fault = all.find((f) => f.id === id);
    if (fault === undefined) throw new AppError("practice-fault", { fault: id });
    return { fault, severity };
  });
  return scenarioOf(harness, truth, parseBody(vehicleState, state), {
    seed,
    words,
    isLate: afterMinutes !== undefined,
    ...(presence === undefined ? {} : { presence }),
  });
}

/**
 * A job with the fault that a repair was made for: of all that can be wrong with what was repaired, the likeliest that is noticed in the state of its complaint. Nothing of whose
 * vehicle it was goes over. Throws AppError practice-nothing where none is, and no-circuit.
 */
export function practiceOfRepair(notation: string, at: string, state: VehicleState, manner: PracticeManner, now: Date): PracticeJob {
  const on: PracticeOn = { from: "bench", id: "", name: "a fault of this shop", wiring: { notation } };
  const { harness } = harnessOf(on);
  const here = catalogueOf(harness)
    .filter((f) => f.link === at || f.link.startsWith(`${at}.`) || f.other === at)
    .sort((p, q) => q.prior - p.prior);
  for (const fault of here)
    for (const severity of [...fault.severities].reverse()) {
      const truth = [{ fault, severity }];
      if (scenarioOf(harness, truth, state, { seed: 0 }) === undefined) continue;
      const faults: ChosenFaults = { options: [], supposed: [{ id: fault.id, severity }], state, words: "", whose: "", until: "" };
      return practiceJob(on, { difficulty: 0, seed: anySeed(Math.random), faults }, manner, now);
    }
  throw new AppError("practice-nothing", { vehicle: "this job’s circuit", family: `a fault of ${at}` });
}

/** A question of a minute on one of these vehicles. Throws AppError practice-nothing where none has one. */
export function drillOf(vehicles: readonly BenchVehicle[], seed: number): DrillShown {
  const chance = chanceOf(seed);
  for (let i = 0; i < vehicles.length; i++) {
    const on = vehicles[Math.floor(chance() * vehicles.length)]!;
    const kind = DRILL_KINDS[Math.floor(chance() * DRILL_KINDS.length)]!;
    const made = makeDrill(harnessOf({ wiring: on }).harness, kind, anySeed(chance));
    if (made !== undefined) return { vehicle: on.name, ...made, choices: made.choices.map((c) => ({ ...c })) };
  }
  throw new AppError("practice-nothing", { vehicle: "these rigs", family: "a drill" });
}

/** A seed that nobody chose. */
export const anySeed = (chance: () => number): number => Math.floor(chance() * MOST_SEED);
