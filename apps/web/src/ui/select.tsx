import { Button, ListBox, Select as AriaSelect, SelectValue } from "react-aria-components";
import { ChevronDown } from "lucide-react";
import { styled } from "styled-components";
import { box, FieldLabel, UNSEEN } from "./field.tsx";
import { Menu, Option } from "./list-box.ts";

const Choose = styled(AriaSelect)`
  display: flex;
  flex-direction: column;
  gap: var(--s1);
  min-width: 0;
`;
const Trigger = styled(Button)`
  ${box}
  font: inherit;
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: var(--s2);
  cursor: pointer;
  text-align: left;
`;

export interface SelectProps<T extends string> {
  readonly label: string;
  readonly options: readonly { readonly id: T; readonly text: string }[];
  readonly value: T | undefined;
  readonly onChange: (value: T) => void;
  readonly placeholder?: string;
  readonly inline?: boolean;
  readonly isDisabled?: boolean;
  /** The label is read out but not drawn. */
  readonly hideLabel?: boolean;
}

/** One of many, in a list that opens. */
export function Select<T extends string>({
  label,
  options,
  value,
  onChange,
  placeholder = "Choose",
  inline = false,
  isDisabled = false,
  hideLabel = false,
}: SelectProps<T>) {
  return (
    <Choose
      value={value ?? null}
      onChange={(key) => {
        if (key !== null) onChange(String(key) as T);
      }}
      placeholder={placeholder}
      isDisabled={isDisabled}
      style={inline ? { flexDirection: "row", alignItems: "center", gap: "var(--s2)" } : undefined}
    >
      <FieldLabel style={hideLabel ? UNSEEN : undefined}>{label}</FieldLabel>
      <Trigger>
        <SelectValue />
        <ChevronDown size={18} aria-hidden />
      </Trigger>
      <Menu>
        <ListBox items={options.map((o) => ({ ...o }))}>{(o) => <Option id={o.id}>{o.text}</Option>}</ListBox>
      </Menu>
    </Choose>
  );
}
