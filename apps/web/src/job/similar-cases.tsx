import { Link } from "react-router";
import { styled } from "styled-components";
import { Check } from "../ui/check.tsx";
import { Faint } from "../ui/layout.tsx";
import { ago } from "../ui/ago.ts";
import { useJobContext } from "./job-context.ts";

const List = styled.ol`
  margin: var(--s1) 0 0;
  padding-left: 1.2em;
  display: grid;
  gap: var(--s1);
`;

/** Closed jobs like this one: how each ended, what they have in common, and whether they count for the suspects. Nothing while there are none. */
export function SimilarCases({ isOpen = false }: { isOpen?: boolean }) {
  const { job, similar, record } = useJobContext();
  const { weighsCases, closed } = job.view;
  if (similar.length === 0) return null;
  const count = job.view.similar?.length ?? 0;
  return (
    <section aria-label="Similar closed jobs">
      <details open={isOpen}>
        <summary>
          <strong>
            {similar.length} similar closed {similar.length === 1 ? "job" : "jobs"}
          </strong>{" "}
          <Faint>
            {count === 0
              ? "on other vehicles: they count for no suspect"
              : weighsCases
                ? `ended at ${placesOf(similar)}, which count as likelier`
                : "do not count for the suspects"}
          </Faint>
        </summary>
        <List>
          {similar.map((c) => (
            <li key={c.jobId}>
              <Link to={`/jobs/${c.jobId}/record`}>{c.words}</Link> {c.repairs.map((r) => `${r.words}, ${r.found}`).join("; ")}{" "}
              <Faint>
                {[c.vehicle, c.registration].filter((x) => x !== "").join(" ")}, closed {ago(c.closedAt)}. In common: {c.common.join("; ")}.
              </Faint>
            </li>
          ))}
        </List>
        {count === 0 || closed !== undefined ? null : (
          <Check isSelected={weighsCases} onChange={(weighed) => record({ type: "cases-weighed", data: { weighed } })}>
            Count them for the suspects: each makes its place that much likelier from the start
          </Check>
        )}
      </details>
    </section>
  );
}

const placesOf = (cases: readonly { readonly isSameWiring: boolean; readonly places: readonly string[] }[]): string =>
  [...new Set(cases.flatMap((c) => (c.isSameWiring ? c.places : [])))].join(", ");
