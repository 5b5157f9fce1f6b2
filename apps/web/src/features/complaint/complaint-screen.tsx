import { useCallback, useState } from "react";
import { useNavigate } from "react-router";
import { format } from "date-fns";
import type { ComplaintData } from "@rheonom/core/job";
import { keepItem, readLike } from "../../job/kept.ts";
import { useJobContext } from "../../job/job-context.ts";
import { SimilarCases } from "../../job/similar-cases.tsx";
import { OneLineForm } from "../../ui/form.tsx";
import { Faint, Page, Panel, Row } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import { ComplaintForm } from "./complaint-form.tsx";
import { SymptomsPanel } from "./symptoms-panel.tsx";

/** What the customer brought and said, and notes that come later. */
export function ComplaintScreen() {
  const { job, record, harness } = useJobContext();
  const navigate = useNavigate();
  const { complaint, openedAt, openedBy } = job.view;
  // Changes that are not saved outlive a look at another screen.
  const draft = `rheonom.complaint.${job.id}`;
  const [initial] = useState(() => readLike(draft, complaint));
  const keepDraft = useCallback((data: ComplaintData) => void keepItem(draft, JSON.stringify(data)), [draft]);
  return (
    <Page>
      <Row style={{ justifyContent: "space-between" }}>
        <h1>Complaint</h1>
        <Faint>
          opened {format(new Date(openedAt), "d MMM yyyy, HH:mm")} by {openedBy}
        </Faint>
      </Row>
      {harness === undefined ? null : <SymptomsPanel harness={harness} words={complaint.words} />}
      <SimilarCases isOpen />
      <Panel>
        <ComplaintForm
          initial={initial}
          onChange={keepDraft}
          submitWords="Save changes"
          onSubmit={(data) => {
            record({ type: "complaint-changed", data });
            localStorage.removeItem(draft);
            toast("The complaint is changed; the log keeps how it was.");
            void navigate(`/jobs/${job.id}/${job.view.circuit === undefined ? "circuit" : "trace"}`);
          }}
        />
      </Panel>
      <Notes />
    </Page>
  );
}

const NO_NOTE = { text: "" };

function Notes() {
  const { job, record } = useJobContext();
  const draft = `rheonom.note.${job.id}`;
  const [begun] = useState(() => readLike(draft, NO_NOTE).text);
  return (
    <Panel>
      <h2>Notes</h2>
      {job.view.notes
        .filter((n) => n.struck === undefined)
        .map((n) => (
          <p key={n.id}>
            {n.text}{" "}
            <Faint>
              {n.by}, {format(new Date(n.at), "d MMM, HH:mm")}
            </Faint>
          </p>
        ))}
      <OneLineForm
        label="Add a note"
        words="Add the note"
        initial={begun}
        onType={(text) => void keepItem(draft, JSON.stringify({ text }))}
        onSubmit={(text) => {
          record({ type: "note-added", data: { text } });
          localStorage.removeItem(draft);
          return undefined;
        }}
        lines={2}
        maxLength={2000}
        stacked
      />
    </Panel>
  );
}
