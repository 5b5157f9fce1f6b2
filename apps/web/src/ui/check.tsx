import { Check as Tick } from "lucide-react";
import type { ReactNode } from "react";
import { Checkbox } from "react-aria-components";
import { styled } from "styled-components";

const Wrap = styled(Checkbox)`
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: var(--s3);
  align-items: center;
  min-height: var(--target);
  cursor: pointer;
  &[data-disabled] {
    cursor: not-allowed;
    color: var(--ink-2);
  }
  &[data-focus-visible] {
    outline: 3px solid var(--focus);
  }
`;
const Box = styled.span`
  width: 28px;
  height: 28px;
  display: inline-flex;
  align-items: center;
  justify-content: center;
  border: 2px solid var(--line-strong);
  border-radius: 5px;
  background: var(--field);
  [data-selected] > & {
    background: var(--accent);
    border-color: var(--accent);
    color: var(--on-accent);
  }
`;

export interface CheckProps {
  readonly isSelected: boolean;
  readonly onChange: (selected: boolean) => void;
  readonly isDisabled?: boolean;
  readonly children: ReactNode;
}

/** A box to tick, with its words. */
export function Check({ isSelected, onChange, isDisabled = false, children }: CheckProps) {
  return (
    <Wrap isSelected={isSelected} onChange={onChange} isDisabled={isDisabled}>
      <Box aria-hidden>{isSelected ? <Tick size={20} strokeWidth={3} /> : null}</Box>
      <span>{children}</span>
    </Wrap>
  );
}
