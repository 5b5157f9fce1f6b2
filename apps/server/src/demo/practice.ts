import { randomBytes } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { shownBy } from "@rheonom/core/diagnosis";
import { deviceOf, lookupOf, type Harness } from "@rheonom/core/harness";
import { EMPTY_COMPLAINT, jobEvent, uuidV7, type JobEvent } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import { benchFaultOf, type BenchFault } from "@rheonom/core/practice";
import { AppError } from "../errors.ts";

/** A job on a bench rig with something wrong in it. */
export interface PracticeJob {
  readonly events: readonly JobEvent[];
  readonly truth: BenchFault["faults"];
}

/** Texts of the bench rigs. */
export function readRigs(root: string): readonly string[] {
  const folder = join(root, "demo/vehicles");
  return readdirSync(folder)
    .filter((f) => f.startsWith("rig-") && f.endsWith(".circuit"))
    .sort()
    .map((f) => readFileSync(join(folder, f), "utf8"));
}

/** Random part of an id. */
const ID_BYTES = 10;
/** What a driver says of a part. */
const SAYS: Readonly<Record<string, string>> = {
  none: "does not work",
  weak: "is weak",
  flickers: "comes and goes",
  "too much": "does too much",
  stuck: "is stuck",
  full: "works when nobody asks for it",
};

/** Draws a rig and a fault. `by`: who practises; `chance`: numbers from 0 to below 1. Throws AppError no-stand-in where no rig has a fault that is noticed. */
export function practiceJob(rigs: readonly string[], by: string, now: Date, chance: () => number): PracticeJob {
  const notation = rigs[Math.floor(chance() * rigs.length)];
  const harness = notation === undefined ? undefined : parseNotation(notation).harness;
  const drawn = harness === undefined ? undefined : benchFaultOf(harness, chance);
  if (notation === undefined || harness === undefined || drawn === undefined) throw new AppError("no-stand-in");
  const { complaint, faults } = drawn;
  const jobId = uuidV7(now.getTime(), randomBytes(ID_BYTES));
  const make = (n: number, body: object): JobEvent =>
    jobEvent.parse({
      id: uuidV7(now.getTime() + n, randomBytes(ID_BYTES)),
      jobId,
      at: new Date(now.getTime() + n).toISOString(),
      by,
      ...body,
    });
  // A driver also tells of what is as it should be; that is no complaint.
  const said = complaint.evidence.flatMap(({ observe, result, state }) => {
    if (observe.kind !== "part" || result.kind !== "word") return [];
    const sound = shownBy(harness, { state, observe }, []);
    return [{ state, observe, word: result.word, wrong: sound.kind !== "word" || sound.word !== result.word }];
  });
  const words = said
    .filter((s) => s.wrong)
    .map((s) => `${partName(harness, s.observe.part)} ${SAYS[s.word] ?? s.word}.`)
    .join(" ");
  return {
    truth: faults,
    events: [
      make(1, { type: "job-opened", data: { ...EMPTY_COMPLAINT, vehicle: `Practice: ${harness.name}`, registration: "bench", words } }),
      make(2, { type: "circuit-set", data: { notation } }),
      ...said.map((data, i) => make(3 + i, { type: "seen", data: { ...data, source: "customer" } })),
    ],
  };
}

/** "The horn", "Relay R1". */
function partName(harness: Harness, id: string): string {
  const part = lookupOf(harness).parts.get(id);
  if (part?.label !== undefined) return `The ${part.label}`;
  return part?.kind === "device" ? `The ${deviceOf(part).device.family} ${id}` : id;
}
