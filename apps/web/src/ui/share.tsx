import { styled } from "styled-components";

/** A share as a bar; the number beside it says it to a screen reader. */
export const ShareBar = styled.span.attrs({ "aria-hidden": true })<{ $share: number }>`
  flex: none;
  width: 84px;
  height: 12px;
  border: 1px solid var(--line-strong);
  background: linear-gradient(to right, var(--accent) ${(p) => 100 * p.$share}%, transparent 0);
`;
