import { styled } from "styled-components";
import type { Difference } from "@rheonom/core/harness";
import { Faint } from "../ui/layout.tsx";

const List = styled.ul`
  margin: 0;
  padding-left: 1.1em;
  max-height: 320px;
  overflow: auto;
  li {
    padding: 2px 0;
    overflow-wrap: anywhere;
  }
`;
const SIGNS = { added: "+", removed: "\u2212", changed: "\u2260" } as const;
const MOST = 300;

/** What is otherwise in one wiring than in another. */
export function DifferenceList({ differences }: { differences: readonly Difference[] }) {
  if (differences.length === 0) return <Faint>No difference.</Faint>;
  const count = (kind: Difference["kind"]): number => differences.filter((d) => d.kind === kind).length;
  return (
    <>
      <Faint>
        {count("added")} new, {count("changed")} changed, {count("removed")} gone
      </Faint>
      <List tabIndex={0} aria-label="Differences">
        {differences.slice(0, MOST).map((d) => (
          <li key={`${d.kind} ${d.what} ${d.id}`}>
            {SIGNS[d.kind]} {d.words}
          </li>
        ))}
        {differences.length > MOST ? <li>and {differences.length - MOST} more</li> : null}
      </List>
    </>
  );
}
