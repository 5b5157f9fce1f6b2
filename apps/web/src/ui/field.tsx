import type { ReactNode, Ref } from "react";
import { FieldError, Input, Label, Text, TextArea, TextField as AriaTextField, type TextFieldProps } from "react-aria-components";
import { css, styled } from "styled-components";

/** How a box that takes something in looks. */
export const box = css`
  min-height: var(--target);
  width: 100%;
  padding: var(--s2) var(--s3);
  background: var(--field);
  border: 1px solid var(--line-strong);
  border-radius: var(--radius);
  &[data-invalid] {
    border: 2px solid var(--danger);
  }
  &::placeholder {
    color: var(--ink-2);
    opacity: 1;
  }
`;
const Wrap = styled(AriaTextField)<{ $grow: boolean }>`
  ${(p) => (p.$grow ? "flex: 1 1 180px;" : "")}
  display: flex;
  flex-direction: column;
  gap: var(--s1);
  min-width: 0;
`;
const Box = styled(Input)<{ $mono: boolean }>`
  ${box}
  ${(p) => (p.$mono ? "font-family: var(--mono); font-size: 1.0625rem;" : "")}
`;
const Area = styled(TextArea)`
  ${box}
  resize: vertical;
  min-height: 72px;
`;
const Hint = styled(Text)`
  color: var(--ink-2);
  font-size: 0.875rem;
`;
const Wrong = styled(FieldError)`
  color: var(--danger);
  font-size: 0.9375rem;
  font-weight: 600;
`;
/** Style of what is read out but not drawn. */
export const UNSEEN = { position: "absolute", width: 1, height: 1, overflow: "hidden", clipPath: "inset(50%)" } as const;
export const FieldLabel = styled(Label)`
  font-weight: 640;
  white-space: nowrap;
`;

export interface FieldProps extends Omit<TextFieldProps, "children" | "className" | "style"> {
  readonly label: string;
  readonly hint?: ReactNode;
  /** What is wrong and what to do; empty or missing when nothing is. */
  readonly error?: string | undefined;
  readonly placeholder?: string;
  /** More lines than one. */
  readonly lines?: number;
  readonly mono?: boolean;
  /** Takes the room that is left in a row. */
  readonly grow?: boolean;
  readonly inputRef?: Ref<HTMLInputElement>;
}

/** A labelled text field with room for a hint and for what is wrong with its contents. */
export function Field({ label, hint, error, placeholder = "", lines, mono = false, grow = false, inputRef, ...props }: FieldProps) {
  const wrong = error !== undefined && error !== "";
  return (
    <Wrap {...props} $grow={grow} isInvalid={wrong} validationBehavior="aria">
      <FieldLabel>{label}</FieldLabel>
      {lines === undefined ? (
        <Box
          {...(inputRef === undefined ? {} : { ref: inputRef })}
          placeholder={placeholder}
          $mono={mono}
          autoComplete="off"
          spellCheck={!mono}
        />
      ) : (
        <Area
          {...(inputRef === undefined ? {} : { ref: inputRef as unknown as Ref<HTMLTextAreaElement> })}
          rows={lines}
          placeholder={placeholder}
        />
      )}
      {hint !== undefined && !wrong ? <Hint slot="description">{hint}</Hint> : null}
      <Wrong>{error}</Wrong>
    </Wrap>
  );
}
