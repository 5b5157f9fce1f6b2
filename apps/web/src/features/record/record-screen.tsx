import { useState } from "react";
import { Link } from "react-router";
import { AppWindow, FileDown, FileJson, Printer, Package, ScrollText, EyeOff, Table2 } from "lucide-react";
import { CheckLog } from "./check-log.tsx";
import { styled } from "styled-components";
import { identityOf } from "../../worker/identity.ts";
import { useJobContext } from "../../job/job-context.ts";
import { pathMarks } from "@rheonom/drawing/path-marks";
import { drawnPart } from "../../drawing/drawn-part.ts";
import { SliceView } from "../../drawing/slice-view.tsx";
import { StaircaseView } from "../../drawing/staircase-view.tsx";
import { Button, buttonLink, Toggle } from "../../ui/button.tsx";
import { Faint, Page, Panel, Row, ScreenOnly } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import type { RecordShown } from "../../worker/queries.ts";
import { useQuery, useQueryAlone } from "../../worker/use-query.ts";
import { ClosePanel } from "../../job/close-panel.tsx";
import {
  CautionSection,
  ComplaintSection,
  DriveSection,
  EstimateSection,
  FindingSection,
  MendSection,
  PictureSection,
  ProofSection,
  ReadingSection,
  TemporarySection,
  TraceSection,
  VerdictSection,
} from "./sections.tsx";

const FileLink = styled.a`
  ${buttonLink}
`;
const ToDebrief = styled(Link)`
  ${buttonLink}
`;
const Sheet = styled(Panel)`
  padding: var(--s5);
  gap: var(--s5);
  h2 {
    border-bottom: 1px solid var(--line);
    padding-bottom: 4px;
    margin-bottom: var(--s2);
  }
  @media print {
    padding: 0;
    section {
      break-inside: avoid-page;
    }
  }
`;

/** The report as a page: what is printed, and what the customer and the next technician get. */
export function RecordScreen() {
  return <RecordOf key={identityOf(useJobContext().harness)} />;
}

function RecordOf() {
  const { job, harness, parsed } = useJobContext();
  const { view } = job;
  const [now] = useState(() => new Date().toISOString());
  const input = { view, now };
  // What the log alone says is there at once: it is asked for first, as solving a large circuit takes seconds.
  const early = useQueryAlone("report", input).value;
  const full = useQuery("record", harness, input).value;
  const isEarly = full === undefined && view.circuit !== undefined && (parsed === undefined || harness !== undefined);
  const shown = (harness === undefined ? undefined : full) ?? early;
  const unsent = job.unsaved.size;
  const [isMore, setMore] = useState(false);
  return (
    <Page>
      <ScreenOnly style={{ display: "grid", gap: "var(--s3)" }}>
        <Row style={{ justifyContent: "space-between" }}>
          <h1>Report</h1>
          <Row>
            <Button isDisabled={isEarly} onPress={() => window.print()}>
              <Printer size={18} aria-hidden /> Print
            </Button>
            <FileLink href={`/api/jobs/${job.id}/report.pdf`} target="_blank" rel="noreferrer">
              <FileDown size={18} aria-hidden /> PDF
            </FileLink>
            <FileLink href={`/api/jobs/${job.id}/customer.pdf`} target="_blank" rel="noreferrer">
              <FileDown size={18} aria-hidden /> For the customer
            </FileLink>
            {view.estimate === undefined ? null : (
              <FileLink href={`/api/jobs/${job.id}/estimate.pdf`} target="_blank" rel="noreferrer">
                <FileDown size={18} aria-hidden /> Estimate
              </FileLink>
            )}
            <FileLink href={`/api/jobs/${job.id}/report.json`} target="_blank" rel="noreferrer">
              <FileJson size={18} aria-hidden /> JSON
            </FileLink>
            {job.simulated && view.closed !== undefined ? <ToDebrief to={`/jobs/${job.id}/debrief`}>Debrief</ToDebrief> : null}
            {!job.simulated && view.closed !== undefined && view.mends.some((m) => m.struck === undefined) ? (
              <ToDebrief to={`/practice?of=${job.id}`}>Practise this fault</ToDebrief>
            ) : null}
            <Toggle isSelected={isMore} onChange={setMore}>
              More
            </Toggle>
          </Row>
        </Row>
        {isMore ? <OtherFiles id={job.id} /> : null}
        {unsent > 0 ? (
          <Notice tone="caution">
            {unsent} {unsent === 1 ? "entry has" : "entries have"} not reached the server yet; PDF and JSON do not have{" "}
            {unsent === 1 ? "it" : "them"}.
          </Notice>
        ) : null}
        <ClosePanel />
      </ScreenOnly>
      {shown === undefined ? <p role="status">Putting the record together …</p> : <RecordSheet shown={shown} isEarly={isEarly} />}
    </Page>
  );
}

/** What is needed seldom: for another shop, for somebody outside, for a check. */
function OtherFiles({ id }: { id: string }) {
  return (
    <Row>
      <FileLink href={`/api/jobs/${id}/readings.csv`} download>
        <Table2 size={18} aria-hidden /> Readings, CSV
      </FileLink>
      <FileLink href={`/api/jobs/${id}/report.html`} download>
        <AppWindow size={18} aria-hidden /> Record, HTML
      </FileLink>
      <FileLink href={`/api/jobs/${id}/customer.html`} download>
        <AppWindow size={18} aria-hidden /> For the customer, HTML
      </FileLink>
      <FileLink href={`/api/jobs/${id}/report.pdf?copy=redacted`} target="_blank" rel="noreferrer">
        <EyeOff size={18} aria-hidden /> Copy without customer
      </FileLink>
      <FileLink href={`/api/jobs/${id}/bundle.zip`} download>
        <Package size={18} aria-hidden /> Bundle for another shop
      </FileLink>
      <FileLink href={`/api/jobs/${id}/log.json`} download>
        <ScrollText size={18} aria-hidden /> Log
      </FileLink>
      <CheckLog />
    </Row>
  );
}

/** `isEarly`: what needs the circuit is still being worked out. */
function RecordSheet({ shown, isEarly }: { shown: RecordShown; isEarly: boolean }) {
  const { harness, job } = useJobContext();
  const { report, traces, sound } = shown;
  const first = traces[0];
  return (
    <Sheet aria-label="Repair record">
      <header>
        <Faint>Repair record</Faint>
        <h1>
          {report.complaint.vehicle} {report.complaint.registration}
        </h1>
        <Faint>
          Job {report.job.id.slice(0, 8)} · {report.job.people.join(", ")} ·{" "}
          {report.job.closedAt === null ? "not closed yet" : `closed by ${report.job.closedBy ?? ""}`}
        </Faint>
      </header>
      <ComplaintSection report={report} />
      {isEarly ? <p role="status">Being worked out: verdicts, proof, staircase, drawing …</p> : <VerdictSection report={report} />}
      <MendSection report={report} />
      <FindingSection report={report} />
      <EstimateSection report={report} />
      {isEarly ? null : <ProofSection report={report} />}
      <DriveSection report={report} />
      <PictureSection report={report} />
      <TraceSection report={report} />
      {isEarly ? null : harness === undefined || traces.length === 0 ? (
        <section>
          <h2>Staircase and circuit</h2>
          <p>
            Nothing was traced.{" "}
            {job.view.circuit === undefined ? (
              <Link to={`/jobs/${job.id}/circuit`}>Get the circuit in</Link>
            ) : (
              <Link to={`/jobs/${job.id}/trace`}>Take readings</Link>
            )}{" "}
            to have them here.
          </p>
        </section>
      ) : (
        traces.map((t, i) => (
          <section key={i}>
            <h2>
              {t.load} {t.when} the repair
            </h2>
            <Faint>
              key {t.state.key}, engine {t.state.engine}
              {t.state.on.length > 0 ? `, ${t.state.on.join(", ")} on` : ""}. Dashed: a good circuit. Dots: measured.
            </Faint>
            <StaircaseView harness={harness} trace={t.judged} height={240} scale="ends" selected={undefined} />
          </section>
        ))
      )}
      {harness === undefined || first === undefined ? null : (
        <section>
          <h2>Circuit: {harness.name}</h2>
          <SliceView
            harness={drawnPart(harness, [first.load]).harness}
            whole={harness}
            state={first.state}
            volts={sound?.volts ?? new Map()}
            {...pathMarks(first.judged)}
            selected={undefined}
            red={undefined}
            black={undefined}
          />
        </section>
      )}
      <ReadingSection report={report} />
      <TemporarySection report={report} />
      <CautionSection report={report} />
    </Sheet>
  );
}
