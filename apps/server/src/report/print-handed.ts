import type { Content } from "pdfmake/interfaces";
import { customerSections, estimateAnswer, estimateRows, type Report } from "@rheonom/core/job";
import type { Harness } from "@rheonom/core/harness";
import { AppError } from "../errors.ts";
import { heading, printPaper, table, timeWords } from "./paper.ts";

const vehicleOf = ({ complaint }: Report): string => [complaint.vehicle, complaint.registration].filter(Boolean).join(" · ");

/** One page for the customer, in plain words. */
export function printCustomer(report: Report, harness: Harness | undefined): Promise<Buffer> {
  const { job } = report;
  return printPaper(`What we found and did: ${vehicleOf(report)}`, `Job ${job.id}`, report.generatedAt, [
    { text: "What we found and did", style: "title" },
    { text: vehicleOf(report), fontSize: 12 },
    { text: job.closedAt === null ? "Work is not finished yet." : `Finished ${timeWords(job.closedAt)}.`, style: "small" },
    ...customerSections(report, harness).flatMap(({ title, lines }): Content[] => [
      heading(title),
      ...lines.filter((l) => l !== "").map((text): Content => ({ text, fontSize: 10.5, margin: [0, 0, 0, 4] })),
    ]),
  ]);
}

/** Lines and totals, for whoever pays or invoices. Throws AppError where no estimate was made. */
export function printEstimate(report: Report): Promise<Buffer> {
  const { estimate, findings, mends, job } = report;
  if (estimate === null) throw new AppError("estimate-missing");
  return printPaper(`Estimate: ${vehicleOf(report)}`, `Job ${job.id}`, report.generatedAt, [
    { text: "Estimate", style: "title" },
    { text: vehicleOf(report), fontSize: 12 },
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
