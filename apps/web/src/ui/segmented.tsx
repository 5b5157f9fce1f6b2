import { Label, Radio, RadioGroup } from "react-aria-components";
import { styled } from "styled-components";

const Group = styled(RadioGroup)`
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--s2);
`;
const Row = styled.div`
  display: inline-flex;
  border: 1px solid var(--line-strong);
  border-radius: var(--radius);
  overflow: hidden;
  background: var(--field);
`;
const Choice = styled(Radio)`
  min-height: 42px;
  min-width: 44px;
  padding: 0 var(--s3);
  display: inline-flex;
  align-items: center;
  justify-content: center;
  cursor: pointer;
  & + & {
    border-left: 1px solid var(--line);
  }
  &[data-hovered] {
    background: var(--accent-soft);
  }
  &[data-selected] {
    background: var(--accent);
    color: var(--on-accent);
    font-weight: 640;
  }
  &[data-focus-visible] {
    outline-offset: -3px;
    outline-color: var(--ink);
  }
  &[data-selected][data-focus-visible] {
    outline-color: var(--on-accent);
  }
  &[data-disabled] {
    cursor: not-allowed;
    color: var(--ink-2);
  }
`;

export interface Choices<T extends string> {
  readonly label: string;
  readonly options: readonly { readonly id: T; readonly text: string }[];
  readonly value: T;
  readonly onChange: (value: T) => void;
  readonly isDisabled?: boolean;
  /** The label is read out but not drawn. */
  readonly hideLabel?: boolean;
  /** Takes the focus as soon as it stands there. */
  readonly autoFocus?: boolean;
}

/** One of a few, all in sight. Arrow keys move. */
export function Segmented<T extends string>({
  label,
  options,
  value,
  onChange,
  isDisabled = false,
  hideLabel = false,
  autoFocus = false,
}: Choices<T>) {
  return (
    <Group
      // With nothing chosen yet the first is reached by Tab; a value that is none of them would shut the keyboard out.
      value={options.some((o) => o.id === value) ? value : null}
      onChange={(v) => onChange(v as T)}
      orientation="horizontal"
      isDisabled={isDisabled}
      {...(hideLabel ? { "aria-label": label } : {})}
    >
      {hideLabel ? null : <Label>{label}</Label>}
      <Row>
        {options.map((o) => (
          <Choice key={o.id} value={o.id} autoFocus={autoFocus && o.id === value}>
            {o.text}
          </Choice>
        ))}
      </Row>
    </Group>
  );
}
