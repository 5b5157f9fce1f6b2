import { z } from "zod";
import { DAMAGE_KINDS, estimateSchema, FAULT_TYPES, JOINT_METHODS, REMEDIES } from "../repair/index.ts";

const words = (max: number): z.ZodString => z.string().trim().min(1).max(max);
const text = (max: number): z.ZodDefault<z.ZodString> => z.string().trim().max(max).default("");

/** Where along the loom, and what is wrong there. */
const damage = z.strictObject({
  kind: z.enum(DAMAGE_KINDS),
  /** Segment of loom. */
  segment: text(24),
  /** From the end that is named first in the circuit, m. */
  fromEndM: z.number().min(0).max(100).optional(),
  /** What took the cause away. */
  remedy: z.enum(REMEDIES).optional(),
});

/** How the wire was mended. */
const joint = z.strictObject({
  way: z.enum(["find", "overlay"]),
  why: text(300),
  method: z.enum(JOINT_METHODS),
  /** Of the new piece; left out where none was put in. mm² and m. */
  areaMm2: z.number().positive().max(200).optional(),
  lengthM: z.number().positive().max(100).optional(),
});

/** What a repair says beside where, found, cause and done. All of it may be left out. */
export const mendDetails = {
  damage: damage.optional(),
  /** What was wrong as it was measured; of a resistance how many Ω, where somebody worked that out. */
  fault: z.strictObject({ type: z.enum(FAULT_TYPES), ohms: z.number().min(0).max(1e7).optional() }).optional(),
  joint: joint.optional(),
  /** Rating of the fuse that was put in, A. */
  fuseAmps: z.number().positive().max(500).optional(),
  /** The stud to which a ground was led anew. */
  groundTo: z.string().trim().max(40).optional(),
  /** Why a part was replaced before feed, ground and command at it were proven. Whoever made the entry has signed it. */
  override: z.string().trim().min(1).max(300).optional(),
};

export const NEIGHBOUR_VERDICTS = ["sound", "nicked", "mended"] as const;
export const FINDING_OUTCOMES = ["advised", "declined"] as const;
export const ESTIMATE_ANSWERS = ["accepted", "accepted in part", "declined"] as const;
export const DRIVE_OUTCOMES = ["fault did not appear", "fault appeared", "not possible now"] as const;

/** Events of repair, verification and handing over. */
export const repairBodies = [
  /** Something found that is not repaired now. */
  z.strictObject({
    type: z.literal("finding-kept"),
    data: z.strictObject({
      at: words(80),
      found: words(1000),
      outcome: z.enum(FINDING_OUTCOMES),
      /** What may come of it. */
      risk: text(500),
      /** Why not now. */
      why: text(300),
    }),
  }),
  /** A wire beside a damaged place, looked at; the last word on each counts. */
  z.strictObject({
    type: z.literal("neighbour-told"),
    data: z.strictObject({ of: words(80), wires: z.array(words(40)).min(1).max(400), verdict: z.enum(NEIGHBOUR_VERDICTS) }),
  }),
  /** Why the rest of the neighbours was not looked at. */
  z.strictObject({ type: z.literal("neighbours-left"), data: z.strictObject({ of: words(80), why: words(300) }) }),
  z.strictObject({
    type: z.literal("step-ticked"),
    data: z.strictObject({ of: words(80), step: words(40), done: z.boolean() }),
  }),
  z.strictObject({ type: z.literal("estimate-made"), data: estimateSchema }),
  z.strictObject({
    type: z.literal("estimate-answered"),
    data: z.strictObject({
      answer: z.enum(ESTIMATE_ANSWERS),
      /** Who said so, and how: by phone, at the counter. */
      who: words(80),
      how: text(80),
      /** What of it, when in part; what was declined. */
      note: text(500),
    }),
  }),
  /** A test that failed before and cannot be repeated. */
  z.strictObject({ type: z.literal("test-excused"), data: z.strictObject({ test: words(300), why: words(300) }) }),
  z.strictObject({
    type: z.literal("driven"),
    data: z.strictObject({
      /** Conditions of the complaint that were brought about, and those that were not. */
      met: z.array(words(80)).max(40).default([]),
      unmet: z.array(words(80)).max(40).default([]),
      outcome: z.enum(DRIVE_OUTCOMES),
      seen: text(1000),
      minutes: z.number().min(0).max(1440).optional(),
      /** Odometer, km or miles as it stands there. */
      from: z.number().min(0).max(1e7).optional(),
      to: z.number().min(0).max(1e7).optional(),
      /** What modules said meanwhile: each value from its lowest to its highest, and the last. */
      live: z
        .array(z.strictObject({ name: words(80), unit: text(10), low: z.number(), high: z.number(), last: z.number() }))
        .max(40)
        .optional(),
    }),
  }),
  /** When somebody should ask whether it has come back; the last word counts, an empty one takes it off. */
  z.strictObject({
    type: z.literal("return-watched"),
    data: z.strictObject({ until: z.union([z.iso.date(), z.literal("")]), distance: text(40), what: text(300) }),
  }),
] as const;
