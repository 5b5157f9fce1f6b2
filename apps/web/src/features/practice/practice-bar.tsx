import { useMemo } from "react";
import { useNavigate } from "react-router";
import { GraduationCap } from "lucide-react";
import { styled } from "styled-components";
import { minutesWorked, openTray } from "@rheonom/core/job";
import type { JobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { Faint } from "../../ui/layout.tsx";

const Bar = styled.aside`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 var(--s3);
  padding: 2px var(--s3);
  border-bottom: 1px solid var(--line);
  background: var(--accent-soft);
  svg {
    flex: none;
  }
  span:last-of-type {
    margin-left: auto;
  }
  @media print {
    display: none;
  }
`;

/** The mark of a practice job on all its screens: who speaks, minutes of work, and how to end it. */
export function PracticeBar({ job, harness, record }: Pick<JobContext, "job" | "harness" | "record">) {
  const navigate = useNavigate();
  const { view } = job;
  const { practice } = view;
  const minutes = useMemo(
    () => (harness === undefined || practice?.clock !== true ? undefined : minutesWorked(harness, view)),
    [harness, practice, view],
  );
  if (practice === undefined) return null;
  const giveUp = (): void => {
    record({ type: "job-closed", data: { safeToDrive: "no", advice: "", withoutProof: "given up" } });
    void navigate(`/jobs/${job.id}/debrief`);
  };
  const left = openTray(view).length;
  return (
    <Bar aria-label="Practice job">
      <GraduationCap size={18} aria-hidden />
      <strong>Practice</strong>
      {practice.speaker === "" ? null : <Faint>told by {practice.speaker}</Faint>}
      {minutes === undefined ? null : (
        <Faint>
          {Math.round(minutes.tests)} min of tests
          {minutes.verifying === 0 ? "" : `, ${Math.round(minutes.verifying)} min verifying`}
        </Faint>
      )}
      {(practice.without ?? []).length === 0 ? null : <Faint>without {practice.without!.join(", ")}</Faint>}
      {practice.isStopped ? <strong role="status">Clock stopped</strong> : null}
      {practice.advice === "asked" && practice.asked > 0 ? <Faint>advice asked for {practice.asked} ×</Faint> : null}
      {practice.hints.length === 0 ? null : <strong role="status">Hint: {practice.hints.at(-1)}</strong>}
      <span>
        {view.closed === undefined ? (
          <Button look="quiet" onPress={giveUp} isDisabled={left > 0}>
            {left > 0 ? "Put everything back before you give up" : "Give up, show the debrief"}
          </Button>
        ) : (
          <Button look="quiet" onPress={() => void navigate(`/jobs/${job.id}/debrief`)}>
            Debrief
          </Button>
        )}
      </span>
    </Bar>
  );
}
