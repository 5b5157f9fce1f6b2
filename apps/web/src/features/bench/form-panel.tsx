import { useState } from "react";
import type { CsvForm } from "@rheonom/core/waveform";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Row } from "../../ui/layout.tsx";
import { Select } from "../../ui/select.tsx";

const SEPARATORS = [
  { id: ",", text: "comma" },
  { id: ";", text: "semicolon" },
  { id: "\t", text: "tab" },
  { id: " ", text: "blank" },
] as const;
const DECIMALS = [
  { id: ".", text: "point" },
  { id: ",", text: "comma" },
] as const;
const TIME_UNITS = [
  { id: "1", text: "s" },
  { id: "0.001", text: "ms" },
  { id: "0.000001", text: "µs" },
  { id: "1e-9", text: "ns" },
] as const;

/** How the file was understood; what is wrong is said otherwise, and it is read again. */
export function FormPanel({ form, onForm }: { form: CsvForm; onForm: (how: Partial<CsvForm>) => void }) {
  const [rate, setRate] = useState(form.rateHz === undefined ? "" : String(form.rateHz));
  const typed = rate.trim() === "" ? NaN : Number(rate.replace(",", "."));
  const time = form.timeColumn === undefined ? "none" : String(form.timeColumn);
  return (
    <details open={form.timeColumn === undefined && form.rateHz === undefined}>
      <summary>
        Read as a table:{" "}
        {form.columns.length === 1
          ? "1 column"
          : `${form.columns.length} columns, separated by ${SEPARATORS.find((s) => s.id === form.separator)!.text}`}
        , decimal {DECIMALS.find((d) => d.id === form.decimal)!.text},{" "}
        {form.timeColumn === undefined ? "no column of time" : `time in “${form.columns[form.timeColumn]?.name}”`}
      </summary>
      <Row style={{ alignItems: "end" }}>
        <Select label="Separated by" options={SEPARATORS} value={form.separator} onChange={(separator) => onForm({ separator })} />
        <Select label="Decimal" options={DECIMALS} value={form.decimal} onChange={(decimal) => onForm({ decimal })} />
        <Select
          label="Time"
          options={[{ id: "none", text: "no column" }, ...form.columns.map((c, i) => ({ id: String(i), text: c.name }))]}
          value={time}
          onChange={(id) => onForm({ timeColumn: id === "none" ? undefined : Number(id) })}
        />
        {form.timeColumn === undefined ? (
          <Row style={{ alignItems: "end" }}>
            <Field label="Samples a second" value={rate} onChange={setRate} mono maxLength={16} />
            <Button isDisabled={!(typed > 0)} onPress={() => onForm({ rateHz: typed })}>
              Read again
            </Button>
          </Row>
        ) : (
          <Select
            label="Unit of time"
            options={TIME_UNITS}
            value={TIME_UNITS.find((u) => Number(u.id) === form.timeUnitS)?.id}
            onChange={(id) => onForm({ timeUnitS: Number(id) })}
          />
        )}
      </Row>
    </details>
  );
}
