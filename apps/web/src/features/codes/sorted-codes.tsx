import { Link } from "react-router";
import { styled } from "styled-components";
import type { Scan, Triage } from "@rheonom/core/codes";
import type { Harness } from "@rheonom/core/harness";
import { useJobContext } from "../../job/job-context.ts";
import { Faint, Panel } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { useQuery } from "../../worker/use-query.ts";
import { CodesTable } from "./codes-table.tsx";
import { Export } from "./scan-files.tsx";

const Shared = styled.ul`
  margin: 0;
  padding-left: var(--s4);
`;

/** Where Trace opens for what is to be worked first: on its part, and on what several codes share. */
const traceOf = ({ parts, at }: NonNullable<Triage["first"]>): string =>
  new URLSearchParams({ ...(parts[0] === undefined ? {} : { load: parts[0] }), ...(at === undefined ? {} : { at }) }).toString();

/** Codes sorted into causes and what follows from them, and what those that fail share. */
export function SortedCodes({ harness, scan }: { harness: Harness; scan: Scan }) {
  const { job } = useJobContext();
  const { view } = job;
  const sorted = useQuery("triage", harness, { view });
  const value = sorted.value;
  if (sorted.failed !== undefined) return <Notice tone="danger">{sorted.failed}</Notice>;
  if (value === undefined) return <p role="status">Sorting …</p>;
  return (
    <>
      {value.first === undefined ? null : (
        <Notice tone="info" title={`Start with: ${value.first.what}`}>
          {`${value.first.why.slice(0, 1).toUpperCase()}${value.first.why.slice(1)}. `}
          <Link to={`/jobs/${job.id}/trace?${traceOf(value.first)}`}>
            Trace {value.first.at ?? (value.first.parts.length === 0 ? "the battery" : value.first.parts.slice(0, 4).join(", "))}
          </Link>
        </Notice>
      )}
      {value.notExpected.length === 0 ? null : (
        <Notice tone="info">
          {value.notExpected.join(", ")} {value.notExpected.length === 1 ? "is" : "are"} not expected to answer with the key and engine as
          they were: that is no finding. Scan again with the key on.
        </Notice>
      )}
      <Panel>
        {value.codes.length + value.silent.length === 0 ? (
          <p>
            {scan.modules.length === 0 ? "No codes." : `No codes, and all ${scan.modules.length} modules answer.`}{" "}
            <Faint>Some are set only after seconds with the key on, or while driving: ask again then.</Faint>
          </p>
        ) : (
          <CodesTable rows={value.codes} silent={value.silent} harness={harness} />
        )}
        <Export scan={scan} />
      </Panel>
      {value.shared.length === 0 ? null : (
        <Panel aria-label="What they share">
          <h2>What they share</h2>
          <Shared>
            {value.shared.slice(0, 6).map((n) => (
              <li key={n.kind + n.id}>
                {n.words}: behind {n.failing.join(", ")}
                {n.working.length === 0 ? "" : `; but ${n.working.join(", ")} works through it`}
              </li>
            ))}
          </Shared>
        </Panel>
      )}
    </>
  );
}
