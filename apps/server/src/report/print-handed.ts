import type { Content } from "pdfmake/interfaces";
import { customerSections, estimateAnswer, estimateRows, type Report } from "@rheonom/core/job";
import type { Harness } from "@rheonom/core/harness";
import { AppError } from "../errors.ts";
import { pictureRows, type PrintedPictures } from "./print-pictures.ts";
import { heading, table, timeWords, type Paper } from "./paper.ts";

const vehicleOf = ({ complaint }: Report): string => [complaint.vehicle, complaint.registration].filter(Boolean).join(" · ");

const paperOf = (title: string, report: Report, content: Content[]): Paper => ({
  title: `${title}: ${vehicleOf(report)}`,
  foot: `Job ${report.job.id}`,
  madeAt: report.generatedAt,
  content: [{ text: title, style: "title" }, { text: vehicleOf(report), fontSize: 12 }, ...content],
});

/** One page for the customer, in plain words. */
export function customerPaper(report: Report, harness: Harness | undefined, pictures: PrintedPictures): Paper {
  const pair = picturesForCustomer(report).map((p) => ({ ...p, reading: null }));
  const { job } = report;
  return paperOf("What we found and did", report, [
    { text: job.closedAt === null ? "Work is not finished yet." : `Finished ${timeWords(job.closedAt)}.`, style: "small" },
    ...customerSections(report, harness).flatMap(({ title, lines }): Content[] => [
      heading(title),
      ...lines.filter((l) => l !== "").map((text): Content => ({ text, fontSize: 10.5, margin: [0, 0, 0, 4] })),
    ]),
    ...(pair.length === 0 ? [] : [heading(pair.length === 2 ? "Before and after" : "Picture"), pictureRows(pair, pictures, HEIGHT_PT)]),
  ]);
}

/** Height of a picture that leaves the paper on one page, pt. */
const HEIGHT_PT = 130;

/** A picture of a place before and one after; else one of what was found. Two leave the paper on one page. */
export function picturesForCustomer({ pictures }: Report): Report["pictures"] {
  const at = pictures.findIndex((p, i) => p.when === "before" && pictures[i + 1]?.when === "after" && pictures[i + 1]?.place === p.place);
  return at === -1 ? pictures.slice(0, 1) : pictures.slice(at, at + 2);
}

/** Lines and totals, for whoever pays or invoices. Throws AppError where no estimate was made. */
export function estimatePaper(report: Report): Paper {
  const { estimate, findings, mends } = report;
  if (estimate === null) throw new AppError("estimate-missing");
  return paperOf("Estimate", report, [
    {
      text: `Made ${timeWords(estimate.at)} by ${estimate.by}. ${estimate.answer === null ? "No answer yet" : `Answer: ${estimateAnswer(estimate, timeWords)}`}.`,
      style: "small",
    },
    heading("Lines"),
    table(
      ["Line", "Quantity", "Amount"],
      ["*", 130, 90],
      estimateRows(estimate).map((r) => [...r]),
    ),
    ...(mends.length === 0 ? [] : [heading("Done"), ...mends.map((m): Content => ({ text: `${m.place}: ${m.done}` }))]),
    ...(findings.length === 0
      ? []
      : [
          heading("Not part of it"),
          ...findings.map((f): Content => ({ text: `${f.outcome} ${f.place}: ${f.found}${f.risk === "" ? "" : ` Risk: ${f.risk}`}` })),
        ]),
  ]);
}
