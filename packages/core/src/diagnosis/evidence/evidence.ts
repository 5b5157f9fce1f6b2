import { z } from "zod";
import { vehicleState } from "../../circuit/index.ts";
import { LAMP_LOOKS } from "../../instruments/index.ts";

const name = z.string().min(1).max(40);

/** What one can look at, listen to or measure. Which leads, which part, which wire. */
export const observable = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("volts"), red: name, black: name }),
  z.object({ kind: z.literal("ohms"), red: name, black: name }),
  z.object({ kind: z.literal("amps"), around: name }),
  /** A filament test lamp between two places. */
  z.object({ kind: z.literal("lamp"), red: name, black: name, watts: z.number().positive().max(100) }),
  /** What a part does: a lamp's light, a motor's turning, a relay's click, heat. */
  z.object({ kind: z.literal("part"), part: name }),
  /** Whether a module answers the scan tool. */
  z.object({ kind: z.literal("answers"), module: name }),
  z.object({ kind: z.literal("code"), code: name }),
  /** What a module says it sees at one of its pins, V against its own ground. */
  z.object({ kind: z.literal("live"), module: name, pin: name }),
  /** A look at a wire, cavity, ground or part. */
  z.object({ kind: z.literal("look"), at: name }),
  /** A known-good part in place of this one. */
  z.object({ kind: z.literal("swap"), part: name }),
  /** A length of loom or a connector moved while a reading is watched. */
  z.object({ kind: z.literal("wiggle"), at: name }),
  /** Something beside the circuit that a person compares with what it should be: a thermometer, a belt, ripple on an AC range. */
  z.object({ kind: z.literal("check"), at: name, what: z.string().min(1).max(120) }),
]);
export type Observable = z.infer<typeof observable>;

/** Words a result may have, by what was looked at. */
export const RESULT_WORDS = {
  lamp: LAMP_LOOKS,
  /** `full`: as it should in this state, or running though it should not. `flickers`: in and out without end. */
  part: ["full", "weak", "none", "flickers"],
  answers: ["yes", "no"],
  code: ["active", "pending", "stored", "permanent", "absent"],
  look: ["nothing", "corroded", "rubbed", "water", "burnt", "loose", "worked on"],
  swap: ["cured", "same"],
  wiggle: ["moves", "steady"],
  check: ["as it should be", "otherwise"],
} as const;
export type ResultWord = (typeof RESULT_WORDS)[keyof typeof RESULT_WORDS][number];

export const result = z.discriminatedUnion("kind", [
  /** V, Ω or A; `resolution`: value of the last digit shown. */
  z.object({ kind: z.literal("value"), value: z.number().finite(), resolution: z.number().positive().optional() }),
  z.object({ kind: z.literal("over") }),
  /** It does not stand still but goes between two values without end. */
  z.object({ kind: z.literal("swings"), low: z.number().finite(), high: z.number().finite() }),
  z.object({ kind: z.literal("word"), word: z.enum(Object.values(RESULT_WORDS).flat() as [ResultWord, ...ResultWord[]]) }),
]);
export type Result = z.infer<typeof result>;

/** Whether a word can answer what was observed; measured things are answered with numbers. */
export const fitsWord = (o: Observable, word: ResultWord): boolean =>
  o.kind in RESULT_WORDS && (RESULT_WORDS[o.kind as keyof typeof RESULT_WORDS] as readonly string[]).includes(word);

/** One thing seen or measured, in a state. */
export const evidence = z
  .object({
    id: z.string().min(1).max(60),
    state: vehicleState,
    observe: observable,
    result,
    /** A customer's word counts less than a look. */
    source: z.enum(["technician", "customer", "scan"]).default("technician"),
    /** Whether the complaint was there while this was taken; left out when nobody knows. */
    present: z.boolean().optional(),
  })
  .superRefine((e, context) => {
    const words: readonly string[] | undefined =
      e.observe.kind in RESULT_WORDS ? RESULT_WORDS[e.observe.kind as keyof typeof RESULT_WORDS] : undefined;
    const fits = words === undefined ? e.result.kind !== "word" : e.result.kind === "word" && words.includes(e.result.word);
    if (!fits)
      context.addIssue({
        code: "custom",
        path: ["result"],
        message:
          words === undefined
            ? `${e.observe.kind} needs a value or "over"`
            : `${e.observe.kind} needs one of the words ${words.join(", ")}`,
      });
  });
export type Evidence = z.infer<typeof evidence>;

/** What makes some faults likelier before anything is measured. */
export const circumstance = z.discriminatedUnion("kind", [
  /** Conditions under which the complaint comes. */
  z.object({
    kind: z.literal("condition"),
    what: z.enum(["vibration", "rain", "heat", "cold", "flexing", "standing", "steering", "engine rocks", "consumers"]),
  }),
  /** Someone has worked at this part, wire, connector, zone or loom. */
  z.object({ kind: z.literal("worked on"), at: name }),
  /** Fitted new without curing the complaint. */
  z.object({ kind: z.literal("replaced"), part: name }),
  /** Closed cases of the same kind that ended at this part or wire. */
  z.object({ kind: z.literal("similar"), at: name, cases: z.number().int().min(1).max(1000) }),
]);
export type Circumstance = z.infer<typeof circumstance>;

/** Key of what is observed and in which way, for finding the same test again. */
export const observableKey = (o: Observable): string => Object.values(o).join(" ");
