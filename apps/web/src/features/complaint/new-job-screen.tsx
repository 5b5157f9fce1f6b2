import { useState } from "react";
import { useNavigate } from "react-router";
import { EMPTY_COMPLAINT, type ComplaintData } from "@rheonom/core/job";
import { useOpenJobMutation } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { keepItem, readLike } from "../../job/kept.ts";
import { makeEvent, newId } from "../../job/record.ts";
import { PersonDialog } from "../../job/person.tsx";
import { store, useAppSelector } from "../../job/store.ts";
import { Page, Panel } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { ComplaintForm } from "./complaint-form.tsx";

const DRAFT = "rheonom.new-job";

const keepDraft = (data: ComplaintData): void => void keepItem(DRAFT, JSON.stringify(data));

/** Starts a job. What is typed stays on this device until the server has taken it. */
export function NewJobScreen() {
  const navigate = useNavigate();
  const [openJob, { isLoading }] = useOpenJobMutation();
  const [failure, setFailure] = useState<string | undefined>(undefined);
  const [unnamed, setUnnamed] = useState<ComplaintData | undefined>(undefined);
  const [initial] = useState(() => readLike(DRAFT, EMPTY_COMPLAINT));
  const person = useAppSelector((s) => s.session.person);
  const submit = async (data: ComplaintData): Promise<void> => {
    // The name may have been given a moment ago, so it is read where it is kept.
    const by = store.getState().session.person;
    if (by === "") return setUnnamed(data);
    const event = makeEvent(newId(), by, { type: "job-opened", data });
    const result = await openJob(event);
    if ("error" in result) return setFailure(failureOf(result.error).message);
    localStorage.removeItem(DRAFT);
    void navigate(`/jobs/${event.jobId}/circuit`);
  };
  return (
    <Page>
      <h1>New job</h1>
      <Panel>
        <ComplaintForm
          initial={initial}
          submitWords={person === "" ? "Open the job …" : "Open the job"}
          onSubmit={(d) => void submit(d)}
          onChange={keepDraft}
          busy={isLoading}
        />
        {failure === undefined ? null : (
          <Notice tone="danger" role="alert">
            {failure}
          </Notice>
        )}
      </Panel>
      <PersonDialog
        isOpen={unnamed !== undefined}
        onClose={() => setUnnamed(undefined)}
        onNamed={() => {
          if (unnamed !== undefined) void submit(unnamed);
        }}
      />
    </Page>
  );
}
