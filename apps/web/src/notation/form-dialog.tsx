import { useMemo, useState } from "react";
import { answerProblems, fillTemplate, TEMPLATES, type FilledForm, type Template } from "@rheonom/core/notation";
import { Button } from "../ui/button.tsx";
import { Dialog } from "../ui/dialog.tsx";
import { Field } from "../ui/field.tsx";
import { Select } from "../ui/select.tsx";
import { Columns, Faint, Row } from "../ui/layout.tsx";
import { Notice } from "../ui/notice.tsx";

export interface FormDialogProps {
  readonly isOpen: boolean;
  readonly onClose: () => void;
  /** The form that the present text came from. */
  readonly from: FilledForm | undefined;
  /** Something stands in the text that filling in the form would replace. */
  readonly replaces: boolean;
  readonly onText: (text: string) => void;
}

/** A circuit of every day from a short form with sensible defaults. */
export function FormDialog({ isOpen, onClose, from, replaces, onText }: FormDialogProps) {
  return (
    <Dialog title="A circuit from a form" isOpen={isOpen} onClose={onClose} wide>
      {isOpen ? <Form from={from} replaces={replaces} onClose={onClose} onText={onText} /> : null}
    </Dialog>
  );
}

function Form({ from, replaces, onClose, onText }: Omit<FormDialogProps, "isOpen">) {
  const [template, setTemplate] = useState<Template>(from?.template ?? TEMPLATES[0]!);
  const [answers, setAnswers] = useState<Readonly<Record<string, string>>>(from?.answers ?? {});
  const problems = useMemo(() => answerProblems(template, answers), [template, answers]);
  const wrong = (id: string): string | undefined => problems.find((p) => p.field === id)?.message;
  const make = (): void => {
    if (problems.length > 0) return;
    onText(fillTemplate(template, answers));
    onClose();
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        make();
      }}
      style={{ display: "flex", flexDirection: "column", gap: "var(--s4)" }}
    >
      <Select
        label="Kind of circuit"
        value={template.id}
        options={TEMPLATES.map((t) => ({ id: t.id, text: t.name }))}
        onChange={(id) => {
          setTemplate(TEMPLATES.find((t) => t.id === id)!);
          setAnswers((a) => ("name" in a ? { name: a.name! } : {}));
        }}
      />
      <Faint>{template.about}</Faint>
      <Columns style={{ gridTemplateColumns: "repeat(auto-fit, minmax(220px, 1fr))", gap: "var(--s3)" }}>
        {template.fields.map((f) => {
          const value = answers[f.id] ?? f.default;
          const set = (next: string): void => setAnswers((a) => ({ ...a, [f.id]: next }));
          if (f.kind === "choice") return <Select key={f.id} label={f.label} value={value} options={f.choices!} onChange={set} />;
          const label = f.unit === undefined ? f.label : `${f.label}, ${f.unit}`;
          return (
            <Field
              key={f.id}
              label={label}
              value={value}
              onChange={set}
              error={wrong(f.id)}
              {...(f.help === undefined ? {} : { hint: f.help })}
            />
          );
        })}
      </Columns>
      {from?.edited === true && from.template.id === template.id ? (
        <Notice tone="caution">
          The text was changed by hand since. Making it again from the form loses those changes; undo in the text brings them back.
        </Notice>
      ) : replaces && from === undefined ? (
        <Notice tone="caution">This replaces the text that stands there now; undo in the text brings it back.</Notice>
      ) : null}
      <Row style={{ justifyContent: "flex-end" }}>
        <Button onPress={onClose}>Leave it</Button>
        <Button look="solid" type="submit" isDisabled={problems.length > 0}>
          Make the circuit
        </Button>
      </Row>
    </form>
  );
}
