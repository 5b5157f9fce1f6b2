import { z } from "zod";

const text = (max: number): z.ZodDefault<z.ZodString> => z.string().trim().max(max).default("");

/** SHA-256 of the bytes of a picture as it is kept, in hex: its name wherever it stands. */
export const pictureHash = z.string().regex(/^[0-9a-f]{64}$/, "must be a SHA-256 in hex");
/** Longest side of a picture that is kept, px. */
export const LONGEST_SIDE_PX = 2000;

/** When a picture shows the place: two of the same place, before and after, are a pair. */
export const PICTURE_WHENS = ["before", "after"] as const;

const side = z.number().int().min(1).max(LONGEST_SIDE_PX);

/** What is said of a picture. */
export const pictureData = z.strictObject({
  hash: pictureHash,
  width: side,
  height: side,
  bytes: z.number().int().min(1).max(50e6),
  /** Part, cavity or wire that it shows; "" where nobody has said. */
  at: text(80),
  when: z.enum(PICTURE_WHENS),
  caption: text(300),
  /** The reading that it belongs to, by its entry. */
  reading: z.string().max(40).optional(),
});

/** A share of the picture's width or height from its upper left corner; a little over the edge is allowed. */
const share = z.number().min(-0.5).max(1.5);
const point = z.tuple([share, share]);

/** What is drawn over a picture, on a layer of its own. */
export const pictureMark = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("arrow"), from: point, to: point }),
  /** Radii as shares of width and of height. */
  z.strictObject({ kind: z.literal("circle"), at: point, radii: z.tuple([z.number().min(0.001).max(1), z.number().min(0.001).max(1)]) }),
  z.strictObject({ kind: z.literal("words"), at: point, text: z.string().trim().min(1).max(120) }),
]);
export type PictureMark = z.infer<typeof pictureMark>;
export const MOST_MARKS = 60;
