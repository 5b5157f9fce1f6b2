import { ListBoxItem, Popover } from "react-aria-components";
import { styled } from "styled-components";

/** What opens under a field to choose from. */
export const Menu = styled(Popover)`
  background: var(--surface);
  border: 1px solid var(--line-strong);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
  min-width: var(--trigger-width);
  max-height: 60vh;
  overflow: auto;
`;
export const Option = styled(ListBoxItem)`
  padding: var(--s2) var(--s3);
  min-height: var(--target);
  display: flex;
  align-items: center;
  cursor: pointer;
  &[data-focused] {
    background: var(--accent-soft);
  }
  &[data-selected] {
    font-weight: 680;
  }
`;
