import type { VehicleState } from "../circuit/index.ts";
import { codeName, partsOf, silentIn } from "../codes/index.ts";
import { INSTRUMENTS, judgeWiggle, type Evidence, type Observable, type Question, type WiggleJudged } from "../diagnosis/index.ts";
import { linkOf, lookupOf, partOfLink, type Harness } from "../harness/index.ts";
import type { Leads } from "../instruments/index.ts";
import { resolutionOf } from "./evidence.ts";
import type { WarningLamp } from "./events.ts";
import type { JobView, ScanView, WiggleView } from "./fold.ts";

/** Everything found since the last mend as evidence, in order of time. */
export const evidenceOf = (view: JobView): readonly Evidence[] =>
  evidenceAfter(view, view.mends.filter((m) => m.struck === undefined).length);

/** What a meter with these leads observes. */
export const observedBy = (leads: Leads): Observable =>
  leads.quantity === "amps"
    ? { kind: "amps", around: leads.around }
    : {
        kind: leads.quantity,
        red: leads.red,
        black: leads.black,
        ...(leads.quantity === "volts" && leads.inputOhms !== undefined ? { inputOhms: leads.inputOhms } : {}),
      };

/** What a meter of a stated accuracy may be off by at a reading. */
const offBy = (percent: number | undefined, value: number): { readonly mayBeOff?: number } =>
  percent === undefined || value === 0 ? {} : { mayBeOff: (percent / 100) * Math.abs(value) };

/** Everything found when so many mends had been made. */
export function evidenceAfter(view: JobView, mends: number): readonly Evidence[] {
  const readings = view.readings.flatMap((r): (Evidence & { readonly at: string })[] => {
    if (r.struck !== undefined || r.mendsBefore !== mends) return [];
    const { leads, shown, state, text, meter } = r.data;
    const observe = observedBy(leads);
    const result: Evidence["result"] =
      shown.kind === "over"
        ? { kind: "over" }
        : {
            kind: "value",
            value: shown.value,
            ...(leads.quantity === "volts" ? { resolution: resolutionOf(text) } : {}),
            ...offBy(meter?.accuracyPercent, shown.value),
          };
    return [{ id: r.id, at: r.at, state, observe, result, source: "technician", ...presentIn(r.data) }];
  });
  const seen = view.seen.flatMap((s): (Evidence & { readonly at: string })[] =>
    s.struck !== undefined || s.mendsBefore !== mends
      ? []
      : [
          {
            id: s.id,
            at: s.at,
            state: s.data.state,
            observe: s.data.observe,
            result: s.data.word === undefined ? { kind: "value", value: s.data.value! } : { kind: "word", word: s.data.word },
            source: s.data.source ?? "technician",
            ...presentIn(s.data),
          },
        ],
  );
  const moved = view.wiggles.flatMap((w): (Evidence & { readonly at: string })[] => {
    if (w.struck !== undefined || w.mendsBefore !== mends) return [];
    const judged = wiggleOf(w);
    return (judged?.spots ?? []).flatMap((spot) =>
      spot.word === undefined
        ? []
        : [
            {
              id: `${w.id} ${spot.at}`,
              at: w.at,
              state: w.data.state,
              observe: { kind: "wiggle" as const, at: spot.at },
              result: { kind: "word" as const, word: spot.word },
              source: "technician" as const,
            },
          ],
    );
  });
  const asked = latestScan(view);
  const codes = asked === undefined || asked.mendsBefore !== mends ? [] : codesAsEvidence(asked);
  return [...readings, ...seen, ...moved, ...codes].sort((p, q) => (p.at < q.at ? -1 : p.at > q.at ? 1 : 0)).map(({ at: _, ...e }) => e);
}

/** What a session of moving things says. */
export const wiggleOf = ({ data }: Pick<WiggleView, "data">): WiggleJudged | undefined =>
  judgeWiggle(
    data.samples.map(([ms, value]) => ({ atS: ms / 1000, value })),
    data.marks.map(([ms, at]) => ({ atS: ms / 1000, at })),
  );

const presentIn = ({ present }: { readonly present?: boolean | undefined }): { readonly present?: boolean } =>
  present === undefined ? {} : { present };

/** The latest scan that stands. */
export const latestScan = (view: JobView): ScanView | undefined => view.scans.findLast((s) => s.struck === undefined);

/** The scan that the codes were last cleared after, for telling what came back. */
export function scanBeforeClear(view: JobView): ScanView | undefined {
  const latest = latestScan(view);
  return latest === undefined || latest.clearsBefore === 0
    ? undefined
    : view.scans.findLast((s) => s.struck === undefined && s.clearsBefore < latest.clearsBefore);
}

function codesAsEvidence({ id, at, data }: ScanView): readonly (Evidence & { readonly at: string })[] {
  const { scan, state } = data;
  const base = { at, state, source: "scan" as const };
  return [
    ...scan.codes.map((c, i) => ({
      ...base,
      id: `${id} ${i}`,
      observe: { kind: "code" as const, code: codeName(c) },
      result: { kind: "word" as const, word: c.status },
    })),
    ...scan.modules
      .filter((m) => m.answers || m.asleep !== true)
      .map((m) => ({
        ...base,
        id: `${id} ${m.id}`,
        observe: { kind: "answers" as const, module: m.id },
        result: { kind: "word" as const, word: m.answers ? ("yes" as const) : ("no" as const) },
      })),
  ];
}

/** Parts that the codes of the latest scan are about, those of the failing ones first. */
export function partsOfCodes(harness: Harness, view: JobView): readonly string[] {
  const codes = latestScan(view)?.data.scan.codes ?? [];
  const failing = codes.filter((c) => c.status === "active");
  return [...new Set((failing.length > 0 ? failing : codes).flatMap((c) => partsOf(harness, c)))].slice(0, MOST_CODED);
}
const MOST_CODED = 4;

/** What a warning lamp is about, where the vehicle has it. */
const LAMP_DEVICES: Readonly<Partial<Record<WarningLamp, string>>> = { charge: "alternator" };
/** Parts that the model has for a warning lamp in the instrument panel. */
export const partsOfLamp = (harness: Harness, lamp: WarningLamp): readonly string[] =>
  harness.components.flatMap((c) => (c.kind === "device" && c.device === LAMP_DEVICES[lamp] ? [c.id] : []));

/**
 * Codes that the modules asked by the latest scan watch for and did not have: a suspect that would set one of them is less likely. What waits for a silent module is told by
 * the answers already.
 */
function absentCodes(harness: Harness, view: JobView): readonly Evidence[] {
  const asked = latestScan(view);
  const mends = view.mends.filter((m) => m.struck === undefined).length;
  if (asked === undefined || asked.mendsBefore !== mends || asked.data.scan.source !== "scan") return [];
  const { scan, state } = asked.data;
  const answering = new Set(scan.modules.flatMap((m) => (m.answers ? [m.id] : [])));
  return (harness.monitors ?? [])
    .filter((m) => m.pin !== undefined && (m.belowVolts !== undefined || m.aboveVolts !== undefined) && answering.has(m.module))
    .filter((m) => !scan.codes.some((c) => c.module === m.module && (c.code === m.code || codeName(c) === m.code)))
    .map((m) => ({
      id: `${asked.id} no ${m.module} ${m.code}`,
      state,
      source: "scan" as const,
      observe: { kind: "code" as const, code: m.code },
      result: { kind: "word" as const, word: "absent" as const },
    }));
}

/** What the engine is asked for a job: what is complained of, or else the load that is being traced in the state that the vehicle is in. */
export const questionOfJob = (harness: Harness, view: JobView, load: string, state: VehicleState): Question => ({
  harness,
  ...askedOfJob(harness, view, load, state),
});

/** Lines of the complaint that stand: what should be otherwise. */
export const complainedOf = (view: JobView): JobView["seen"] => view.seen.filter((s) => s.struck === undefined && s.data.wrong);

/** Parts of those lines. */
export const complainedParts = (view: JobView): readonly string[] => [
  ...new Set(complainedOf(view).flatMap((s) => (s.data.observe.kind === "part" ? [s.data.observe.part] : []))),
];

/** The same without the vehicle, for asking somebody who has it. */
export function askedOfJob(harness: Harness, view: JobView, load: string, state: VehicleState): Omit<Question, "harness"> {
  const wrong = complainedOf(view);
  const link = linkOf(harness, load);
  const own = (link === undefined ? undefined : partOfLink(harness, link)?.id) ?? load;
  // A module that does not answer is a complaint of its own.
  const asked = latestScan(view)?.data;
  const mute = asked === undefined ? [] : silentIn(asked.scan);
  const said = complainedParts(view);
  const lamps = view.complaint.warningLamps.flatMap((lamp) => partsOfLamp(harness, lamp));
  const told = [...new Set([...said, ...mute.filter((id) => lookupOf(harness).parts.has(id)), ...lamps])];
  // Where nobody complains of a part, the codes do.
  const focus = told.length > 0 ? told : partsOfCodes(harness, view);
  // What a scan has found shows in the state in which modules were asked.
  const scanned = said.length === 0 && focus.length > lamps.length ? asked?.state : undefined;
  return {
    focus: (focus.length > 0 ? focus : [own]).filter((id) => lookupOf(harness).parts.has(id)),
    state: wrong[0]?.data.state ?? scanned ?? state,
    presence: view.presence,
    evidence: [...evidenceOf(view), ...absentCodes(harness, view)],
    circumstances: [...view.complaint.circumstances, ...(view.weighsCases ? (view.similar ?? []) : [])],
    instruments: INSTRUMENTS.filter((i) => view.practice?.without?.includes(i) !== true),
    vehicleNow: state,
  };
}
