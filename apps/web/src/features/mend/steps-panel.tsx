import { styled } from "styled-components";
import { TriangleAlert } from "lucide-react";
import { CAUTION_FOOTER, stepKey } from "@rheonom/core/job";
import type { RepairStep } from "@rheonom/core/repair";
import { useJobContext } from "../../job/job-context.ts";
import { Check } from "../../ui/check.tsx";
import { Faint, Panel } from "../../ui/layout.tsx";

const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 2px;
`;
const Warn = styled.p`
  margin: 0 0 var(--s1) 44px;
  color: var(--caution);
  font-weight: 620;
  display: flex;
  gap: var(--s2);
  svg {
    flex: none;
    margin-top: 3px;
  }
`;

/** The steps of a repair in their order, each with its caution and ticked when it is done. */
export function StepsPanel({ at, steps }: { at: string; steps: readonly RepairStep[] }) {
  const { job, record } = useJobContext();
  if (steps.length === 0) return null;
  const done = new Set(job.view.ticked);
  const count = steps.filter((s) => done.has(stepKey(at, s.id))).length;
  return (
    <Panel aria-label="Steps">
      <h2>
        Steps in order{" "}
        <Faint>
          {count} of {steps.length} done
        </Faint>
      </h2>
      <List>
        {steps.map((s) => (
          <li key={s.id}>
            <Check
              isSelected={done.has(stepKey(at, s.id))}
              isDisabled={job.view.closed !== undefined}
              onChange={(isDone) => record({ type: "step-ticked", data: { of: at, step: s.id, done: isDone } })}
            >
              {s.words}
            </Check>
            {s.caution === undefined || done.has(stepKey(at, s.id)) ? null : (
              <Warn>
                <TriangleAlert size={16} aria-hidden /> {s.caution}
              </Warn>
            )}
          </li>
        ))}
      </List>
      <Faint>{CAUTION_FOOTER}</Faint>
    </Panel>
  );
}
