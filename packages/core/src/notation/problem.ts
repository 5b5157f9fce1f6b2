import type { HarnessProblem } from "../harness/index.ts";

/** Something wrong or doubtful in a circuit text. Lines and columns count from 1. */
export interface NotationProblem {
  readonly severity: "error" | "warning";
  readonly code: string;
  readonly message: string;
  readonly line: number;
  readonly column: number;
  /** Characters concerned, at least 1. */
  readonly length: number;
  /** A change that mends it, where there is one; it applies to the draft that was read. */
  readonly fix?: HarnessProblem["fix"];
}

/** A stretch of the text: offsets count from 0, `end` is behind the last character. */
export interface Span {
  readonly start: number;
  readonly end: number;
}

/** Turns offsets of one text into lines and columns. */
export function createLocator(text: string): (span: Span) => Pick<NotationProblem, "line" | "column" | "length"> {
  const starts = [0];
  for (let i = 0; i < text.length; i++) if (text[i] === "\n") starts.push(i + 1);
  return (span) => {
    let low = 0;
    let high = starts.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (starts[middle]! <= span.start) low = middle;
      else high = middle - 1;
    }
    return { line: low + 1, column: span.start - starts[low]! + 1, length: Math.max(1, span.end - span.start) };
  };
}
