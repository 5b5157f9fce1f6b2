import { useEffect, type ReactNode } from "react";
import { zodResolver } from "@hookform/resolvers/zod";
import { Controller, useForm, type Control } from "react-hook-form";
import { Checkbox } from "react-aria-components";
import { Square, SquareCheck } from "lucide-react";
import { styled } from "styled-components";
import { z } from "zod";
import { complaintData, EMPTY_COMPLAINT, readVin, type ComplaintData } from "@rheonom/core/job";
import { Button } from "../../ui/button.tsx";
import { Combo } from "../../ui/combo.tsx";
import { Field } from "../../ui/field.tsx";
import { Columns, Row } from "../../ui/layout.tsx";
import { Circumstances } from "./circumstances.tsx";
import { StateOfThings } from "./state-of-things.tsx";

const form = complaintData.required().extend({
  vehicle: z
    .string()
    .trim()
    .min(1, "Which vehicle is it? Make, model and engine, as you would say it.")
    .max(120, "At most 120 characters."),
  words: z.string().trim().min(1, "Write what the customer said, in their words.").max(2000, "At most 2,000 characters."),
});

const Check = styled(Checkbox)`
  display: flex;
  align-items: center;
  gap: var(--s2);
  min-height: var(--target);
  cursor: pointer;
`;
const More = styled.summary`
  min-height: var(--target);
  padding-top: 10px;
  cursor: pointer;
  font-weight: 640;
`;
const Top = styled.div`
  display: grid;
  grid-template-columns: minmax(min(100%, 300px), 2fr) repeat(auto-fit, minmax(150px, 1fr));
  gap: var(--s4);
`;
const Folded = styled.div`
  display: grid;
  gap: var(--s4);
`;
const Form = styled.form`
  display: grid;
  gap: var(--s4);
`;

interface TextProps {
  readonly control: Control<ComplaintData>;
  readonly name: "registration" | "mileage" | "words" | "conditions" | "triedBefore" | "vin";
  readonly label: string;
  readonly hint?: string;
  readonly lines?: number;
  readonly first?: boolean;
}

function Text({ control, name, label, hint, lines, first = false }: TextProps) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState }) => (
        <Field
          label={label}
          {...(hint === undefined ? {} : { hint })}
          {...(lines === undefined ? {} : { lines })}
          value={field.value}
          onChange={field.onChange}
          onBlur={field.onBlur}
          error={fieldState.error?.message}
          autoFocus={first}
          inputRef={field.ref}
        />
      )}
    />
  );
}

/** Looked over as it is typed; an odd one is warned of and taken. */
function Vin({ control }: { control: Control<ComplaintData> }) {
  return (
    <Controller
      control={control}
      name="vin"
      render={({ field }) => {
        const read = readVin(field.value);
        const hint = read.kind === "odd" ? read.words : read.checked ? "The check digit is right." : "If at hand";
        return (
          <Field label="VIN" hint={hint} value={field.value} onChange={field.onChange} onBlur={field.onBlur} inputRef={field.ref} mono />
        );
      }}
    />
  );
}

export interface ComplaintFormProps {
  readonly initial?: ComplaintData;
  readonly submitWords: string;
  readonly onSubmit: (data: ComplaintData) => void;
  readonly onChange?: (data: ComplaintData) => void;
  readonly busy?: boolean;
  /** Vehicles to choose from by typing; free words are taken as well. */
  readonly vehicles?: readonly { readonly id: string; readonly text: string }[];
  /** The vehicle that was chosen; undefined once other words stand there. What is known of it is filled in. */
  readonly onVehicle?: (id: string | undefined) => Partial<ComplaintData> | undefined;
  /** What belongs to the vehicle: its options. */
  readonly children?: ReactNode;
  /** What is only asked where it changes something is folded away. */
  readonly isShort?: boolean;
}

const NO_VEHICLES: NonNullable<ComplaintFormProps["vehicles"]> = [];

/** The interview. Only the vehicle and the customer's words are needed. */
export function ComplaintForm({
  initial = EMPTY_COMPLAINT,
  submitWords,
  onSubmit,
  onChange,
  busy = false,
  vehicles = NO_VEHICLES,
  onVehicle,
  children,
  isShort = false,
}: ComplaintFormProps) {
  const { control, handleSubmit, setFocus, setValue, subscribe } = useForm<ComplaintData>({
    resolver: zodResolver(form),
    defaultValues: initial,
    mode: "onTouched",
  });
  // The form's own subscription: every keystroke reaches the draft without another render.
  useEffect(() => {
    if (onChange === undefined) return;
    return subscribe({ formState: { values: true }, callback: ({ values }) => onChange(values) });
  }, [subscribe, onChange]);
  const submit = (
    <Row>
      <Button look="solid" type="submit" isDisabled={busy}>
        {submitWords}
      </Button>
    </Row>
  );
  return (
    <Form onSubmit={(e) => void handleSubmit(onSubmit)(e)} noValidate>
      <Top>
        <Controller
          control={control}
          name="vehicle"
          render={({ field, fieldState }) => (
            <Combo
              label="Vehicle"
              none="No vehicle of the shop; the words are taken as they are."
              hint={
                vehicles.length === 0
                  ? "Make, model, engine, year"
                  : "Type a name of the shop’s vehicles, or a plate or VIN that was here before; or write make, model and engine"
              }
              options={vehicles}
              text={field.value}
              onText={(text) => {
                field.onChange(text);
                if (!vehicles.some((v) => v.text === text)) onVehicle?.(undefined);
              }}
              onChoose={(id) => {
                field.onChange(vehicles.find((v) => v.id === id)?.text ?? id);
                const known = Object.entries(onVehicle?.(id) ?? {});
                for (const [name, value] of known) setValue(name as keyof ComplaintData, value, { shouldDirty: true });
                // Nothing else of it has to be typed.
                if (known.length > 0) requestAnimationFrame(() => setFocus("words"));
              }}
              error={fieldState.error?.message}
              autoFocus={initial.vehicle === ""}
              onBlur={field.onBlur}
            />
          )}
        />
        <Text control={control} name="registration" label="Plate or fleet number" />
        <Text control={control} name="mileage" label="Mileage or hours" />
        <Vin control={control} />
      </Top>
      {children}
      <Text control={control} name="words" label="In the customer’s words" lines={isShort ? 2 : 3} />
      {isShort ? submit : null}
      <details open={!isShort}>
        <More>Conditions, earlier work, warning lamps, safety</More>
        <Folded>
          <Columns>
            <Text
              control={control}
              name="conditions"
              label="When does it happen?"
              hint="Weather, hot or cold, bumps, steering, in gear, what was on, after what work"
              lines={3}
            />
            <Text
              control={control}
              name="triedBefore"
              label="What was tried before?"
              hint="Parts fitted, fuses changed, wires added, by whom"
              lines={3}
            />
          </Columns>
          <Controller
            control={control}
            name="circumstances"
            render={({ field }) => <Circumstances value={field.value} onChange={field.onChange} />}
          />
          <StateOfThings control={control} />
          <Controller
            control={control}
            name="highVoltage"
            render={({ field }) => (
              <Check isSelected={field.value} onChange={field.onChange} onBlur={field.onBlur}>
                {field.value ? <SquareCheck size={26} aria-hidden /> : <Square size={26} aria-hidden />}
                Hybrid or electric: part of this vehicle is high voltage
              </Check>
            )}
          />
        </Folded>
      </details>
      {isShort ? null : submit}
    </Form>
  );
}
