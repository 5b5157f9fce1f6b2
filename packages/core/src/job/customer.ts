import { inWords } from "../diagnosis/index.ts";
import { describeLink, describePlace, linkOf, lookupOf, type Harness } from "../harness/index.ts";
import { driveWords, estimateRows, METHOD_WORDS, watchWords } from "./repair-words.ts";
import type { Report } from "./report.ts";

/** A paragraph for the customer: plain words, one page together. */
export interface CustomerSection {
  readonly title: string;
  readonly lines: readonly string[];
}

const SAFE = {
  yes: "The vehicle is safe to drive.",
  "with advice": "The vehicle may be driven; please read the advice.",
  no: "The vehicle is NOT safe to drive.",
} as const;

/** A place as somebody says it who has no diagram: "connector C21 cavity 4 (bulkhead)". */
function placeWords(harness: Harness | undefined, place: string): string {
  if (harness === undefined) return place;
  const own = lookupOf(harness).parts.get(place);
  if (own?.label !== undefined && own.kind !== "connector") return own.label;
  const link = linkOf(harness, place);
  if (link !== undefined) return describeLink(harness, link).replace(/, its terminals included$/, "");
  return own === undefined ? place : describePlace(harness, place);
}

/** "24 December 2026". */
const dayWords = (day: string, locale = "en-GB"): string =>
  new Intl.DateTimeFormat(locale, { dateStyle: "long", timeZone: "UTC" }).format(new Date(`${day}T12:00:00Z`));

const sentence = (text: string): string => {
  const bare = text.trim();
  if (bare === "") return "";
  const upper = `${bare.charAt(0).toUpperCase()}${bare.slice(1)}`;
  return /[.!?]$/.test(upper) ? upper : `${upper}.`;
};

/** The report in plain words: what was wrong, what was done, whether it works now, what it costs, what to watch. Sections that have nothing to say are left out. */
export function customerSections(report: Report, harness: Harness | undefined, locale?: string): readonly CustomerSection[] {
  const { mends, findings, estimate, drives, watch, closing, complaint } = report;
  const found = mends.map((m) =>
    [`${sentence(placeWords(harness, m.place)).slice(0, -1)}: ${sentence(m.found)}`, sentence(m.cause)].filter(Boolean).join(" "),
  );
  const did = mends.map((m) =>
    [sentence(m.done === "" ? METHOD_WORDS[m.method] : m.done), m.damage?.remedy ? sentence(`Against a return: ${m.damage.remedy}`) : ""]
      .filter(Boolean)
      .join(" "),
  );
  return [
    { title: "You told us", lines: [sentence(complaint.words)] },
    { title: "What was wrong", lines: found },
    { title: "What we did", lines: did },
    { title: "Does it work now?", lines: worksLines(report, harness) },
    { title: "Test drive", lines: drives.map((d) => sentence(driveWords({ ...d, live: [] }))) },
    {
      title: "What it costs",
      lines:
        estimate === null
          ? []
          : estimateRows(estimate, locale)
              .slice(-1)
              .map(([text, , sum]) => `${text}: ${sum}, ${estimate.answer?.answer ?? "not answered yet"}.`),
    },
    {
      title: "Not done now",
      lines: findings.map((f) =>
        [
          `${f.outcome === "advised" ? "We advise" : "You declined"}: ${placeWords(harness, f.place)}. ${sentence(f.found)}`,
          f.risk === "" ? "" : sentence(`What may come of it: ${f.risk}`),
        ]
          .filter(Boolean)
          .join(" "),
      ),
    },
    {
      title: "What to watch",
      lines: [
        ...(closing === null ? [] : [SAFE[closing.safeToDrive]]),
        ...(closing === null || closing.advice === "" ? [] : [sentence(closing.advice)]),
        ...(watch === null ? [] : [sentence(`We will ask ${watchWords(watch, (day) => dayWords(day, locale))}`)]),
      ],
    },
  ].filter((s) => s.lines.some((l) => l !== ""));
}

function worksLines({ proof, closing }: Report, harness: Harness | undefined): readonly string[] {
  const parts = proof.checks.filter((c) => c.kind === "part");
  const now = parts.flatMap((c) => (c.after === null ? [] : [sentence(`${placeWords(harness, c.what)}: ${inWords(c.after)}`)]));
  switch (proof.outcome) {
    case "no mend":
      return [];
    case "nothing failed before":
      return [...now, sentence(closing?.withoutProof ?? "")].filter((l) => l !== "");
    case "proven": {
      const excused = [...proof.pairs, ...proof.checks].flatMap((p) => (p.excuse === null ? [] : [p.excuse]));
      const all =
        excused.length === 0
          ? "Every test that failed before was repeated and is good now."
          : "The tests that could be repeated are good now.";
      return [all, ...now, ...[...new Set(excused)].map((e) => sentence(`Not repeated: ${e}`))];
    }
    case "open":
      return [
        "Not everything could be verified yet.",
        ...now,
        ...(closing === null || closing.withoutProof === "" ? [] : [sentence(closing.withoutProof)]),
      ];
  }
}
