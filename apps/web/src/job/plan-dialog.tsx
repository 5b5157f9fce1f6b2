import { useState } from "react";
import { useForm } from "react-hook-form";
import { Button } from "../ui/button.tsx";
import { Dialog } from "../ui/dialog.tsx";
import { FormStack, TextInput } from "../ui/form.tsx";
import { Row } from "../ui/layout.tsx";
import { PersonDialog } from "./person.tsx";
import { record, type EventBody } from "./record.ts";
import { useAppDispatch, useAppSelector } from "./store.ts";

type Plan = Extract<EventBody, { type: "planned" }>["data"];

export interface PlanDialogProps {
  readonly jobId: string;
  readonly plan: Plan;
  /** Names that a tap takes. */
  readonly people: readonly string[];
  readonly onClose: () => void;
}

/** What a job usually waits for. */
const WAITS = ["part", "cold engine", "test drive", "customer"] as const;
const DAY = /^\d{4}-\d\d-\d\d$/;

/** Whose job it is, what it waits for, and until when. */
export function PlanDialog({ jobId, plan, people, onClose }: PlanDialogProps) {
  const person = useAppSelector((s) => s.session.person);
  const dispatch = useAppDispatch();
  const { control, handleSubmit, setValue } = useForm<Plan>({ defaultValues: plan });
  const [unnamed, setUnnamed] = useState<Plan | undefined>(undefined);
  const store = (said: Plan): void => {
    dispatch(record(jobId, { type: "planned", data: said }));
    onClose();
  };
  const keep = ({ whose, waits, until }: Plan): void => {
    const said = { whose: whose.trim(), waits: waits.trim(), until: waits.trim() === "" ? "" : until };
    if (person === "") setUnnamed(said);
    else store(said);
  };
  const names = [...new Set([person, ...people].filter((p) => p !== ""))].slice(0, 6);
  return (
    <Dialog title="Whose job, and what it waits for" isOpen onClose={onClose}>
      <FormStack onSubmit={(e) => void handleSubmit(keep)(e)} noValidate>
        <TextInput control={control} name="whose" label="Whose job" maxLength={80} autoFocus />
        <Row>
          {names.map((name) => (
            <Button key={name} onPress={() => setValue("whose", name)}>
              {name}
            </Button>
          ))}
        </Row>
        <TextInput control={control} name="waits" label="Waits for" hint="Empty while it waits for nothing." maxLength={120} />
        <Row>
          {WAITS.map((what) => (
            <Button key={what} onPress={() => setValue("waits", what)}>
              {what}
            </Button>
          ))}
          <Button
            onPress={() => {
              setValue("waits", "");
              setValue("until", "");
            }}
          >
            nothing
          </Button>
        </Row>
        <TextInput
          control={control}
          name="until"
          label="Until"
          type="date"
          rules={{ validate: (day) => (day === "" || DAY.test(day) ? true : "A day, such as 2026-12-01.") }}
        />
        <Row style={{ justifyContent: "flex-end" }}>
          <Button onPress={onClose}>Cancel</Button>
          <Button look="solid" type="submit">
            Save
          </Button>
        </Row>
      </FormStack>
      <PersonDialog
        isOpen={unnamed !== undefined}
        onClose={() => setUnnamed(undefined)}
        onNamed={() => unnamed !== undefined && store(unnamed)}
      />
    </Dialog>
  );
}
