import { formatOhms } from "../quantity/index.ts";
import { formatMoney, totalsOf, type Estimate } from "../repair/index.ts";
import type { EventOf } from "./events.ts";
import type { Report } from "./report.ts";

type Mend = EventOf<"mend-made">["data"];

/** How the methods of a repair are said; the log keeps its own words. */
export const METHOD_WORDS: Readonly<Record<Mend["method"], string>> = {
  "contact cleaned": "contact cleaned",
  "terminal renewed": "terminal replaced",
  "connector renewed": "connector replaced",
  "wire joined": "wire joined",
  "wire overlaid": "new wire laid",
  "ground cleaned and re-fixed": "ground cleaned and re-fixed",
  "ground overlaid": "new ground run",
  "fuse renewed": "fuse replaced",
  "part renewed": "part replaced",
  other: "other",
};

/** How the joints of a wire are said. */
export const jointWords = (method: string): string => (method === "terminal renewed" ? "terminal replaced" : method);

interface DamageSaid {
  readonly kind: string;
  readonly segment: string;
  readonly fromEndM?: number | null | undefined;
  readonly remedy?: string | null | undefined;
}
/** "chafed through in main, 0.3 m from the end; edge guarded". */
export const damageWords = ({ kind, segment, fromEndM, remedy }: DamageSaid): string =>
  [
    `${kind}${segment === "" ? "" : ` in ${segment}`}${fromEndM === undefined || fromEndM === null ? "" : `, ${fromEndM} m from the end`}`,
    ...(remedy === undefined || remedy === null ? [] : [remedy]),
  ].join("; ");

/** "high resistance, 1.2 Ω". */
export const faultSaid = ({ type, ohms }: { readonly type: string; readonly ohms?: number | null | undefined }): string =>
  ohms === undefined || ohms === null ? type : `${type}, ${formatOhms(ohms)}`;

/** A row of a report: what it is, and what it says; rows that say nothing are left out where they are shown. */
export type Fact = readonly [label: string, text: string];

/** A repair in rows, for screen and paper alike. `time`: how a moment is written. */
export function mendFacts(m: Report["mends"][number], time: (at: string) => string): readonly Fact[] {
  const { joint } = m;
  const piece =
    joint === null
      ? ""
      : [joint.lengthM === null ? "" : `${joint.lengthM} m`, joint.areaMm2 === null ? "" : `${joint.areaMm2} mm²`]
          .filter(Boolean)
          .join(" of ");
  const nicked = m.neighbours.filter((n) => n.verdict !== "sound");
  return [
    ["Place", m.place],
    ["Fault", m.fault === null ? "" : faultSaid(m.fault)],
    ["Damage", m.damage === null ? "" : damageWords(m.damage)],
    ["Found", m.found],
    ["Cause", m.cause],
    ["Done", m.done.toLowerCase().startsWith(METHOD_WORDS[m.method]) ? m.done : `${m.done} (${METHOD_WORDS[m.method]})`],
    [
      "Joint",
      joint === null
        ? ""
        : [
            jointWords(joint.method),
            piece === "" ? "" : `new piece ${piece}`,
            joint.way === "overlay" ? "laid beside the old wire, which was cut off" : "",
            joint.why,
          ]
            .filter(Boolean)
            .join("; "),
    ],
    ["Fuse put in", m.fuseAmps === null ? "" : `${m.fuseAmps} A`],
    ["Ground led to", m.groundTo ?? ""],
    [
      "Neighbours",
      m.neighbours.length === 0
        ? ""
        : `${m.neighbours.length} looked at, ${m.neighbours.length - nicked.length} good${nicked.map((n) => `; ${n.wire} ${n.verdict === "mended" ? "repaired" : n.verdict}`).join("")}`,
    ],
    ["Not looked at", m.neighboursLeft ?? ""],
    ["Replaced without proof", m.override === null ? "" : `${m.override}. Signed: ${m.by}`],
    ["By", `${m.by}, ${time(m.at)}`],
  ];
}

/** What was found and not repaired, in rows. */
export const findingFacts = (f: Report["findings"][number]): readonly Fact[] => [
  [f.outcome === "advised" ? "Advised" : "Declined", `${f.place}: ${f.found}`],
  ["Risk", f.risk],
  ["Why not now", f.why],
];

/** The customer's word on the estimate. */
export function estimateAnswer({ answer }: Pick<NonNullable<Report["estimate"]>, "answer">, time: (at: string) => string): string {
  if (answer === null) return "no answer yet";
  return [`${answer.answer} by ${answer.who}`, answer.how, time(answer.at), answer.note].filter(Boolean).join(", ");
}

/** Lines of an estimate as they are printed: text, quantity × price, amount; then tax and total. */
export function estimateRows(e: Estimate, locale?: string): readonly (readonly [string, string, string])[] {
  const money = (minor: number): string => formatMoney(minor, e.currency, locale);
  const totals = totalsOf(e);
  return [
    ...e.lines.map((l, i) => [l.text, `${l.quantity} × ${money(l.unitPrice)}`, money(totals.lines[i]!)] as const),
    [`Tax ${e.taxPercent} %`, "", money(totals.tax)],
    ["Total", "", money(totals.gross)],
  ];
}

/** A drive in one line, from the log or from a report. */
export const driveWords = (d: EventOf<"driven">["data"] | Report["drives"][number]): string =>
  [
    d.outcome,
    (d.minutes ?? null) === null ? "" : `${d.minutes} min`,
    (d.from ?? null) === null || (d.to ?? null) === null ? "" : `odometer ${d.from} to ${d.to}`,
    d.met.length === 0 ? "" : `with ${d.met.join(", ")}`,
    d.unmet.length === 0 ? "" : `without ${d.unmet.join(", ")}`,
    d.seen,
    (d.live ?? []).length === 0 ? "" : `live values meanwhile: ${d.live!.map(liveWords).join(", ")}`,
  ]
    .filter(Boolean)
    .join("; ");

/** "ECM engine speed 780 to 2450 rpm". */
export const liveWords = ({ name, unit, low, high }: Report["drives"][number]["live"][number]): string => {
  const [from, to] = [low, high].map((v) => String(Number(v.toPrecision(4))));
  return `${name} ${from === to ? from : `${from} to ${to}`} ${unit}`.trim();
};

/** When somebody asks whether it came back. `day`: how a day is written. */
export const watchWords = (w: NonNullable<Report["watch"]>, day = (until: string): string => until): string =>
  [[w.until === "" ? "" : `on ${day(w.until)}`, w.distance === "" ? "" : `after ${w.distance}`].filter(Boolean).join(" or "), w.what]
    .filter(Boolean)
    .join(": ");
