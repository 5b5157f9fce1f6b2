import "./zod-setup.ts";
import { z } from "zod";

/** What a closed practice job comes to. Without anything of core; a test holds it against core's own. */

/** A vehicle to practise on: one that ships with the app, or one of the shop's. */
export const practiceVehicle = z.strictObject({ from: z.enum(["bench", "shop"]), id: z.string().min(1).max(48) });
export type PracticeVehicle = z.infer<typeof practiceVehicle>;
export const ADVICE_GIVEN = ["off", "asked", "on"] as const;
/** What a shop measures with. */
export const TOOLS = ["meter", "clamp", "scope", "test lamp", "scan tool", "fused lead", "known-good parts"] as const;
export type Tool = (typeof TOOLS)[number];
/** Seeds go up to this. */
const MOST_SEED = 2 ** 31;

/** Who practises, and what. What is left out is drawn by chance. */
export const practising = z
  .strictObject({
    by: z.string().trim().min(1).max(80),
    vehicle: practiceVehicle.optional(),
    family: z.string().max(40).optional(),
    /** 0 to 1. */
    difficulty: z.number().min(0).max(1).optional(),
    /** The same seed makes the same job. */
    seed: z.number().int().min(0).max(MOST_SEED).optional(),
    /** The diagram may be wrong in one place. */
    misdrawn: z.boolean().default(false),
    /** One of those that come with the app. */
    ready: z.string().max(80).optional(),
    /** Faults that somebody chose, as they are noticed in a state; the vehicle must be said. */
    faults: z
      .strictObject({
        options: z.array(z.string().max(24)).max(60),
        supposed: z
          .array(z.strictObject({ id: z.string().min(1).max(120), severity: z.number().min(0).max(1e12) }))
          .min(1)
          .max(4),
        /** Checked where it is used. */
        state: z.looseObject({}),
        /** Share of the time in which it is there. */
        presence: z.number().min(0.05).max(1).optional(),
        /** Minutes of tests after which it is there, where it is not from the beginning. */
        afterMinutes: z.number().int().min(1).max(240).optional(),
        /** The customer's; made from what fails where they are left out. */
        words: z.string().trim().max(600).default(""),
        /** Who is to find it, and until when. */
        whose: z.string().trim().max(80).default(""),
        until: z.union([z.iso.date(), z.literal("")]).default(""),
      })
      .optional(),
    /** A closed practice job once more, as it stood before one of its entries. It counts for nothing. */
    again: z.strictObject({ job: z.uuid(), before: z.uuid() }).optional(),
    /** The fault that a closed job of the shop ended at, without whose vehicle it was. */
    ofJob: z.uuid().optional(),
    /** What the person should practise next, by what is known of their jobs. */
    next: z.boolean().default(false),
    /** After a closed practice job: more of its kind, a harder one, the same kind on another vehicle. */
    like: z.strictObject({ job: z.uuid(), how: z.enum(["more", "harder", "elsewhere"]) }).optional(),
    advice: z.enum(ADVICE_GIVEN).default("on"),
    /** Minutes of work are shown. */
    clock: z.boolean().default(true),
    /** What may not be used. */
    without: z.array(z.enum(TOOLS)).max(TOOLS.length).default([]),
  })
  .meta({ id: "Practising" });
export type Practising = z.input<typeof practising>;

/** A scenario that comes with the app. */
export const readyScenario = z.object({
  id: z.string(),
  vehicle: z.string(),
  options: z.array(z.string()),
  family: z.string(),
  difficulty: z.number(),
  seed: z.number().int(),
  /** Its diagram may be wrong in one place. */
  misdrawn: z.boolean().optional(),
  /** What the simulated technician needed for it. */
  tests: z.number().int(),
  minutes: z.number(),
  /** What the customer says. */
  words: z.string(),
});
export type ReadyScenario = z.infer<typeof readyScenario>;
export const readyFile = z.object({ format: z.literal("rheonom-practice"), version: z.literal(1), scenarios: z.array(readyScenario) });

/** What can be practised here. */
export const practiceMenu = z
  .object({
    vehicles: z.array(z.object({ from: z.enum(["bench", "shop"]), id: z.string(), name: z.string() })),
    families: z.array(z.string()),
    /** What counts in a score, and its points of a hundred; usually and here. */
    points: z.array(z.object({ id: z.string(), words: z.string(), usual: z.number(), here: z.number() })),
    ready: z.array(readyScenario.omit({ seed: true, family: true }).extend({ name: z.string() })),
  })
  .meta({ id: "PracticeMenu" });
export type PracticeMenu = z.infer<typeof practiceMenu>;

const share = z.number().min(0).max(1);
const moment = {
  /** Of what was really wrong, and of the likeliest suspect, in the engine's belief. */
  truth: share,
  leading: z.string(),
  share,
  isEnough: z.boolean(),
};
const way = z.object({ tests: z.number().int(), minutes: z.number() });

export const debrief = z
  .object({
    /** What was wrong. */
    truth: z.array(z.string()),
    start: z.object(moment),
    steps: z.array(
      z.object({
        ...moment,
        /** Entry of the log that it is. */
        entry: z.string(),
        words: z.string(),
        result: z.string(),
        minutes: z.number(),
        /** What it could tell when it was chosen, and what it did, bits. */
        couldTell: z.number(),
        told: z.number(),
        best: z.object({ words: z.string(), minutes: z.number(), bits: z.number() }).optional(),
        ruledOut: z.array(z.string()),
        inState: z.boolean(),
      }),
    ),
    acts: z.array(
      z.object({
        at: z.string(),
        isReplaced: z.boolean(),
        after: z.number().int(),
        isRight: z.boolean(),
        share,
        wasEnough: z.boolean(),
        /** What was missing where it was likely enough all the same; "" otherwise. */
        missing: z.string(),
        isNeedless: z.boolean(),
      }),
    ),
    mine: way,
    /** By the first proposal each time. */
    plan: way.optional(),
    provenAt: z.number().int().optional(),
    isFound: z.boolean(),
    truthsFound: z.number().int(),
    lessons: z.array(z.string()),
    score: z.object({
      rows: z.array(z.object({ id: z.string(), words: z.string(), points: z.number(), most: z.number(), why: z.string() })),
      total: z.number().int(),
      cost: z.object({ minutes: z.number(), parts: z.array(z.string()), partsHours: z.number() }),
    }),
    /** Where it comes from; undefined for a job that was not made to practise on. */
    world: z
      .object({
        family: z.string(),
        seed: z.number().int(),
        difficulty: z.number(),
        twists: z.array(z.string()),
        presence: share,
        afterMinutes: z.number().optional(),
        beside: z.array(z.string()),
        misdrawn: z.string().optional(),
      })
      .optional(),
  })
  .meta({ id: "Debrief" });
export type DebriefShown = z.infer<typeof debrief>;
/** How much of a debrief is worked out; 0 where none is asked for. */
export const debriefProgress = z.object({ share }).meta({ id: "DebriefProgress" });
export type DebriefProgress = z.infer<typeof debriefProgress>;

/** What a practice job came to, as it is kept. */
export const practiceResult = z.object({
  jobId: z.string(),
  by: z.string(),
  at: z.string(),
  vehicle: z.string(),
  family: z.string(),
  difficulty: z.number(),
  isFound: z.boolean(),
  score: z.number(),
  /** Found and in what time, 0 to 1. */
  grade: share,
  tests: z.number().int(),
  minutes: z.number(),
  planTests: z.number().int().optional(),
  planMinutes: z.number().optional(),
  /** How well each skill showed, 0 to 1. */
  marks: z.record(z.string(), share),
});
export type PracticeResult = z.infer<typeof practiceResult>;

/** A question of a minute, with its answer. */
export const drill = z
  .object({
    vehicle: z.string(),
    kind: z.string(),
    skill: z.string(),
    question: z.string(),
    choices: z.array(z.object({ text: z.string(), isRight: z.boolean(), why: z.string() })),
  })
  .meta({ id: "Drill" });
export type DrillShown = z.infer<typeof drill>;

/** Who is at what now, and what came of what is closed. */
export const practiceClass = z
  .object({
    open: z.array(
      z.object({
        jobId: z.string(),
        vehicle: z.string(),
        words: z.string(),
        /** Whose it is, or who began it. */
        by: z.string(),
        stage: z.string(),
        lastAt: z.string(),
        next: z.string(),
        until: z.string(),
        /** The clock stands. */
        isStopped: z.boolean(),
      }),
    ),
    results: z.array(practiceResult),
  })
  .meta({ id: "PracticeClass" });
export type PracticeClass = z.infer<typeof practiceClass>;

/** Where somebody stands. */
export const learning = z
  .object({
    results: z.array(practiceResult),
    /** After each job the mean grade of the latest five, and its standard error, 0 to 1. */
    curve: z.array(z.object({ mean: share, error: z.number() })),
    skills: z.array(
      z.object({
        id: z.string(),
        words: z.string(),
        /** Jobs that told of it. */
        jobs: z.number().int(),
        /** Mean of the latest marks, and its standard error; left out before there is any. */
        level: share.optional(),
        error: z.number().optional(),
        /** Chance that it is still there, by the scheduler's model of forgetting. */
        recall: share.optional(),
        /** When it should be practised again. */
        due: z.string().optional(),
      }),
    ),
    /** What comes next, in words. */
    next: z.string(),
  })
  .meta({ id: "Learning" });
export type Learning = z.infer<typeof learning>;
