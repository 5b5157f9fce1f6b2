import { z } from "zod";

/** Where the leads are and what is asked. Places as in the harness: "BAT.-", "C12.4a", "body"; links as "W2". */
export const leads = z.discriminatedUnion("quantity", [
  z.object({ quantity: z.literal("volts"), red: z.string().max(40), black: z.string().max(40) }),
  z.object({ quantity: z.literal("ohms"), red: z.string().max(40), black: z.string().max(40) }),
  z.object({ quantity: z.literal("amps"), around: z.string().max(40) }),
]);
export type Leads = z.infer<typeof leads>;

/** What an instrument shows. */
export type Reading =
  | { readonly kind: "value"; readonly quantity: Leads["quantity"]; /** V, Ω or A. */ readonly value: number }
  /** Over the range of the instrument. */
  | { readonly kind: "over"; readonly quantity: Leads["quantity"] }
  /** Ohms on a circuit with voltage on it prove nothing and can harm the meter. */
  | { readonly kind: "void"; readonly why: "live" }
  /** The circuit has no answer; `at` names the node or part. */
  | { readonly kind: "unsolved"; readonly why: "singular" | "diverged" | "chatter"; readonly at: string };
