import { NavLink, useLocation, useNavigate } from "react-router";
import { styled } from "styled-components";
import { useShortcuts } from "./shortcuts.ts";
import { STEPS } from "./steps.ts";

/** Id of the room in the bar where the open job says which vehicle it is. */
export const JOB_BAR = "job-bar";

const Steps = styled.nav`
  display: flex;
  flex-wrap: wrap;
`;
const Step = styled(NavLink)`
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: var(--target);
  padding: 0 var(--s3);
  color: var(--ink);
  text-decoration: none;
  border-bottom: 4px solid transparent;
  border-top: 4px solid transparent;
  &:hover {
    background: var(--accent-soft);
  }
  @media (max-width: 960px) {
    padding: 0 var(--s2);
  }
  &.active {
    border-bottom-color: var(--accent);
    font-weight: 680;
  }
`;

/**
 * Links to the screens of a job; the keys j and h lead one step on and back. Digits are not shortcuts: on a bench they are readings, and one typed beside its field
 * must not lead away.
 */
export function JobSteps({ jobId }: { jobId: string }) {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const at = STEPS.findIndex((s) => pathname.endsWith(`/${s.path}`));
  const go = (by: number) => () => {
    const step = STEPS[at + by];
    if (at >= 0 && step !== undefined) void navigate(`/jobs/${jobId}/${step.path}`);
  };
  useShortcuts({ nextStep: go(1), stepBack: go(-1) });
  return (
    <Steps aria-label="Steps of the job">
      {STEPS.map((s) => (
        <Step key={s.path} to={`/jobs/${jobId}/${s.path}`}>
          {s.name}
        </Step>
      ))}
    </Steps>
  );
}
