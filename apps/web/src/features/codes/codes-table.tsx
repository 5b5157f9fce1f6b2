import { styled } from "styled-components";
import { codeName, codeText, failureWords, readCode, type CodeEntry, type Role } from "@rheonom/core/codes";
import type { Harness } from "@rheonom/core/harness";
import { Hidden } from "../../ui/layout.tsx";
import { Table } from "../../ui/table.tsx";
import { Stored } from "./stored.tsx";

const Badge = styled.span`
  display: inline-block;
  border: 1px solid var(--line-strong);
  border-radius: var(--radius);
  padding: 0 var(--s2);
  white-space: nowrap;
  &[data-role="cause"] {
    border-color: var(--suspect);
    background: var(--suspect-soft);
    font-weight: 680;
  }
  &[data-role="history"],
  &[data-role="own doing"] {
    border-style: dashed;
  }
`;

export interface CodeRow {
  readonly entry: CodeEntry;
  readonly role?: Role;
  readonly reason?: string;
  readonly came?: string | undefined;
}

/** Codes with what they say and, where they were sorted, what they are. */
export function CodesTable({
  rows,
  silent = [],
  harness,
}: {
  rows: readonly CodeRow[];
  silent?: readonly string[];
  harness: Harness | undefined;
}) {
  return (
    <Table>
      <caption>
        <Hidden>Codes</Hidden>
      </caption>
      <thead>
        <tr>
          <th scope="col">Module</th>
          <th scope="col">Code</th>
          <th scope="col">What it says</th>
          <th scope="col">Status</th>
          <th scope="col">Assessment</th>
        </tr>
      </thead>
      <tbody>
        {silent.map((id) => (
          <tr key={`silent ${id}`}>
            <td>{id}</td>
            <td>silent</td>
            <td>Does not answer</td>
            <td />
            <td>
              <Badge data-role="cause">cause</Badge> its feed, its ground, its bus, or the module
            </td>
          </tr>
        ))}
        {rows.map(({ entry, role, reason, came }, i) => (
          <tr key={`${entry.module} ${codeName(entry)} ${i}`}>
            <td>{entry.module === "" ? "not said" : entry.module}</td>
            <td style={{ whiteSpace: "nowrap" }}>{codeName(entry)}</td>
            <td>
              {wordsOf(harness, entry)}
              <Stored entry={entry} harness={harness} />
            </td>
            <td>
              {came === "not back" ? `was ${entry.status}, not back` : came === undefined ? entry.status : `${entry.status}, ${came}`}
            </td>
            <td>
              {role === undefined ? null : <Badge data-role={role}>{role}</Badge>} {reason}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

/** The vehicle's own text, else what the standard's digits say; then the failure type. */
function wordsOf(harness: Harness | undefined, entry: CodeEntry): string {
  const read = readCode(entry.code);
  const own = harness === undefined ? undefined : codeText(harness, entry);
  const area =
    read.kind === "code"
      ? `${read.code.system}${read.code.area === undefined ? "" : `: ${read.code.area}`}${read.code.meaning === "maker" ? ", manufacturer-specific" : ""}`
      : "";
  return [own ?? area, entry.failureType === undefined ? "" : failureWords(entry.failureType)].filter(Boolean).join("; ");
}
