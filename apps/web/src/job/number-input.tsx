import type { FieldValues } from "react-hook-form";
import { TextInput, type TextInputProps } from "../ui/form.tsx";
import { numberProblem } from "./typed-number.ts";

export interface NumberInputProps<T extends FieldValues> extends Omit<TextInputProps<T>, "rules" | "mono" | "maxLength"> {
  readonly least: number;
  readonly most: number;
  /** As it stands in the message about a wrong one. */
  readonly unit: string;
}

/** A number that may be left out, typed with a point or a comma. */
export function NumberInput<T extends FieldValues>({ least, most, unit, ...props }: NumberInputProps<T>) {
  return <TextInput {...props} mono rules={{ validate: (text) => numberProblem(text, least, most, unit) }} maxLength={10} />;
}
