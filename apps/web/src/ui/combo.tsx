import { useState, type Ref } from "react";
import { ComboBox, Input, ListBox } from "react-aria-components";
import { styled } from "styled-components";
import { bare } from "./bare.ts";
import { box, FieldLabel, UNSEEN } from "./field.tsx";
import { Menu, Option } from "./list-box.ts";

const Wrap = styled(ComboBox)`
  display: flex;
  flex-direction: column;
  gap: var(--s1);
  min-width: 0;
`;
const Box = styled(Input)`
  ${box}
`;
const Empty = styled.div`
  padding: var(--s2) var(--s3);
  color: var(--ink-2);
`;
const Under = styled.span<{ $isWrong: boolean }>`
  color: ${(p) => (p.$isWrong ? "var(--danger)" : "var(--ink-2)")};
  font-size: 0.9375rem;
`;

export interface ComboProps<T extends string> {
  readonly label: string;
  readonly options: readonly { readonly id: T; readonly text: string }[];
  /** What stands in the field. */
  readonly text: string;
  readonly onText: (text: string) => void;
  /** One of the options was taken. */
  readonly onChoose: (id: T) => void;
  readonly hint?: string | undefined;
  readonly error?: string | undefined;
  /** What stands under the field while nothing fits. */
  readonly none: string;
  readonly placeholder?: string;
  readonly autoFocus?: boolean;
  readonly onBlur?: () => void;
  /** The label is read out but not drawn. */
  readonly hideLabel?: boolean;
  readonly inputRef?: Ref<HTMLInputElement>;
}

/** One of many, found by typing; words that are none of them may stay. */
export function Combo<T extends string>({
  label,
  options,
  text,
  onText,
  onChoose,
  hint,
  error,
  none,
  placeholder = "",
  autoFocus = false,
  onBlur,
  hideLabel = false,
  inputRef,
}: ComboProps<T>) {
  const [picked, setPicked] = useState<string | null>(null);
  const under = error ?? hint;
  return (
    <Wrap
      defaultItems={options.map((o) => ({ ...o }))}
      inputValue={text}
      onInputChange={(typed) => {
        if (typed !== text) setPicked(null);
        onText(typed);
      }}
      // The list closes for an option that is taken only where it stays taken until something else is typed.
      selectedKey={picked}
      onSelectionChange={(key) => {
        setPicked(key === null ? null : String(key));
        if (key !== null) onChoose(String(key) as T);
      }}
      allowsCustomValue
      defaultFilter={(option, typed) => bare(option).includes(bare(typed))}
      // What comes in while somebody types opens under the field all the same.
      allowsEmptyCollection
      menuTrigger="input"
      isInvalid={error !== undefined}
      autoFocus={autoFocus}
      {...(onBlur === undefined ? {} : { onBlur })}
    >
      <FieldLabel style={hideLabel ? UNSEEN : undefined}>{label}</FieldLabel>
      <Box placeholder={placeholder} autoComplete="off" {...(inputRef === undefined ? {} : { ref: inputRef })} />
      {under === undefined ? null : <Under $isWrong={error !== undefined}>{under}</Under>}
      <Menu>
        <ListBox renderEmptyState={() => <Empty>{none}</Empty>}>
          {(o: { id: string; text: string }) => <Option id={o.id}>{o.text}</Option>}
        </ListBox>
      </Menu>
    </Wrap>
  );
}
