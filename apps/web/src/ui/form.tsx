import type { ReactNode } from "react";
import { Controller, useForm, type Control, type FieldPathByValue, type FieldValues } from "react-hook-form";
import { styled } from "styled-components";
import { Button } from "./button.tsx";
import { Field, type FieldProps } from "./field.tsx";
import { Row } from "./layout.tsx";

/** Fields of a form under each other. */
export const FormStack = styled.form`
  display: grid;
  gap: var(--s4);
`;

export interface TextInputProps<T extends FieldValues> extends Omit<FieldProps, "value" | "onChange" | "onBlur" | "inputRef" | "error"> {
  readonly control: Control<T>;
  readonly name: FieldPathByValue<T, string>;
  readonly rules?: { readonly validate: (value: string) => string | true };
  /** What is wrong beside what the form itself finds. */
  readonly error?: string | undefined;
}

/** A text field of a form, with what the form finds wrong in it. */
export function TextInput<T extends FieldValues>({ control, name, rules, error, ...props }: TextInputProps<T>) {
  return (
    <Controller
      control={control}
      name={name}
      {...(rules === undefined ? {} : { rules: rules as never })}
      render={({ field, fieldState }) => (
        <Field
          {...props}
          value={field.value as string}
          onChange={field.onChange}
          onBlur={field.onBlur}
          inputRef={field.ref}
          error={fieldState.error?.message ?? error}
        />
      )}
    />
  );
}

export interface OneLineFormProps extends Omit<FieldProps, "value" | "onChange" | "onSubmit" | "error" | "inputRef"> {
  /** What the button says. */
  readonly words: string;
  readonly solid?: boolean;
  /** Takes what was typed, trimmed; returns what is wrong with it, and nothing when it was taken. */
  readonly onSubmit: (text: string) => string | undefined;
  readonly initial?: string;
  /** Stays after it was taken. */
  readonly keeps?: boolean;
  /** Hears of every keystroke, for keeping a draft. */
  readonly onType?: (text: string) => void;
  /** Field above the buttons instead of beside them. */
  readonly stacked?: boolean;
  /** Buttons beside the first, and what else belongs there. `fail`: says what is wrong with the field. */
  readonly children?: ReactNode | ((fail: (message: string) => void) => ReactNode);
}

/** One field and the button that takes it. */
export function OneLineForm({
  words,
  solid = false,
  onSubmit,
  initial = "",
  keeps = false,
  onType,
  stacked = false,
  children,
  isDisabled = false,
  ...field
}: OneLineFormProps) {
  const { control, handleSubmit, reset, setError, watch } = useForm({ defaultValues: { text: initial } });
  const isEmpty = watch("text").trim() === "";
  const fail = (message: string): void => setError("text", { message });
  const take = ({ text }: { readonly text: string }): void => {
    if (text.trim() === "") return;
    const wrong = onSubmit(text.trim());
    if (wrong !== undefined) return fail(wrong);
    if (!keeps) reset({ text: "" });
  };
  const buttons = (
    <>
      <Button type="submit" look={solid ? "solid" : "plain"} isDisabled={isDisabled || isEmpty}>
        {words}
      </Button>
      {typeof children === "function" ? children(fail) : children}
    </>
  );
  const input = (
    <Controller
      control={control}
      name="text"
      render={({ field: { value, onChange, onBlur, ref }, fieldState }) => (
        <Field
          {...field}
          isDisabled={isDisabled}
          value={value}
          onChange={(text) => {
            onChange(text);
            onType?.(text);
          }}
          onBlur={onBlur}
          inputRef={ref}
          error={fieldState.error?.message}
        />
      )}
    />
  );
  return (
    <form
      onSubmit={(e) => void handleSubmit(take)(e)}
      style={stacked ? { display: "grid", gap: "var(--s3)" } : { display: "flex", flexWrap: "wrap", gap: "var(--s2)", alignItems: "end" }}
      noValidate
    >
      {input}
      {stacked ? <Row>{buttons}</Row> : buttons}
    </form>
  );
}
