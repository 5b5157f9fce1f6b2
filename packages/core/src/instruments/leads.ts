import { z } from "zod";

const place = z.string().max(40);
/** Input resistance on volts of a meter that is not the usual one of 10 MΩ, Ω. */
const inputOhms = z.number().min(1000).max(1e12).optional();

/** Where the leads of a meter or clamp are and what is asked. Places as in the harness: "BAT.-", "C12.4a", "body"; links as "W2". */
export const leads = z.discriminatedUnion("quantity", [
  z.strictObject({ quantity: z.literal("volts"), red: place, black: place, inputOhms }),
  z.strictObject({ quantity: z.literal("ohms"), red: place, black: place }),
  z.strictObject({ quantity: z.literal("amps"), around: place }),
]);
export type Leads = z.infer<typeof leads>;

/** What a meter or clamp shows. */
export type Reading =
  | { readonly kind: "value"; readonly quantity: Leads["quantity"]; /** V, Ω or A. */ readonly value: number }
  /** Over the range of the instrument. */
  | { readonly kind: "over"; readonly quantity: Leads["quantity"] }
  /** Live: ohms on a circuit with voltage on it prove nothing and can harm the meter. Untouchable: an igniter; no lead may go there. */
  | { readonly kind: "void"; readonly why: "live" | "untouchable" }
  /** The circuit has no answer; `at` names the node or part. A circuit that chatters makes a meter swing `between` two values. */
  | {
      readonly kind: "unsolved";
      readonly why: "singular" | "diverged" | "chatter";
      readonly at: string;
      readonly between?: readonly [low: number, high: number];
    };

/** Where any other instrument is put. */
export const placement = z.discriminatedUnion("instrument", [
  /** A filament lamp between two places. */
  z.strictObject({ instrument: z.literal("lamp"), red: place, black: place, watts: z.union([z.literal(5), z.literal(21)]) }),
  z.strictObject({ instrument: z.literal("led tester"), red: place, black: place }),
  z.strictObject({ instrument: z.literal("continuity"), red: place, black: place }),
  /** A probe on a lead from the battery that gives feed or ground at its tip, limited in current. */
  z.strictObject({ instrument: z.literal("powered probe"), tip: place, gives: z.enum(["feed", "ground"]) }),
]);
export type Placement = z.infer<typeof placement>;
