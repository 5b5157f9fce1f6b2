import { CircleX, TriangleAlert } from "lucide-react";
import { styled } from "styled-components";
import type { HarnessEdit } from "@rheonom/core/harness";
import type { NotationProblem } from "@rheonom/core/notation";
import { Button } from "../ui/button.tsx";

const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 168px;
  overflow: auto;
  display: grid;
  gap: 2px;
`;
const Line = styled.button`
  font: inherit;
  width: 100%;
  min-height: var(--target);
  text-align: left;
  display: flex;
  gap: var(--s2);
  align-items: center;
  padding: var(--s1) var(--s2);
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  cursor: pointer;
  svg {
    flex: none;
  }
  &[data-severity="error"] svg {
    color: var(--danger);
  }
  &[data-severity="warning"] svg {
    color: var(--caution);
  }
`;
const SHOWN = 50;

export interface ProblemListProps {
  readonly problems: readonly NotationProblem[];
  readonly lines: number;
  readonly busy: boolean;
  readonly onGoTo: (line: number, column: number) => void;
  /** Makes the change that mends a problem; without it none is offered. */
  readonly onFix?: (edit: HarnessEdit) => void;
}

/** Every problem with its line and column; a press leads there. */
export function ProblemList({ problems, lines, busy, onGoTo, onFix }: ProblemListProps) {
  const errors = problems.filter((p) => p.severity === "error").length;
  const summary =
    errors > 0
      ? `${errors} to correct before tracing`
      : problems.length > 0
        ? `Usable, ${problems.length} doubtful`
        : `No problem in ${lines} lines`;
  return (
    <div>
      <p role="status" style={{ fontWeight: 640, marginBottom: 4 }}>
        {busy ? "Reading …" : summary}
      </p>
      <List>
        {problems.slice(0, SHOWN).map((p, i) => (
          <li key={i} style={{ display: "flex", gap: "var(--s2)" }}>
            <Line data-severity={p.severity} onClick={() => onGoTo(p.line, p.column)}>
              {p.severity === "error" ? <CircleX size={18} aria-label="Error" /> : <TriangleAlert size={18} aria-label="Doubtful" />}
              <span>
                <strong>
                  Line {p.line}, column {p.column}:
                </strong>{" "}
                {p.message}
              </span>
            </Line>
            {p.fix === undefined || onFix === undefined ? null : (
              <Button onPress={() => onFix(p.fix!.edit)} style={{ whiteSpace: "normal", maxWidth: 260 }}>
                {p.fix.words}
              </Button>
            )}
          </li>
        ))}
      </List>
      {problems.length > SHOWN ? <p>… and {problems.length - SHOWN} more.</p> : null}
    </div>
  );
}
