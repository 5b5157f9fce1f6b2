import { z } from "zod";
import { describeState, stateKey, vehicleState } from "../circuit/index.ts";
import { type Harness, harnessSchema } from "../harness/index.ts";
import { leadsSchema as leads, predictReading } from "../instruments/index.ts";
import { RULE_SETS } from "../limits/index.ts";
import { DAMAGE_KINDS, estimateSchema, FAULT_TYPES, JOINT_METHODS, REMEDIES, totalsOf } from "../repair/index.ts";
import { CAUTION_FOOTER, cautionsOfJob } from "./cautions.ts";
import { complaintData, FOUND_KINDS, MEND_METHODS, TEMPORARY_KINDS } from "./events.ts";
import type { JobView, MendView, ReadingView, TraceView } from "./fold.ts";
import { meterWords, READ_BY } from "./meter-check.ts";
import { PICTURE_WHENS, pictureHash, pictureMark } from "./picture-events.ts";
import { DRIVE_OUTCOMES, ESTIMATE_ANSWERS, FINDING_OUTCOMES, NEIGHBOUR_VERDICTS } from "./repair-events.ts";
import { describeLeads } from "./describe.ts";
import { buildProof } from "./proof.ts";
import { pathsOfJob } from "./paths.ts";
import { pairPictures } from "./pictures.ts";

const time = z.string().describe("ISO 8601, UTC");
const readingRow = z.object({
  at: time,
  by: z.string(),
  phase: z.enum(["before", "after"]).describe("Before or after the last mend"),
  leads,
  leadsWords: z.string(),
  state: vehicleState,
  stateWords: z.string(),
  text: z.string().describe("Digits as typed"),
  value: z.number().nullable().describe("V, Ω or A; null for over range"),
  soundValue: z.number().nullable().describe("What a sound circuit would show, V, Ω or A; null where it has no answer"),
  instrument: z.enum(READ_BY),
  meter: z.string().describe("The connected meter that it came from, and how its self-test went; empty for what was typed"),
  struck: z.string().nullable().describe("Why the reading does not count; null while it stands"),
});

/** The record of a job as open data. Published as docs/formats/report.schema.json. */
export const report = z.object({
  format: z.literal("rheonom-report"),
  version: z.literal(1),
  generatedAt: time,
  job: z.object({
    id: z.string(),
    openedAt: time,
    openedBy: z.string(),
    closedAt: time.nullable(),
    closedBy: z.string().nullable(),
    people: z.array(z.string()),
    chainHash: z.string().describe("SHA-256 that chains the last entry of the log to all before it; empty where the log is not chained"),
  }),
  complaint: complaintData.required(),
  rules: z.enum(RULE_SETS),
  circuit: z.object({ notation: z.string(), harness: harnessSchema.nullable().describe("null when the text has errors") }).nullable(),
  verdicts: z.array(
    z.object({
      phase: z.enum(["before", "after"]),
      load: z.string(),
      stateWords: z.string(),
      headline: z.string(),
      detail: z.string(),
      tone: z.enum(["fault", "sound", "open question"]),
    }),
  ),
  readings: z.array(readingRow),
  mends: z.array(
    z.object({
      at: time,
      by: z.string(),
      place: z.string(),
      found: z.string(),
      cause: z.string(),
      method: z.enum(MEND_METHODS),
      done: z.string(),
      damage: z
        .object({ kind: z.enum(DAMAGE_KINDS), segment: z.string(), fromEndM: z.number().nullable(), remedy: z.enum(REMEDIES).nullable() })
        .nullable()
        .describe("Kind of damage, where along the loom, and what took its cause away"),
      fault: z
        .object({ type: z.enum(FAULT_TYPES), ohms: z.number().nullable() })
        .nullable()
        .describe("What was wrong as it was measured, with its resistance, Ω"),
      joint: z
        .object({
          way: z.enum(["find", "overlay"]),
          why: z.string(),
          method: z.enum(JOINT_METHODS),
          areaMm2: z.number().nullable(),
          lengthM: z.number().nullable(),
        })
        .nullable(),
      fuseAmps: z.number().nullable().describe("Rating of the fuse that was put in, A"),
      groundTo: z.string().nullable().describe("Stud to which the ground was led anew"),
      override: z.string().nullable().describe("Why a part was replaced before its proofs were there; signed by whoever made the entry"),
      neighbours: z.array(z.object({ wire: z.string(), verdict: z.enum(NEIGHBOUR_VERDICTS) })),
      neighboursLeft: z.string().nullable().describe("Why the others were not looked at"),
    }),
  ),
  findings: z
    .array(
      z.object({
        at: time,
        by: z.string(),
        place: z.string(),
        found: z.string(),
        outcome: z.enum(FINDING_OUTCOMES),
        risk: z.string(),
        why: z.string(),
      }),
    )
    .describe("Found and not repaired: advised or declined"),
  estimate: estimateSchema
    .extend({
      at: time,
      by: z.string(),
      net: z.number().int(),
      tax: z.number().int(),
      gross: z.number().int().describe("In the currency's smallest unit, like every amount here"),
      answer: z.object({ at: time, answer: z.enum(ESTIMATE_ANSWERS), who: z.string(), how: z.string(), note: z.string() }).nullable(),
    })
    .nullable(),
  workedMinutes: z.number().int().nullable().describe("Worked on it in all; null where nobody has said"),
  drives: z.array(
    z.object({
      at: time,
      by: z.string(),
      outcome: z.enum(DRIVE_OUTCOMES),
      met: z.array(z.string()),
      unmet: z.array(z.string()),
      seen: z.string(),
      minutes: z.number().nullable(),
      from: z.number().nullable(),
      to: z.number().nullable(),
      live: z
        .array(z.object({ name: z.string(), unit: z.string(), low: z.number(), high: z.number(), last: z.number() }))
        .describe("What modules said meanwhile"),
    }),
  ),
  watch: z.object({ until: z.string(), distance: z.string(), what: z.string() }).nullable(),
  proof: z.object({
    outcome: z.enum(["no mend", "nothing failed before", "proven", "open"]),
    pairs: z.array(
      z.object({
        load: z.string(),
        stateWords: z.string(),
        from: z.string(),
        to: z.string(),
        beforeVolts: z.number(),
        beforeLimitVolts: z.number().nullable(),
        afterVolts: z.number().nullable(),
        afterLimitVolts: z.number().nullable(),
        soundVolts: z.number().nullable(),
        outcome: z.enum(["proven", "still failing", "not repeated", "cannot judge", "no current", "excused"]),
        loadedBy: z.string().nullable().describe("What shows that current flowed after the repair; null where nothing does"),
        excuse: z.string().nullable().describe("Why the test cannot be repeated"),
      }),
    ),
    checks: z
      .array(
        z.object({
          kind: z.enum(["part", "code", "module", "test"]),
          what: z.string(),
          stateWords: z.string(),
          before: z.string(),
          sound: z.string(),
          after: z.string().nullable(),
          outcome: z.enum(["proven", "still failing", "not repeated", "excused"]),
          excuse: z.string().nullable(),
        }),
      )
      .describe("What was wrong and is not a drop: what parts did, codes, modules that did not answer"),
  }),
  temporary: z.array(
    z.object({
      at: time,
      by: z.string(),
      kind: z.enum(TEMPORARY_KINDS),
      place: z.string(),
      to: z.string(),
      note: z.string(),
      ended: z.enum(["undone", "explained", "open"]),
      why: z.string(),
    }),
  ),
  found: z
    .array(z.object({ at: time, by: z.string(), place: z.string(), what: z.enum(FOUND_KINDS), drawn: z.string(), found: z.string() }))
    .describe("What was otherwise on the vehicle than drawn"),
  notes: z.array(z.object({ at: time, by: z.string(), text: z.string() })),
  pictures: z
    .array(
      z.object({
        at: time,
        by: z.string(),
        hash: pictureHash.describe("SHA-256 of its bytes, which are beside this in a bundle as pictures/<hash>.jpg"),
        width: z.number().int(),
        height: z.number().int(),
        place: z.string(),
        when: z.enum(PICTURE_WHENS),
        caption: z.string(),
        reading: z.string().nullable().describe("The reading that it belongs to, in words"),
        marks: z.array(pictureMark).describe("Drawn over it; shares of its width and height from the upper left corner"),
      }),
    )
    .describe("Before and after of the same place stand one after the other"),
  traces: z
    .array(
      z.object({
        at: time,
        by: z.string(),
        name: z.string(),
        hash: pictureHash.describe("SHA-256 of its packed file, which is beside this in a bundle as traces/<hash>.trace.gz"),
        startS: z.number(),
        rateHz: z.number(),
        count: z.number().int(),
        channels: z.array(z.object({ name: z.string(), unit: z.string(), factor: z.number(), leadsWords: z.string() })),
        stateWords: z.string(),
        note: z.string(),
      }),
    )
    .describe("Recordings of a scope or logger"),
  picturesLeftOut: z.number().int().describe("Pictures that a copy without the customer does not show, since a plate may be on them"),
  cautions: z.array(z.object({ title: z.string(), text: z.string() })),
  cautionFooter: z.string(),
  closing: z.object({ safeToDrive: z.enum(["yes", "with advice", "no"]), advice: z.string(), withoutProof: z.string() }).nullable(),
});
export type Report = z.infer<typeof report>;

/** Makes the record from the view of a job. `harness`: the circuit read from its text, undefined when it has errors; `chainHash`: of the log's last entry. */
export function buildReport(view: JobView, harness: Harness | undefined, generatedAt: string, chainHash = ""): Report {
  const mends = view.mends.filter((m) => m.struck === undefined);
  const sound = soundValues(harness);
  const proof = harness === undefined ? { outcome: "no mend" as const, pairs: [], checks: [] } : buildProof(harness, view);
  return {
    format: "rheonom-report",
    version: 1,
    generatedAt,
    job: {
      id: view.id,
      openedAt: view.openedAt,
      openedBy: view.openedBy,
      closedAt: view.closed?.at ?? null,
      closedBy: view.closed?.by ?? null,
      people: [...view.people],
      chainHash,
    },
    complaint: view.complaint,
    rules: view.rules,
    circuit: view.circuit === undefined ? null : { notation: view.circuit.notation, harness: harness ?? null },
    verdicts:
      harness === undefined
        ? []
        : pathsOfJob(harness, view)
            .map((t) => ({ phase: t.when, load: t.load, stateWords: describeState(t.state, harness), ...t.words }))
            // The repeated test alone leaves the rest of the path open, which is no question any more once all is verified.
            .filter((v) => !(proof.outcome === "proven" && v.phase === "after" && v.tone === "open question")),
    readings: view.readings.map((r) => readingOf(harness, r, mends.length, sound)),
    mends: mends.map((m) => ({
      at: m.at,
      by: m.by,
      place: m.data.at,
      found: m.data.found,
      cause: m.data.cause,
      method: m.data.method,
      done: m.data.done,
      ...mendDetailsOf(view, m),
    })),
    findings: view.findings.filter((f) => f.struck === undefined).map(({ at, by, data: { at: place, ...f } }) => ({ at, by, place, ...f })),
    estimate: estimateOf(view),
    workedMinutes: view.minutes ?? null,
    drives: view.drives
      .filter((d) => d.struck === undefined)
      .map(({ at, by, data: { minutes = null, from = null, to = null, live = [], ...d } }) => ({
        at,
        by,
        ...d,
        minutes,
        from,
        to,
        live: [...live],
      })),
    watch: view.watch ?? null,
    proof: {
      outcome: proof.outcome,
      pairs: proof.pairs.map((p) => ({
        load: p.load,
        stateWords: describeState(p.state, harness),
        from: p.before.fromPlace,
        to: p.before.toPlace,
        beforeVolts: p.before.dropVolts,
        beforeLimitVolts: p.before.limitVolts ?? null,
        afterVolts: p.after?.dropVolts ?? null,
        afterLimitVolts: p.after?.limitVolts ?? null,
        soundVolts: p.after?.soundDropVolts ?? null,
        outcome: p.outcome,
        loadedBy: p.loadedBy ?? null,
        excuse: p.excuse ?? null,
      })),
      checks: proof.checks.map(({ state, after, excuse, observe: _, ...c }) => ({
        ...c,
        excuse: excuse ?? null,
        stateWords: harness === undefined ? "" : describeState(state, harness),
        after: after ?? null,
      })),
    },
    temporary: view.tray.map((t) => ({
      at: t.at,
      by: t.by,
      kind: t.kind,
      place: t.place,
      to: t.to,
      note: t.note,
      ended: t.ended?.how ?? ("open" as const),
      why: t.ended?.why ?? "",
    })),
    found: view.found
      .filter((f) => f.struck === undefined)
      .map((f) => ({ at: f.at, by: f.by, place: f.data.at, what: f.data.what, drawn: f.data.drawn, found: f.data.found })),
    notes: view.notes.filter((n) => n.struck === undefined).map((n) => ({ at: n.at, by: n.by, text: n.text })),
    pictures: pairPictures(view.pictures.filter((p) => p.struck === undefined)).map(({ at, by, marks, data }) => ({
      at,
      by,
      hash: data.hash,
      width: data.width,
      height: data.height,
      place: data.at,
      when: data.when,
      caption: data.caption,
      reading: readingWords(view, data.reading),
      marks: [...marks],
    })),
    traces: view.traces.filter((t) => t.struck === undefined).map((t) => traceOf(harness, t)),
    picturesLeftOut: 0,
    cautions: cautionsOfJob(view, harness).map((c) => ({ title: c.title, text: c.text })),
    cautionFooter: CAUTION_FOOTER,
    closing: view.closed?.data ?? null,
  };
}

function mendDetailsOf(view: JobView, { data: { at, damage, fault, joint, fuseAmps, groundTo, override } }: MendView) {
  const beside = view.neighbours.find((n) => n.of === at);
  return {
    damage: damage === undefined ? null : { ...damage, fromEndM: damage.fromEndM ?? null, remedy: damage.remedy ?? null },
    fault: fault === undefined ? null : { ...fault, ohms: fault.ohms ?? null },
    joint: joint === undefined ? null : { ...joint, areaMm2: joint.areaMm2 ?? null, lengthM: joint.lengthM ?? null },
    fuseAmps: fuseAmps ?? null,
    groundTo: groundTo ?? null,
    override: override ?? null,
    neighbours: [...(beside?.told ?? [])],
    neighboursLeft: beside?.left ?? null,
  };
}

function estimateOf({ estimate }: JobView): Report["estimate"] {
  if (estimate === undefined) return null;
  const { at, by, data, answer } = estimate;
  const { net, tax, gross } = totalsOf(data);
  return { ...data, at, by, net, tax, gross, answer: answer === undefined ? null : { at: answer.at, ...answer.data } };
}

function traceOf(harness: Harness | undefined, { at, by, data }: TraceView): Report["traces"][number] {
  const { name, hash, startS, rateHz, count, channels, state, note } = data;
  return {
    at,
    by,
    name,
    hash,
    startS,
    rateHz,
    count,
    channels: channels.map((c) => ({
      name: c.name,
      unit: c.unit,
      factor: c.factor,
      leadsWords: c.red === "" || c.black === "" ? c.red : `${c.red} against ${c.black}`,
    })),
    stateWords: state === undefined ? "" : describeState(state, harness),
    note,
  };
}

function readingWords(view: JobView, id: string | undefined): string | null {
  const found = id === undefined ? undefined : view.readings.find((r) => r.id === id && r.struck === undefined);
  return found === undefined ? null : `${describeLeads(found.data.leads)}: ${found.data.text}`;
}

function readingOf(
  harness: Harness | undefined,
  r: ReadingView,
  mends: number,
  sound: (r: ReadingView) => number | null,
): Report["readings"][number] {
  const { data } = r;
  return {
    at: r.at,
    by: r.by,
    phase: mends > 0 && r.mendsBefore === mends ? "after" : "before",
    leads: data.leads,
    leadsWords: describeLeads(data.leads),
    state: data.state,
    stateWords: describeState(data.state, harness),
    text: data.text,
    value: data.shown.kind === "value" ? data.shown.value : null,
    soundValue: sound(r),
    instrument: data.instrument,
    meter: meterWords(r),
    struck: r.struck ?? null,
  };
}

/** What a sound circuit would show, the same for the same leads in the same state; null when the circuit has changed since and no longer holds the place. */
function soundValues(harness: Harness | undefined): (r: ReadingView) => number | null {
  const known = new Map<string, number | null>();
  return ({ data }) => {
    if (harness === undefined) return null;
    const key = `${stateKey(data.state)} ${JSON.stringify(data.leads)}`;
    const before = known.get(key);
    if (before !== undefined) return before;
    const value = soundValue(harness, data);
    known.set(key, value);
    return value;
  };
}

function soundValue(harness: Harness, { state, leads: at }: ReadingView["data"]): number | null {
  try {
    const reading = predictReading(harness, state, [], at);
    return reading.kind === "value" ? reading.value : null;
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}
