import { z } from "zod";
import { uuid7 } from "./events.ts";

/** SHA-256 of a text in UTF-8, as 64 hexadecimal digits. Comes in from outside: a server, a browser and a command line have different ones. */
export type Sha256 = (text: string) => string | Promise<string>;

const hex64 = z.string().regex(/^[0-9a-f]{64}$/);

/** An entry as it was stored, with what chains it to the one before it; "" where it was stored before there was a chain. */
export const chainedEntry = z.object({
  id: uuid7,
  type: z.string().min(1).max(60),
  at: z.iso.datetime(),
  by: z.string().max(80),
  data: z.unknown(),
  hash: z.union([hex64, z.literal("")]),
  /** When what tells whose vehicle it is was taken out: its hash is of what it said before, which nobody has any more. */
  removed: z.iso.datetime().optional(),
});
export type ChainedEntry = z.infer<typeof chainedEntry>;

/** The log of a job as open data, to be kept elsewhere and checked by anybody. */
export const chainedLog = z.object({
  format: z.literal("rheonom-log"),
  version: z.literal(1),
  jobId: uuid7,
  exportedAt: z.iso.datetime(),
  entries: z.array(chainedEntry).max(1_000_000),
});
export type ChainedLog = z.infer<typeof chainedLog>;

/** JSON with the keys of every object in order and no blanks, so that the same content has the same text whoever wrote it. */
export function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map((v) => canonical(v ?? null)).join(",")}]`;
  if (value !== null && typeof value === "object")
    return `{${Object.entries(value)
      .filter(([, v]) => v !== undefined)
      .sort(([p], [q]) => (p < q ? -1 : p > q ? 1 : 0))
      .map(([key, v]) => `${JSON.stringify(key)}:${canonical(v)}`)
      .join(",")}}`;
  return JSON.stringify(value ?? null);
}

/** What is hashed for an entry: the hash before it ("" ahead of the first), a line break, and its content. */
export const linkText = (before: string, jobId: string, entry: Omit<ChainedEntry, "hash" | "removed">): string =>
  `${before}\n${canonical({ id: entry.id, jobId, type: entry.type, at: new Date(entry.at).toISOString(), by: entry.by, data: entry.data })}`;

export type ChainChecked =
  | {
      readonly kind: "fits";
      readonly entries: number;
      readonly hash: string;
      /** Entries of before there was a chain; nothing can be said of them. */ readonly unchained: number;
      /** Entries that the customer was taken out of: the chain goes on over them, and what they said cannot be checked. */
      readonly removed: number;
    }
  /** The first entry that does not fit: it, or one before it, is not as it was stored. `number` counts from 1. */
  | { readonly kind: "broken"; readonly number: number; readonly entry: Omit<ChainedEntry, "data" | "hash" | "removed"> };

/** Follows the chain of a log from its first entry. */
export async function checkChain(log: Pick<ChainedLog, "jobId" | "entries">, sha256: Sha256): Promise<ChainChecked> {
  let hash = "";
  let [unchained, removed] = [0, 0];
  for (const [i, entry] of log.entries.entries()) {
    if (entry.hash === "" && hash === "") {
      unchained++;
      continue;
    }
    if (entry.removed !== undefined) {
      removed++;
      hash = entry.hash;
      continue;
    }
    hash = await sha256(linkText(hash, log.jobId, entry));
    if (hash !== entry.hash)
      return { kind: "broken", number: i + 1, entry: { id: entry.id, type: entry.type, at: entry.at, by: entry.by } };
  }
  return { kind: "fits", entries: log.entries.length, hash, unchained, removed };
}
