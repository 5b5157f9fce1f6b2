import { z } from "zod";
import { vehicleState } from "../../circuit/index.ts";
import { isScale } from "./kind.ts";
import { kindOf, observable, RESULT_WORDS, type Observable, type ResultWord } from "./kinds/index.ts";

const name = z.string().min(1).max(40);

export const result = z.discriminatedUnion("kind", [
  /** V, Ω or A; `resolution`: value of the last digit shown; `mayBeOff`: by which the instrument may be off here, where it is a worse one than usual, both in the same unit. */
  z.object({
    kind: z.literal("value"),
    value: z.number().finite(),
    resolution: z.number().positive().optional(),
    mayBeOff: z.number().positive().optional(),
  }),
  z.object({ kind: z.literal("over") }),
  /** It does not stand still but goes between two values without end. */
  z.object({ kind: z.literal("swings"), low: z.number().finite(), high: z.number().finite() }),
  z.object({ kind: z.literal("word"), word: z.enum(Object.values(RESULT_WORDS).flat() as [ResultWord, ...ResultWord[]]) }),
]);
export type Result = z.infer<typeof result>;

/** Words that a thing may be answered with; undefined for what is measured. */
const wordsFor = (o: Observable): readonly string[] | undefined => {
  const { read } = kindOf(o);
  return isScale(read) ? undefined : read.words;
};

/** Whether a word can answer what was observed; measured things are answered with numbers. */
export const fitsWord = (o: Observable, word: ResultWord): boolean => wordsFor(o)?.includes(word) === true;

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
    const words = wordsFor(e.observe);
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

/** What one act of whoever works has found: a reading, a look, all that a scan or a wiggle test told. */
export interface Finding {
  /** Of the log; the first word of the ids of its evidence. */
  readonly entry: string;
  readonly evidence: readonly Evidence[];
}

/** Evidence of a log by the entries that it comes from, in their order. */
export function findingsOf(all: readonly Evidence[]): readonly Finding[] {
  const byEntry = new Map<string, Evidence[]>();
  for (const e of all) {
    const entry = e.id.split(" ")[0]!;
    byEntry.set(entry, [...(byEntry.get(entry) ?? []), e]);
  }
  return [...byEntry].map(([entry, evidence]) => ({ entry, evidence }));
}

/** Tests that were done for a finding: all modules are asked in one scan. */
export const testsOf = ({ evidence }: Finding): readonly { readonly state: Evidence["state"]; readonly observe: Evidence["observe"] }[] =>
  (evidence[0]?.source === "scan" ? evidence.slice(0, 1) : evidence).map(({ state, observe }) => ({ state, observe }));

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

/** Key of what is observed and in which way, for finding the same test again: with another meter it is the same. */
export const observableKey = (o: Observable): string =>
  Object.entries(o)
    .flatMap(([name, value]) => (name === "inputOhms" ? [] : [value]))
    .join(" ");
