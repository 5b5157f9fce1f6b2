import type { Content } from "pdfmake/interfaces";
import { inWords } from "@rheonom/core/diagnosis";
import { predictAll } from "@rheonom/core/instruments";
import { type Harness, partNameIn, sliceOf } from "@rheonom/core/harness";
import {
  driveWords,
  estimateAnswer,
  estimateRows,
  findingFacts,
  hoursWords,
  mendFacts,
  pathsOfJob,
  watchWords,
  type JobPath,
  type JobView,
  type Report,
} from "@rheonom/core/job";
import { formatVolts } from "@rheonom/core/quantity";
import { pathMarks } from "@rheonom/drawing/path-marks";
import { drawSlice, MAX_DRAWN_PARTS } from "@rheonom/drawing/slice";
import { drawStaircase } from "@rheonom/drawing/staircase";
import { sceneToSvg } from "@rheonom/drawing/svg";
import { layoutSlice } from "./layout-slice.ts";
import { picturesSection, type PrintedPictures } from "./print-pictures.ts";
import { tracesSection, type PrintedTraces } from "./print-traces.ts";
import { facts, FONT, heading, table, timeWords, type Paper } from "./paper.ts";

/** Printable width and height of an A4 page inside the margins, pt. */
const WIDTH = 515;
const SLICE_HEIGHT = 640;
/** Size of the circuit on paper, pt for each px. */
const SLICE_SCALE = 0.72;
/** Larger circuits are drawn in slices, parts. */
const DRAWN_WHOLE = 40;

/** The record: what was complained of, measured, mended and proven, with the circuit and the staircases. */
export async function recordPaper(
  report: Report,
  view: JobView,
  harness: Harness | undefined,
  pictures: PrintedPictures,
  traces: PrintedTraces,
): Promise<Paper> {
  const content = [
    ...headSection(report),
    ...complaintSection(report),
    ...findingsSection(report),
    ...mendSection(report),
    ...estimateSection(report),
    ...proofSection(report),
    ...driveSection(report),
    ...picturesSection(report, pictures),
    ...tracesSection(report, traces),
    ...(harness === undefined ? [] : await drawings(view, harness)),
    ...readingsSection(report),
    ...temporarySection(report),
    ...foundSection(report),
    ...notesSection(report),
    ...cautionsSection(report),
  ];
  return { title: `Repair record: ${report.complaint.vehicle}`, foot: `Job ${report.job.id}`, madeAt: report.generatedAt, content };
}

function headSection(report: Report): Content[] {
  const { job, complaint } = report;
  const closed =
    job.closedAt === null ? "Not closed yet: this record is not final." : `Closed ${timeWords(job.closedAt)} by ${job.closedBy ?? ""}`;
  return [
    { text: "Repair record", style: "title" },
    { text: [complaint.vehicle, complaint.registration].filter(Boolean).join(" · "), fontSize: 12 },
    {
      text: `Opened ${timeWords(job.openedAt)} by ${job.openedBy}. ${closed}. Worked on by ${job.people.join(", ")}.${job.chainHash === "" ? "" : ` Last entry of the log: SHA-256 ${job.chainHash}.`}`.replace(
        "..",
        ".",
      ),
      style: "small",
    },
  ];
}

function complaintSection(report: Report): Content[] {
  const c = report.complaint;
  return [
    heading("Complaint"),
    facts([
      ["In the customer's words", c.words],
      ["Conditions", c.conditions],
      ["Tried before", [c.triedBefore, c.triedBy === "" ? "" : `by ${c.triedBy}`].filter(Boolean).join("; ")],
      ["Warning lamps", c.warningLamps.join(", ")],
      ["Reproduced", c.reproduced === "not tried" ? "" : [c.reproduced, c.reproducedHow].filter(Boolean).join(": ")],
      ["Safe to drive", c.risk === "not judged" ? "" : [c.risk, c.riskWhy].filter(Boolean).join(": ")],
      ["Mileage", c.mileage],
      ["High voltage", c.highVoltage ? "Hybrid or electric: the high-voltage side was out of bounds for this work." : ""],
    ]),
  ];
}

function findingsSection(report: Report): Content[] {
  if (report.verdicts.length === 0) return [];
  return [
    heading("What the readings say"),
    ...report.verdicts.map((v): Content => ({
      margin: [0, 0, 0, 5],
      unbreakable: true,
      stack: [
        { text: v.headline, bold: true },
        { text: v.detail },
        {
          text: `${v.phase === "before" ? "Before" : "After"} the repair · ${v.load} · ${v.stateWords} · rule set ${report.rules}`,
          style: "small",
        },
      ],
    })),
  ];
}

function mendSection(report: Report): Content[] {
  if (report.mends.length === 0) return [];
  return [
    heading("Findings and repairs"),
    ...report.mends.map((m) => facts(mendFacts(m, timeWords))),
    ...(report.findings.length === 0 ? [] : [heading("Advised and declined"), ...report.findings.map((f) => facts(findingFacts(f)))]),
  ];
}

function estimateSection({ estimate, workedMinutes }: Report): Content[] {
  const worked: Content[] = workedMinutes === null ? [] : [{ text: `Worked ${hoursWords(workedMinutes)} in all.` }];
  if (estimate === null) return worked.length === 0 ? [] : [heading("Time"), ...worked];
  return [
    heading("Estimate"),
    table(
      ["Line", "Quantity", "Amount"],
      ["*", 120, 80],
      estimateRows(estimate).map((r) => [...r]),
    ),
    { text: estimateAnswer(estimate, timeWords), margin: [0, 3, 0, 0] },
    ...worked,
  ];
}

function driveSection({ drives, watch }: Report): Content[] {
  if (drives.length === 0 && watch === null) return [];
  return [
    heading("Test drive and watch"),
    ...drives.map((d): Content => ({ text: `${driveWords(d)} (${d.by}, ${timeWords(d.at)})` })),
    ...(watch === null ? [] : [{ text: `Ask whether it came back ${watchWords(watch)}` }]),
  ];
}

const OUTCOME_WORDS: Record<Report["proof"]["pairs"][number]["outcome"], string> = {
  proven: "verified",
  "still failing": "still failing",
  "not repeated": "not repeated",
  "cannot judge": "inconclusive",
  "no current": "good, no proof of current",
  excused: "not repeated",
};
const voltsOrDash = (v: number | null): string => (v === null ? "–" : formatVolts(v));

function proofSection(report: Report): Content[] {
  const { proof, closing } = report;
  const rows = proof.pairs.map((p) => [
    `${p.from} to ${p.to}\n${p.load}, ${p.stateWords}`,
    voltsOrDash(p.beforeVolts),
    voltsOrDash(p.afterVolts),
    voltsOrDash(p.afterLimitVolts ?? p.beforeLimitVolts),
    voltsOrDash(p.soundVolts),
    OUTCOME_WORDS[p.outcome],
  ]);
  const checks = proof.checks.map((c) => [
    `${c.what}${c.stateWords === "" ? "" : `\n${c.stateWords}`}`,
    inWords(c.before),
    inWords(c.after ?? "–"),
    inWords(c.sound),
    OUTCOME_WORDS[c.outcome],
  ]);
  const without = closing?.withoutProof ?? "";
  const safe =
    closing === null
      ? ""
      : { yes: "Safe to drive.", "with advice": "Safe to drive with the advice below.", no: "NOT safe to drive." }[closing.safeToDrive];
  if (rows.length + checks.length === 0 && closing === null) return [];
  return [
    heading("Verification: the same test before and after"),
    ...(checks.length === 0 ? [] : [table(["Seen or read", "Before", "After", "Expected", "Outcome"], ["*", 70, 70, 70, 68], checks)]),
    ...(rows.length === 0
      ? []
      : [table(["Drop over", "Before", "After", "Limit", "Expected", "Outcome"], ["*", 50, 50, 50, 50, 68], rows)]),
    ...(rows.length + checks.length > 0
      ? []
      : [
          {
            text:
              proof.outcome === "no mend"
                ? "Nothing was repaired."
                : "Nothing had failed before the repair, so there is no pair to compare.",
          },
        ]),
    facts([
      ["Closed without proof", without],
      ["Vehicle", safe],
      ["Advice", closing?.advice ?? ""],
    ]),
  ];
}

/** The circuit, and a staircase for every load and state that was measured. */
async function drawings(view: JobView, harness: Harness): Promise<Content[]> {
  const traces = pathsOfJob(harness, view);
  const first = traces[0];
  const content: Content[] = traces.flatMap((t, i): Content[] => {
    const scene = drawStaircase(harness, t.judged, { width: 760, height: 300, scale: "ends", selected: undefined });
    const fit = { width: WIDTH, height: Math.min(300, (WIDTH * scene.height) / scene.width) };
    return [
      {
        unbreakable: true,
        stack: [
          ...(i === 0 ? [heading("Staircase")] : []),
          {
            text: `${t.when === "before" ? "Before" : "After"} the repair: ${t.load}, ${stateOf(t)}. Dashed: a good circuit. Dots: measured.`,
            style: "small",
          },
          { svg: sceneToSvg(scene, FONT), fit: [fit.width, fit.height] },
        ],
      },
    ];
  });
  if (first === undefined) return content;
  // Of a whole vehicle the record shows what the traced loads are about.
  const loads = [...new Set(traces.map((t) => partNameIn(t.load)))];
  const drawn = harness.components.length > DRAWN_WHOLE ? sliceOf(harness, loads, { sharers: false }).harness : harness;
  if (drawn.components.length > MAX_DRAWN_PARTS) return content;
  const prediction = predictAll(harness, first.state, []);
  const scene = drawSlice(drawn, await layoutSlice(drawn, harness), {
    state: first.state,
    volts: "volts" in prediction ? prediction.volts : new Map(),
    ...pathMarks(first.judged),
    selected: undefined,
    red: undefined,
    black: undefined,
  });
  return [
    ...content,
    {
      unbreakable: true,
      stack: [
        heading("Circuit"),
        {
          text: `${harness.name}. Wire edges show the potential a good circuit has there; figures on the left are measured.`,
          style: "small",
        },
        { svg: sceneToSvg(scene, FONT), fit: [WIDTH, Math.min(SLICE_HEIGHT, SLICE_SCALE * scene.height)] },
      ],
    },
  ];
}

const stateOf = (t: JobPath): string =>
  `key ${t.state.key}, engine ${t.state.engine}${t.state.on.length === 0 ? "" : `, ${t.state.on.join(", ")} on`}`;

/** Width of the column for leads, pt, and what fits on a line of it and of the column for readings in any case, characters. */
const LEADS_WIDTH = 108;
const LEADS_CHARACTERS = 18;
const READING_CHARACTERS = 9;
/** Short words are kept together; they are set as one piece then, which is quicker too. */
const onOneLine = (text: string, most: number): string => (text.length > most ? text : text.replaceAll(" ", "\u00a0"));

/** Every so many rows everything is said anew, so that it stands on every page. */
const TOLD_ANEW = 20;

function readingsSection(report: Report): Content[] {
  if (report.readings.length === 0) return [];
  const unit = (quantity: string): string => ({ volts: "V", ohms: "Ω", amps: "A" })[quantity] ?? "";
  // What stands in the row above is not said again: it reads quicker, and a record of thousands of readings prints in seconds.
  const above = ["", "", ""];
  const rows = report.readings.map((r, i) => {
    const state = `${r.stateWords}; ${r.phase} the repair${r.instrument === "simulated" ? "; simulated vehicle" : r.instrument === "worked out" ? "; worked out" : ""}${r.meter === "" ? "" : `; ${r.meter}`}`;
    const told = [timeWords(r.at), state, r.by].map((words, column) => {
      const same = i % TOLD_ANEW !== 0 && words === above[column];
      above[column] = words;
      return same ? "" : words;
    });
    const struck = r.struck === null ? "" : `struck: ${r.struck}`;
    return [
      told[0]!,
      onOneLine(r.leadsWords, LEADS_CHARACTERS),
      [told[1]!, struck].filter(Boolean).join("\n"),
      onOneLine(r.text, READING_CHARACTERS),
      r.soundValue === null ? "–" : `${Number(r.soundValue.toPrecision(4))}\u00a0${unit(r.leads.quantity)}`,
      told[2]!,
    ];
  });
  return [
    heading("Readings"),
    { text: "Red against black, digits as typed. A struck reading does not count. An empty cell is as the one above.", style: "small" },
    table(
      ["Time", "Leads", "State", "Reading", "Expected", "By"],
      [64, LEADS_WIDTH, "*", 52, 52, 62],
      rows,
      report.readings.map((r) => r.struck !== null),
    ),
  ];
}

function temporarySection(report: Report): Content[] {
  if (report.temporary.length === 0) return [];
  const rows = report.temporary.map((t) => [
    `${t.place} ${t.kind}${t.to === "" ? "" : ` to ${t.to}`}`,
    t.note,
    t.ended === "undone" ? "put back" : t.ended === "explained" ? `stays: ${t.why}` : "NOT PUT BACK",
    `${t.by}, ${timeWords(t.at)}`,
  ]);
  return [heading("Temporarily changed"), table(["What", "Note", "Now", "By"], ["*", "*", 130, 110], rows)];
}

function foundSection(report: Report): Content[] {
  if (report.found.length === 0) return [];
  const rows = report.found.map((f) => [f.place, f.what, f.drawn === "" ? "–" : f.drawn, f.found, `${f.by}, ${timeWords(f.at)}`]);
  return [heading("Otherwise on the vehicle than drawn"), table(["At", "What", "Drawn", "Found", "By"], [60, 60, "*", "*", 110], rows)];
}

function notesSection(report: Report): Content[] {
  if (report.notes.length === 0) return [];
  return [heading("Notes"), { ul: report.notes.map((n) => `${n.text} (${n.by}, ${timeWords(n.at)})`) }];
}

function cautionsSection(report: Report): Content[] {
  return [
    heading("Cautions that applied"),
    ...(report.cautions.length === 0
      ? []
      : [{ ul: report.cautions.map((c) => ({ text: [{ text: `${c.title}. `, bold: true }, c.text] })) }]),
    { text: report.cautionFooter, style: "small", margin: [0, 4, 0, 0] },
  ];
}
