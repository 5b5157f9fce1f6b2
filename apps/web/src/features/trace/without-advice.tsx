import { styled } from "styled-components";
import type { JobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { Faint } from "../../ui/layout.tsx";

const Card = styled.section`
  border: 1px solid var(--line-strong);
  border-left: 6px solid var(--line-strong);
  border-radius: var(--radius);
  padding: var(--s2) var(--s3);
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2) var(--s3);
  justify-content: space-between;
  align-items: center;
  background: var(--surface);
`;
const Big = styled.strong`
  display: block;
  font-size: 1.125rem;
`;

/** In place of the next test while somebody practises without advice. */
export function WithoutAdvice({ job, record }: Pick<JobContext, "job" | "record">) {
  const isAsked = job.view.practice?.advice === "asked";
  return (
    <Card aria-label="Next test">
      <span>
        <Big>Where do the leads go next?</Big>
        <Faint>
          {isAsked
            ? "Advice comes on request, until the next finding. Each request is counted."
            : "Practice without advice: choose state, points and test yourself. Simulate answers."}
        </Faint>
      </span>
      {isAsked ? <Button onPress={() => record({ type: "advice-asked", data: { on: "next test" } })}>Ask for advice</Button> : null}
    </Card>
  );
}
