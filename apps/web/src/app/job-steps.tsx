import { NavLink, useNavigate } from "react-router";
import { styled } from "styled-components";
import { useKeys } from "../ui/use-keys.ts";

/** Id of the room in the bar where the open job says which vehicle it is. */
export const JOB_BAR = "job-bar";

/** The job's way, in the order people work. */
export const STEPS = [
  { path: "complaint", name: "Complaint" },
  { path: "circuit", name: "Circuit" },
  { path: "trace", name: "Trace" },
  { path: "mend", name: "Mend" },
  { path: "prove", name: "Prove" },
  { path: "record", name: "Record" },
] as const;

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
  span {
    font-family: var(--mono);
    font-size: 0.8125rem;
    color: var(--ink-2);
  }
  &:hover {
    background: var(--accent-soft);
  }
  @media (max-width: 960px) {
    padding: 0 var(--s2);
    span {
      display: none;
    }
  }
  &.active {
    border-bottom-color: var(--accent);
    font-weight: 680;
  }
`;

/** Links to the screens of a job; the keys 1 to 6 lead there too. */
export function JobSteps({ jobId }: { jobId: string }) {
  const navigate = useNavigate();
  const keys = Object.fromEntries(STEPS.map((s, i) => [String(i + 1), () => void navigate(`/jobs/${jobId}/${s.path}`)]));
  useKeys(keys);
  return (
    <Steps aria-label="Steps of the job">
      {STEPS.map((s, i) => (
        <Step key={s.path} to={`/jobs/${jobId}/${s.path}`}>
          <span aria-hidden>{i + 1}</span>
          {s.name}
        </Step>
      ))}
    </Steps>
  );
}
