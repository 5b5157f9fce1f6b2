import { useState, type FormEvent } from "react";
import { useNavigate } from "react-router";
import { format } from "date-fns";
import { useJobContext } from "../../app/job-layout.tsx";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Page, Panel, Row } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import { ComplaintForm } from "./complaint-form.tsx";

/** What the customer brought and said, and notes that come later. */
export function ComplaintScreen() {
  const { job, record } = useJobContext();
  const navigate = useNavigate();
  const { complaint, openedAt, openedBy } = job.view;
  return (
    <Page>
      <Row style={{ justifyContent: "space-between" }}>
        <h1>Complaint</h1>
        <Faint>
          opened {format(new Date(openedAt), "d MMM yyyy, HH:mm")} by {openedBy}
        </Faint>
      </Row>
      <Panel>
        <ComplaintForm
          key={JSON.stringify(complaint)}
          initial={complaint}
          submitWords="Save changes"
          onSubmit={(data) => {
            record({ type: "complaint-changed", data });
            toast("The complaint is changed; the log keeps how it was.");
            void navigate(`/jobs/${job.id}/${job.view.circuit === undefined ? "circuit" : "trace"}`);
          }}
        />
      </Panel>
      <Notes />
    </Page>
  );
}

function Notes() {
  const { job, record } = useJobContext();
  const [text, setText] = useState("");
  const add = (event: FormEvent): void => {
    event.preventDefault();
    if (text.trim() === "") return;
    record({ type: "note-added", data: { text: text.trim() } });
    setText("");
  };
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
      <form onSubmit={add} style={{ display: "grid", gap: "var(--s3)" }}>
        <Field label="Add a note" value={text} onChange={setText} lines={2} maxLength={2000} />
        <Row>
          <Button type="submit" isDisabled={text.trim() === ""}>
            Add the note
          </Button>
        </Row>
      </form>
    </Panel>
  );
}
