import { zipSync } from "fflate";
import { z } from "zod";
import { shelfFile, type KnownGood } from "@rheonom/core/job";
import { AppError } from "../errors.ts";
import { jsonBytes, jsonIn, namedIn, unpack, type ZipForm } from "./unpack.ts";

const TRACE_NAME = /^traces\/([0-9a-f]{64})\.trace\.gz$/;
const FORM: ZipForm = {
  name: /^(?:known-goods|schemas\/known-goods\.schema)\.json$|^traces\/[0-9a-f]{64}\.trace\.gz$/,
  media: [TRACE_NAME],
  refused: (why) => new AppError("shelf-file-refused", { why }),
  what: "shelf’s file",
};

/** Packed traces by their hash. */
type Traces = Readonly<Record<string, Uint8Array>>;

/** Known-goods as one file for another shop: their list with its schema, and the recordings. It says nothing of jobs. Same parts, same bytes. */
export function writeShelfFile(items: readonly KnownGood[], traces: Traces, shop: string, madeAt: string): Uint8Array {
  const list: z.infer<typeof shelfFile> = {
    format: "rheonom-known-goods",
    version: 1,
    madeAt,
    shop,
    items: items.map((i) => ({ ...i, jobId: null })),
  };
  return zipSync(
    {
      "known-goods.json": jsonBytes(list),
      "schemas/known-goods.schema.json": jsonBytes(z.toJSONSchema(shelfFile, { io: "input", unrepresentable: "any" })),
      ...Object.fromEntries(Object.entries(traces).map(([hash, packed]) => [`traces/${hash}.trace.gz`, packed])),
    },
    { level: 6, mtime: new Date(madeAt) },
  );
}

/** Reads such a file. Every recording that it lists must be in it. Throws AppError shelf-file-refused, and then nothing of it was used. */
export function readShelfFile(zip: Uint8Array): { readonly items: readonly KnownGood[]; readonly traces: Traces } {
  const files = unpack(zip, FORM);
  const read = shelfFile.safeParse(jsonIn(files, "known-goods.json", FORM));
  if (!read.success) {
    const issue = read.error.issues[0];
    throw FORM.refused(`known-goods.json is not a list of known-goods (${issue?.path.join(".")}: ${issue?.message})`);
  }
  const traces = namedIn(files, TRACE_NAME, FORM);
  const missing = read.data.items.find((i) => i.trace !== undefined && traces[i.trace.hash] === undefined);
  if (missing !== undefined) throw FORM.refused(`the recording ${missing.trace!.name || missing.id} is missing`);
  const { shop } = read.data;
  return { items: read.data.items.map((i) => ({ ...i, jobId: null, from: i.from === "" ? shop || "another shop" : i.from })), traces };
}
