import { useCallback, useMemo, useState } from "react";
import { createPortal } from "react-dom";
import { Link, Outlet } from "react-router";
import { Unplug } from "lucide-react";
import { styled } from "styled-components";
import { z } from "zod";
import { describeEvent, HIGH_VOLTAGE_CAUTION, openTray } from "@rheonom/core/job";
import { Button } from "../ui/button.tsx";
import { Page } from "../ui/layout.tsx";
import { Notice } from "../ui/notice.tsx";
import { toast } from "../ui/toast.tsx";
import { useShortcuts } from "../job/shortcuts.ts";
import { useParsed } from "../worker/use-query.ts";
import type { JobContext } from "../job/job-context.ts";
import { JOB_BAR } from "../job/job-steps.tsx";
import { PracticeBar } from "../features/practice/practice-bar.tsx";
import { PersonDialog } from "../job/person.tsx";
import { discard, sendAgain, type EventBody } from "../job/record.ts";
import { useAppDispatch, useAppSelector } from "../job/store.ts";
import { useSimilarCases, useWithSimilar } from "../job/similar.ts";
import { TrayDialog } from "../job/tray.tsx";
import { useJobAnswer, type OpenJob } from "../job/use-job.ts";

const Notices = styled.div`
  display: flex;
  flex-direction: column;
  gap: var(--s2);
  padding: var(--s2) var(--s3) 0;
  &:empty {
    display: none;
  }
  @media print {
    display: none;
  }
`;

const Raw = styled.pre`
  margin: var(--s1) 0 0;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  font-family: var(--mono);
  font-size: 0.875rem;
`;
const WideOnly = styled.span`
  @media (max-width: 960px) {
    display: none;
  }
`;
const Vehicle = styled.span`
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--ink-2);
  strong {
    color: var(--ink);
  }
  @media (max-width: 960px) {
    span {
      display: none;
    }
  }
`;

/** Loads the job of the address and holds what all its screens share. */
export function JobLayout() {
  const answer = useJobAnswer();
  switch (answer.kind) {
    case "loading":
      return (
        <Page>
          <p role="status">Opening the job …</p>
        </Page>
      );
    case "failed":
      return (
        <Page>
          <h1>This job cannot be shown</h1>
          <Notice tone="danger" role="alert">
            {answer.failure.message}
          </Notice>
          <p>
            <Button onPress={answer.retry}>Try again</Button> <Link to="/">To the board</Link>
          </p>
        </Page>
      );
    case "open":
      return <OpenJobLayout key={answer.job.id} job={answer.job} />;
  }
}

function OpenJobLayout({ job: opened }: { job: OpenJob }) {
  const similar = useSimilarCases(opened);
  const job = useWithSimilar(opened, similar);
  const parsed = useParsed(job.view.circuit?.notation).value;
  const person = useAppSelector((s) => s.session.person);
  const [trayOpen, setTrayOpen] = useState(false);
  const [unnamed, setUnnamed] = useState<EventBody | undefined>(undefined);
  const { record: store } = job;
  const record = useCallback(
    (body: EventBody) => {
      if (person === "") return setUnnamed(body);
      try {
        store(body);
      } catch (error) {
        // The form of an event is checked before anything is kept; what was typed still stands in its field.
        toast(`This was not recorded: ${error instanceof z.ZodError ? z.prettifyError(error) : String(error)}`);
      }
    },
    [person, store],
  );
  const showTray = useCallback(() => setTrayOpen(true), []);
  useShortcuts({ tray: showTray });
  const context = useMemo<JobContext>(
    () => ({ job, record, harness: parsed?.harness, parsed, similar, showTray }),
    [job, record, parsed, similar, showTray],
  );
  return (
    <>
      <JobBar job={job} onTray={showTray} />
      <PracticeBar job={job} harness={parsed?.harness} record={record} />
      <JobNotices job={job} />
      <Outlet context={context} />
      <TrayDialog isOpen={trayOpen} onClose={() => setTrayOpen(false)} view={job.view} harness={parsed?.harness} record={record} />
      <PersonDialog
        isOpen={unnamed !== undefined}
        onClose={() => setUnnamed(undefined)}
        onNamed={() => {
          if (unnamed !== undefined) store(unnamed);
        }}
      />
    </>
  );
}

/** Which vehicle it is and what is temporarily changed, in the bar of every screen. */
function JobBar({ job, onTray }: { job: OpenJob; onTray: () => void }) {
  const left = openTray(job.view).length;
  const room = document.getElementById(JOB_BAR);
  if (room === null) return null;
  const { vehicle, registration } = job.view.complaint;
  return createPortal(
    <>
      <Vehicle title={`${vehicle} ${registration}`}>
        {registration === "" ? null : <strong>{registration}</strong>} {registration === "" ? vehicle : <span>{vehicle}</span>}
      </Vehicle>
      {left === 0 ? null : (
        <Button onPress={onTray} aria-label={`Temporary changes ${left}`}>
          <Unplug size={18} aria-hidden /> <WideOnly>Temporary changes</WideOnly> {left}
        </Button>
      )}
    </>,
    room,
  );
}

/** What concerns the whole job: entries that wait or were set aside, high voltage, a closed job. */
function JobNotices({ job }: { job: OpenJob }) {
  const dispatch = useAppDispatch();
  const aside = useAppSelector((s) => s.outbox.aside).filter((a) => a.event.jobId === job.id);
  const server = useAppSelector((s) => s.outbox.server);
  const unkept = useAppSelector((s) => s.outbox.unkept).filter((id) => job.unsaved.has(id)).length;
  const kept = job.unsaved.size - unkept;
  const left = openTray(job.view).length;
  const { unreadable } = job.view;
  return (
    <Notices>
      {server.kind !== "answers" && kept > 0 ? (
        <Notice
          tone="danger"
          role="status"
          title={server.kind === "silent" ? "The server does not answer" : "The server cannot store entries now"}
        >
          {server.kind === "waiting" ? `${server.why} ` : ""}
          {kept} {kept === 1 ? "entry is" : "entries are"} kept on this device and sent when it can. Go on working.
        </Notice>
      ) : null}
      {unkept > 0 ? (
        <Notice tone="danger" role="alert" title="This device has no room to keep entries">
          {unkept} {unkept === 1 ? "entry is" : "entries are"} on this page only and not sent yet. Leave the page open until they are, or
          free space in the browser’s storage.
        </Notice>
      ) : null}
      {aside.map(({ event, message }) => (
        <Notice key={event.id} tone="danger" role="alert" title="An entry was set aside">
          “{describeEvent(event)}”: {message} It stays on this device, and later entries are sent.{" "}
          <Button onPress={() => void dispatch(sendAgain(event.id))}>Send again</Button>{" "}
          <Button onPress={() => void dispatch(discard(event.id))}>Discard entry</Button>
        </Notice>
      ))}
      {unreadable.length > 0 ? (
        <Notice tone="caution" title={unreadable.length === 1 ? "An entry cannot be read" : `${unreadable.length} entries cannot be read`}>
          {unreadable.length === 1 ? "It stands in the log as stored and counts" : "They stand in the log as stored and count"} for nothing.
          The rest of the job is not affected.
          <details>
            <summary>Show as stored</summary>
            {unreadable.map((entry) => (
              <Raw key={entry.id}>
                {entry.why}: {entry.raw}
              </Raw>
            ))}
          </details>
        </Notice>
      ) : null}
      {job.view.complaint.highVoltage ? (
        <Notice tone="danger">
          <details>
            <summary>
              <strong>{HIGH_VOLTAGE_CAUTION.title}.</strong> Orange cables and what they lead to are out of bounds.
            </summary>
            {HIGH_VOLTAGE_CAUTION.text}
          </details>
        </Notice>
      ) : null}
      {job.view.closed === undefined ? null : (
        <Notice tone="info" title="This job is closed">
          {left > 0 ? `${left} temporary ${left === 1 ? "change" : "changes"} in place. ` : ""}Its record is final. Re-open it under{" "}
          <Link to={`/jobs/${job.id}/record`}>Report</Link> to go on.
        </Notice>
      )}
    </Notices>
  );
}
