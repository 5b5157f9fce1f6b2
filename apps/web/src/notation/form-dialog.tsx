import { useState } from "react";
import { Controller, useForm } from "react-hook-form";
import { answerProblems, fillTemplate, TEMPLATES, type FilledForm, type Template } from "@rheonom/core/notation";
import { Button } from "../ui/button.tsx";
import { Dialog } from "../ui/dialog.tsx";
import { FormStack, TextInput } from "../ui/form.tsx";
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

type Answers = Record<string, string>;

/** An answer for every field of a template: what was said before, else its default. */
const answersFor = (template: Template, said: Readonly<Answers>): Answers =>
  Object.fromEntries(template.fields.map((f) => [f.id, said[f.id] ?? f.default]));

function Form({ from, replaces, onClose, onText }: Omit<FormDialogProps, "isOpen">) {
  const [template, setTemplate] = useState<Template>(from?.template ?? TEMPLATES[0]!);
  const { control, handleSubmit, reset, watch } = useForm<Answers>({ defaultValues: answersFor(template, from?.answers ?? {}) });
  const answers = watch();
  const problems = answerProblems(template, answers);
  const make = (said: Answers): void => {
    if (answerProblems(template, said).length > 0) return;
    onText(fillTemplate(template, said));
    onClose();
  };
  return (
    <FormStack onSubmit={(e) => void handleSubmit(make)(e)}>
      <Select
        label="Kind of circuit"
        value={template.id}
        options={TEMPLATES.map((t) => ({ id: t.id, text: t.name }))}
        onChange={(id) => {
          const next = TEMPLATES.find((t) => t.id === id)!;
          setTemplate(next);
          reset(answersFor(next, "name" in answers ? { name: answers.name! } : {}));
        }}
      />
      <Faint>{template.about}</Faint>
      <Columns style={{ gridTemplateColumns: "repeat(auto-fit, minmax(220px, 1fr))", gap: "var(--s3)" }}>
        {template.fields.map((f) =>
          f.kind === "choice" ? (
            <Controller
              key={f.id}
              control={control}
              name={f.id}
              render={({ field }) => <Select label={f.label} value={field.value} options={f.choices!} onChange={field.onChange} />}
            />
          ) : (
            <TextInput
              key={f.id}
              control={control}
              name={f.id}
              label={f.unit === undefined ? f.label : `${f.label}, ${f.unit}`}
              error={problems.find((p) => p.field === f.id)?.message}
              {...(f.help === undefined ? {} : { hint: f.help })}
            />
          ),
        )}
      </Columns>
      {from?.edited === true && from.template.id === template.id ? (
        <Notice tone="caution">
          The text was changed by hand since. Making it again from the form loses those changes; undo in the text brings them back.
        </Notice>
      ) : replaces && from === undefined ? (
        <Notice tone="caution">This replaces the text that stands there now; undo in the text brings it back.</Notice>
      ) : null}
      <Row style={{ justifyContent: "flex-end" }}>
        <Button onPress={onClose}>Cancel</Button>
        <Button look="solid" type="submit" isDisabled={problems.length > 0}>
          Make the circuit
        </Button>
      </Row>
    </FormStack>
  );
}
