import { promisify } from "node:util";
import { gzip } from "node:zlib";
import { workerEmit } from "workerpool";
import { saveHarness, type Capture, type JobLog, type Simulate, type SimulateLook } from "@rheonom/contract/api";
import type { Looked, Simulated } from "@rheonom/contract/light";
import { vehicleState, type Fault, type VehicleState } from "@rheonom/core/circuit";
import { faceOf, harnessSchema, type Harness, resolveVariant, validateHarness } from "@rheonom/core/harness";
import { buildReport, foldJob, latestScan, readingsCsv, redacted, type KnownGood } from "@rheonom/core/job";
import { readPicture, readTraceOf } from "../media/media-store.ts";
import { readShelfFile, writeShelfFile } from "../bundle/shelf-file.ts";
import { MOST_MEDIA_BYTES } from "../bundle/unpack.ts";
import { readBundle, writeBundle, type BundleRead } from "../bundle/bundle.ts";
import { parseNotation } from "@rheonom/core/notation";
import type { Instrument } from "@rheonom/core/diagnosis";
import { planOf, walkOf, type Walked, type Way, type Weights } from "@rheonom/core/practice";
import { writeTraceFile } from "@rheonom/core/waveform";
import { debriefJob, playedJob, type DebriefMade } from "../demo/debrief.ts";
import {
  faultsLeft,
  faultsNow,
  simulateCapture,
  simulateLooking,
  simulateReading,
  vehicleOf,
  type HiddenOrNone,
} from "../demo/stand-in.ts";
import type { DrillShown } from "@rheonom/contract/practice";
import {
  drillOf,
  practiceJob,
  practiceOfRepair,
  type BenchVehicle,
  type PracticeJob,
  type PracticeManner,
  type PracticeOn,
} from "../demo/practice.ts";
import { HARNESS_SHAPE, readJson } from "../doors/json.ts";
import { AppError } from "../errors.ts";
import { parseBody } from "../http/validate.ts";
import type { Paper } from "../report/paper.ts";
import { harnessRow, type NewVersion } from "../store/harness-row.ts";

const zipped = promisify(gzip);

/** Work that takes longer than a request may hold up the others. Each takes and gives what crosses threads; failures are AppErrors. */
export const TASKS = {
  /** The record as open data, JSON in UTF-8. `log`: the JSON of a JobLog; `isRedacted`: without what tells whose vehicle it is. */
  reportJson: async (log: Uint8Array, now: string, isRedacted: boolean): Promise<Uint8Array> => {
    const { report } = reportOf(log, now, isRedacted);
    return new TextEncoder().encode(JSON.stringify(report, null, 2));
  },
  /** A paper of a job, as A4 or as one HTML file in UTF-8. */
  paper: async (
    log: Uint8Array,
    now: string,
    name: PaperName,
    form: PaperForm,
    isRedacted: boolean,
    shop: PaperShop,
  ): Promise<Uint8Array> => formed(await paperOf(name, reportOf(log, now, isRedacted), shop), form),
  /** Its readings as a table, CSV in UTF-8. */
  readingsCsv: async (log: Uint8Array, now: string): Promise<Uint8Array> =>
    new TextEncoder().encode(readingsCsv(reportOf(log, now, false).report)),
  /** A job as one file. `log`: the JSON of a JobLog; `chained`: that of its ChainedLog. */
  writeBundle: async (log: Uint8Array, chained: Uint8Array, now: string, shop: PaperShop): Promise<Uint8Array> => {
    const found = reportOf(log, now, false);
    const { report, view } = found;
    const pdf = async (name: PaperName): Promise<Uint8Array> => formed(await paperOf(name, found, shop), "pdf");
    return writeBundle(
      {
        chained,
        reportJson: new TextEncoder().encode(JSON.stringify(report, null, 2)),
        papers: {
          "report.pdf": await pdf("report"),
          "customer.pdf": await pdf("customer"),
        },
        circuit: view.circuit?.notation ?? "",
        pictures: await foundOf(
          view.pictures.map((p) => p.data.hash),
          (hash) => readPicture(shop.mediaFolder, hash),
        ),
        traces: await foundOf(
          view.traces.map((t) => t.data.hash),
          (hash) => readTraceOf(shop.mediaFolder, hash),
        ),
      },
      view.id,
      now,
    );
  },
  /** Known-goods as one file for another shop. Throws AppError shelf-file-refused where their recordings are too many for one file. */
  writeShelf: async (items: readonly KnownGood[], shop: PaperShop, now: string): Promise<Uint8Array> => {
    const traces = await foundOf(
      items.flatMap((i) => (i.trace === undefined ? [] : [i.trace.hash])),
      (hash) => readTraceOf(shop.mediaFolder, hash),
    );
    const bytes = Object.values(traces).reduce((sum, t) => sum + t.length, 0);
    if (bytes > MOST_MEDIA_BYTES)
      throw new AppError("shelf-file-refused", {
        why: `its recordings have more than ${MOST_MEDIA_BYTES / 1e6} MB; take one vehicle at a time`,
      });
    // One whose samples are here no more is left out.
    const whole = items.filter((i) => i.trace === undefined || traces[i.trace.hash] !== undefined);
    return writeShelfFile(whole, traces, shop.name, now);
  },
  readShelf: async (zip: Uint8Array): Promise<ReturnType<typeof readShelfFile>> => Promise.resolve(readShelfFile(zip)),
  /** The log in a bundle of another shop. */
  readBundle: async (zip: Uint8Array): Promise<BundleRead> => readBundle(zip),
  groundsPdf: async (harness: Uint8Array, options: readonly string[] | undefined, now: string): Promise<Uint8Array> => {
    const { printGrounds } = await import("../report/print-vehicle.ts");
    return asBytes(await printGrounds(variantOf(harness, options), new Date(now)));
  },
  facePdf: async (harness: Uint8Array, options: readonly string[] | undefined, ask: FaceAsk, now: string): Promise<Uint8Array> => {
    const variant = variantOf(harness, options);
    if (!variant.components.some((c) => c.id === ask.connector && c.kind === "connector"))
      throw new AppError("place-unknown", { why: `There is no connector ${ask.connector.slice(0, 40)}` });
    const { printFace } = await import("../report/print-vehicle.ts");
    return asBytes(await printFace(variant, faceOf(variant, ask.connector, ask.half, ask.look), stateOf(variant, ask), new Date(now)));
  },
  /** A body that holds a vehicle's wiring, read and checked. */
  importHarness: async (body: Uint8Array): Promise<Omit<NewVersion, "at">> => {
    const { harness, basedOn, by, note } = parseBody(saveHarness, readJson(body, HARNESS_SHAPE));
    const errors = validateHarness(harness).filter((p) => p.severity === "error");
    if (errors.length > 0)
      throw new AppError(
        "harness-invalid",
        { count: String(errors.length) },
        errors.slice(0, 100).map((p) => ({ path: p.at, message: p.message })),
      );
    return { ...harnessRow(harness), basedOn, by, note };
  },
  /** A reading on the simulated vehicle of a demo job. */
  simulate: async (log: Uint8Array, hidden: HiddenOrNone, ask: Simulate): Promise<Simulated> =>
    simulateReading(entriesOf(log).events, hidden, ask, Math.random),
  /** What eyes, ears and hands find at the simulated vehicle of a demo job. */
  look: async (log: Uint8Array, hidden: HiddenOrNone, ask: SimulateLook): Promise<Looked> =>
    simulateLooking(entriesOf(log).events, hidden, ask, Math.random),
  /** A recording of the simulated vehicle of a demo job, packed as traces are kept. Tells the share that is worked out. */
  capture: async (log: Uint8Array, hidden: HiddenOrNone, ask: Capture): Promise<Uint8Array> => {
    const trace = simulateCapture(entriesOf(log).events, hidden, ask, Math.random, workerEmit);
    return new Uint8Array(await zipped(writeTraceFile(trace), { level: 1 }));
  },
  /** A closed job on a simulated vehicle, step by step. Tells the share that is worked out. */
  debriefWalk: async (log: Uint8Array, hidden: HiddenOrNone): Promise<Walked> =>
    walkOf(playedJob(entriesOf(log).events, hidden, workerEmit)),
  /** The way of the first proposals that it is held against. Tells the share that is worked out. */
  debriefPlan: async (log: Uint8Array, hidden: HiddenOrNone): Promise<Way | undefined> =>
    planOf(playedJob(entriesOf(log).events, hidden, workerEmit)),
  /** What both come to. */
  debrief: async (
    log: Uint8Array,
    hidden: HiddenOrNone,
    halves: { readonly walked: Walked; readonly plan: Way | undefined },
    weights?: Weights,
  ): Promise<DebriefMade> => debriefJob(entriesOf(log).events, hidden, halves, weights),
  /** A job to practise on with the fault that a repair was made for. */
  practiceOfRepair: async (notation: string, at: string, state: VehicleState, manner: PracticeManner, now: string): Promise<PracticeJob> =>
    Promise.resolve(practiceOfRepair(notation, at, state, manner, new Date(now))),
  /** A question of a minute. */
  drill: async (vehicles: readonly BenchVehicle[], seed: number): Promise<DrillShown> => Promise.resolve(drillOf(vehicles, seed)),
  /** A job to practise on. */
  practice: async (on: PracticeOn, ask: Parameters<typeof practiceJob>[1], manner: PracticeManner, now: string): Promise<PracticeJob> =>
    practiceJob(on, ask, manner, new Date(now)),
  /** What the line to a vehicle needs of a job's log: its circuit, what is still wrong with its simulated vehicle, and whether its codes are written down. */
  lineFacts: async (log: Uint8Array, hidden: HiddenOrNone, moving?: string): Promise<LineFacts> => {
    const entries = entriesOf(log).events;
    const view = foldJob(entries);
    const latest = view === undefined ? undefined : latestScan(view);
    const harness = view === undefined ? undefined : vehicleOf(entries, view, hidden.world);
    const isKnown = view !== undefined && harness !== undefined;
    return {
      harness,
      faults: isKnown ? faultsLeft(view, harness, hidden) : (hidden.truth ?? []),
      now: isKnown ? faultsNow(view, harness, hidden, entries.length, moving) : (hidden.truth ?? []),
      without: view?.practice?.without ?? [],
      codesKept: view !== undefined && latest !== undefined && latest.clearsBefore >= view.clears,
    };
  },
} as const;
export type Tasks = typeof TASKS;

/** For the next technician, for the customer, for whoever pays. */
export const PAPERS = ["report", "customer", "estimate"] as const;
export type PaperName = (typeof PAPERS)[number];
export type PaperForm = "pdf" | "html";
/** What papers need of the shop beside the job. */
export interface PaperShop {
  /** At the foot of each page; "" where it has none. */
  readonly name: string;
  readonly mediaFolder: string;
}

export interface LineFacts {
  readonly harness: Harness | undefined;
  /** Those that no repair has named. */
  readonly faults: readonly Fault[];
  /** Those of them that are there at this point of the log. */
  readonly now: readonly Fault[];
  /** What may not be used in a practice job. */
  readonly without: readonly Instrument[];
  readonly codesKept: boolean;
}

export interface FaceAsk {
  readonly connector: string;
  readonly half: "a" | "b";
  readonly look: "mating side" | "wire side";
  readonly key: unknown;
  readonly engine: unknown;
  /** Every hand switch is on unless this is false. */
  readonly switchesOn: boolean;
}

const asBytes = (buffer: Buffer): Uint8Array => Uint8Array.from(buffer);

/** What the store wrote a moment ago. */
const entriesOf = (log: Uint8Array): JobLog => JSON.parse(new TextDecoder().decode(log)) as JobLog;

function read(log: Uint8Array) {
  const { id, events, hash } = entriesOf(log);
  const view = foldJob(events);
  if (view === undefined) throw new AppError("job-not-found", { id });
  return { view, hash, harness: view.circuit === undefined ? undefined : parseNotation(view.circuit.notation).harness };
}

/** The report of a log. `isRedacted`: without what tells whose vehicle it is. */
function reportOf(log: Uint8Array, now: string, isRedacted: boolean) {
  const { view, harness, hash } = read(log);
  const report = buildReport(view, harness, now, hash);
  return { report: isRedacted ? redacted(report) : report, view, harness };
}

/** Loaded when something is printed: most threads never do. */
async function paperOf(name: PaperName, found: ReturnType<typeof reportOf>, shop: PaperShop): Promise<Paper> {
  const paper = await contentOf(name, found, shop.mediaFolder);
  return shop.name === "" ? paper : { ...paper, foot: `${shop.name} · ${paper.foot}` };
}

async function contentOf(name: PaperName, { report, view, harness }: ReturnType<typeof reportOf>, mediaFolder: string): Promise<Paper> {
  const { picturesForPaper } = await import("../report/print-pictures.ts");
  const read = (hash: string): Promise<Buffer | undefined> => readPicture(mediaFolder, hash);
  if (name === "report") {
    const pictures = await picturesForPaper(report.pictures, read);
    const { tracesForPaper } = await import("../report/print-traces.ts");
    const traces = await tracesForPaper(report, (hash) => readTraceOf(mediaFolder, hash));
    return (await import("../report/print-report.ts")).recordPaper(report, view, harness, pictures, traces);
  }
  const { customerPaper, estimatePaper, picturesForCustomer } = await import("../report/print-handed.ts");
  if (name === "estimate") return estimatePaper(report);
  return customerPaper(report, harness, await picturesForPaper(picturesForCustomer(report), read));
}

/** What is in this shop of what the entries of a job name, struck ones too: they stay in the log. */
async function foundOf(
  hashes: readonly string[],
  read: (hash: string) => Promise<Buffer | undefined>,
): Promise<Readonly<Record<string, Uint8Array>>> {
  const found = await Promise.all([...new Set(hashes)].map(async (hash) => [hash, await read(hash)] as const));
  return Object.fromEntries(found.flatMap(([hash, bytes]) => (bytes === undefined ? [] : [[hash, bytes]])));
}

async function formed(paper: Paper, form: PaperForm): Promise<Uint8Array> {
  if (form === "html") return new TextEncoder().encode((await import("../report/page.ts")).pageOf(paper));
  return asBytes(await (await import("../report/paper.ts")).printPaper(paper));
}

/** The wiring with the options named, all of them when none are. `json`: as it is stored, in UTF-8. */
function variantOf(json: Uint8Array, options: readonly string[] | undefined): Harness {
  const harness = harnessSchema.parse(JSON.parse(new TextDecoder().decode(json)));
  return resolveVariant(harness, options ?? (harness.options ?? []).map((o) => o.id));
}

/** The state of the query: key, engine, and every hand switch unless they are off. */
function stateOf(harness: Harness, { key, engine, switchesOn }: FaceAsk): VehicleState {
  const switches = harness.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" ? [c.id] : []));
  return parseBody(vehicleState, {
    key: key ?? "run",
    engine: engine ?? "stopped",
    on: switchesOn ? switches : [],
    temperatureC: 20,
    opened: [],
    bridged: [],
  });
}
