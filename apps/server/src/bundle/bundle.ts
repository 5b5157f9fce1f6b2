import { zipSync } from "fflate";
import { z } from "zod";
import { chainedLogSchema, checkChain, jobEvent, reportSchema, type ChainedLog, type JobEvent } from "@rheonom/core/job";
import { AppError } from "../errors.ts";
import { jsonBytes, jsonIn, namedIn, sha256, unpack, type ZipForm } from "./unpack.ts";

/** A job with all that belongs to it in one file, out of one shop and into another. */
export interface BundleParts {
  readonly chained: Uint8Array;
  readonly reportJson: Uint8Array;
  readonly papers: Readonly<Record<string, Uint8Array>>;
  /** Text of its circuit; "" where there is none. */
  readonly circuit: string;
  /** JPEGs by their hash. */
  readonly pictures: Readonly<Record<string, Uint8Array>>;
  /** Packed traces by their hash. */
  readonly traces: Readonly<Record<string, Uint8Array>>;
}

/** What another shop's bundle brings. */
export interface BundleRead {
  readonly jobId: string;
  readonly events: readonly JobEvent[];
  readonly pictures: Readonly<Record<string, Uint8Array>>;
  readonly traces: Readonly<Record<string, Uint8Array>>;
}

const manifest = z.strictObject({
  format: z.literal("rheonom-bundle"),
  version: z.literal(1),
  jobId: z.string().max(40),
  madeAt: z.iso.datetime(),
  files: z.record(z.string().max(90), z.strictObject({ bytes: z.number().int().min(0), sha256: z.string().regex(/^[0-9a-f]{64}$/) })),
});

/** Writes a bundle: log with its chain, report, papers, circuit, the schemas of what is in it, and a manifest with the hash of every file. Same parts, same bytes. */
export function writeBundle(
  { chained, reportJson, papers, circuit, pictures, traces }: BundleParts,
  jobId: string,
  madeAt: string,
): Uint8Array {
  const files: Record<string, Uint8Array> = {
    "log.json": chained,
    "report.json": reportJson,
    ...papers,
    ...(circuit === "" ? {} : { "circuit.txt": new TextEncoder().encode(circuit) }),
    ...Object.fromEntries(Object.entries(pictures).map(([hash, jpeg]) => [`pictures/${hash}.jpg`, jpeg])),
    ...Object.fromEntries(Object.entries(traces).map(([hash, packed]) => [`traces/${hash}.trace.gz`, packed])),
    "schemas/log.schema.json": jsonBytes(z.toJSONSchema(chainedLogSchema, { io: "input", unrepresentable: "any" })),
    "schemas/report.schema.json": jsonBytes(z.toJSONSchema(reportSchema, { io: "input", unrepresentable: "any" })),
    "schemas/job-event.schema.json": jsonBytes(z.toJSONSchema(jobEvent, { io: "input", unrepresentable: "any" })),
  };
  const list = Object.fromEntries(Object.entries(files).map(([name, data]) => [name, { bytes: data.length, sha256: sha256(data) }]));
  const told: z.infer<typeof manifest> = { format: "rheonom-bundle", version: 1, jobId, madeAt, files: list };
  // A fixed time, since a zip's own is local and says nothing here.
  return zipSync({ "manifest.json": jsonBytes(told), ...files }, { level: 6, mtime: new Date(madeAt) });
}

const PICTURE_NAME = /^pictures\/([0-9a-f]{64})\.jpg$/;
const TRACE_NAME = /^traces\/([0-9a-f]{64})\.trace\.gz$/;
const refused = (why: string): AppError => new AppError("bundle-refused", { why });
const FORM: ZipForm = {
  name: /^(schemas\/)?[a-z0-9-]+(\.[a-z0-9-]+)*\.(json|pdf|txt)$|^(pictures\/[0-9a-f]{64}\.jpg|traces\/[0-9a-f]{64}\.trace\.gz)$/,
  media: [PICTURE_NAME, TRACE_NAME],
  refused,
  what: "bundle",
};

/**
 * Reads a bundle: its names and sizes before anything is unpacked, the hash of every file against the manifest, the chain of the log, and every entry as an event of this version. Throws AppError
 * bundle-refused with what is wrong, and then nothing of it was used.
 */
export async function readBundle(zip: Uint8Array): Promise<BundleRead> {
  const files = unpack(zip, FORM);
  const told = manifest.safeParse(jsonIn(files, "manifest.json", FORM));
  if (!told.success)
    throw refused(`manifest.json is not the list of a bundle (${told.error.issues[0]?.path.join(".")}: ${told.error.issues[0]?.message})`);
  for (const name of Object.keys(files))
    if (name !== "manifest.json" && told.data.files[name] === undefined) throw refused(`${name} stands in no list`);
  for (const [name, { bytes, sha256: hash }] of Object.entries(told.data.files)) {
    const data = files[name];
    if (data === undefined) throw refused(`${name.slice(0, 60)} is missing`);
    if (data.length !== bytes || sha256(data) !== hash) throw refused(`${name} is not as it was packed`);
  }
  const log = chainedLogSchema.safeParse(jsonIn(files, "log.json", FORM));
  if (!log.success)
    throw refused(`log.json is not the log of a job (${log.error.issues[0]?.path.join(".")}: ${log.error.issues[0]?.message})`);
  if (log.data.jobId !== told.data.jobId) throw refused("log.json is of another job than manifest.json says");
  const chain = await checkChain(log.data, sha256);
  if (chain.kind === "broken")
    throw refused(`entry ${chain.number} of its log is not as it was stored (${chain.entry.type.slice(0, 40)}, ${chain.entry.at})`);
  return {
    jobId: log.data.jobId,
    events: eventsOf(log.data),
    pictures: namedIn(files, PICTURE_NAME, FORM),
    traces: namedIn(files, TRACE_NAME, FORM),
  };
}

function eventsOf(log: ChainedLog): readonly JobEvent[] {
  return log.entries.map(({ hash: _, ...entry }, i) => {
    const read = jobEvent.safeParse({ ...entry, jobId: log.jobId });
    if (read.success) return read.data;
    const issue = read.error.issues[0];
    throw refused(
      `entry ${i + 1} of its log (${entry.type.slice(0, 40)}) is not one that this version knows (${issue?.path.join(".")}: ${issue?.message})`,
    );
  });
}
