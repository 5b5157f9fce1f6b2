import { Controller, type Control } from "react-hook-form";
import { REPRODUCED, RISKS, WARNING_LAMPS, type ComplaintData, type WarningLamp } from "@rheonom/core/job";
import { Toggle } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Columns, Faint, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";

const choices = <T extends string>(list: readonly T[]): { id: T; text: string }[] => list.map((id) => ({ id, text: id }));

/** Warning lamps, whether the trouble was seen here, and whether the vehicle may be driven: each with what it does to the search. */
export function StateOfThings({ control }: { control: Control<ComplaintData> }) {
  return (
    <>
      <Controller control={control} name="warningLamps" render={({ field }) => <Lamps value={field.value} onChange={field.onChange} />} />
      <Row>
        <Controller
          control={control}
          name="reproduced"
          render={({ field }) => (
            <>
              <Segmented label="Reproduced here" options={choices(REPRODUCED)} value={field.value} onChange={field.onChange} />
              <Faint>
                {field.value === "no"
                  ? "Treated as intermittent: readings with the fault absent count less."
                  : field.value === "yes"
                    ? "Readings count in full while it is there."
                    : "Reproduce the fault before measuring."}
              </Faint>
            </>
          )}
        />
      </Row>
      <Columns>
        <Controller
          control={control}
          name="reproducedHow"
          render={({ field }) => (
            <Field label="How it was reproduced" value={field.value} onChange={field.onChange} onBlur={field.onBlur} inputRef={field.ref} />
          )}
        />
        <Controller
          control={control}
          name="triedBy"
          render={({ field }) => (
            <Field label="Earlier work done by" value={field.value} onChange={field.onChange} onBlur={field.onBlur} inputRef={field.ref} />
          )}
        />
      </Columns>
      <Controller
        control={control}
        name="risk"
        render={({ field }) => (
          <>
            <Row>
              <Segmented label="Is it safe to drive?" options={choices(RISKS)} value={field.value} onChange={field.onChange} />
            </Row>
            {field.value === "not safe to drive" ? (
              <Notice tone="danger">Advise the customer not to drive, offer recovery, and write down why. It goes into the report.</Notice>
            ) : null}
          </>
        )}
      />
      <Controller
        control={control}
        name="riskWhy"
        render={({ field }) => (
          <Field
            label="Why"
            hint="Loss of drive, brakes, steering or light while driving; a wire that burns"
            value={field.value}
            onChange={field.onChange}
            onBlur={field.onBlur}
            inputRef={field.ref}
          />
        )}
      />
    </>
  );
}

function Lamps({ value, onChange }: { value: readonly WarningLamp[]; onChange: (value: readonly WarningLamp[]) => void }) {
  return (
    <>
      <Row role="group" aria-label="Warning lamps on">
        <strong>Warning lamps on</strong>
        {WARNING_LAMPS.map((lamp) => (
          <Toggle
            key={lamp}
            isSelected={value.includes(lamp)}
            onChange={(on) => onChange(on ? [...value, lamp] : value.filter((x) => x !== lamp))}
          >
            {lamp}
          </Toggle>
        ))}
      </Row>
      <Faint>
        {value.length === 0
          ? "A lamp that is on has a code behind it, or a wire of its own."
          : [
              value.includes("charge") ? "The charging circuit is searched with the rest." : "",
              value.some((l) => l !== "charge") ? "Scan all modules: the codes say more than the lamp." : "",
              value.includes("airbag") ? "No lamp, ohmmeter or powered probe on those circuits." : "",
            ]
              .filter(Boolean)
              .join(" ")}
      </Faint>
    </>
  );
}
