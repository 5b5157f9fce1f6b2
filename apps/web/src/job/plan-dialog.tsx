import { useState } from "react";
import { useForm } from "react-hook-form";
import { Button } from "../ui/button.tsx";
import { Dialog } from "../ui/dialog.tsx";
import { FormStack, TextInput } from "../ui/form.tsx";
import { Row } from "../ui/layout.tsx";
import type { JobSummary } from "@rheonom/contract/light";
import { NumberInput } from "./number-input.tsx";
import { typedNumber } from "./typed-number.ts";
import { PersonDialog } from "./person.tsx";
import { record, type EventBody } from "./record.ts";
import { useAppDispatch, useAppSelector } from "./store.ts";

export type Plan = Extract<EventBody, { type: "planned" }>["data"];

export interface PlanDialogProps {
  readonly jobId: string;
  readonly plan: Plan;
  /** Names that a tap takes. */
  readonly people: readonly string[];
  readonly onClose: () => void;
}

/** A plan as its form holds it. */
interface PlanForm {
  readonly whose: string;
  readonly waits: string;
  readonly until: string;
  readonly promised: string;
  readonly hours: string;
}

/** What the board knows of a job's plan. */
export const planOfSummary = ({ whose, waits, until, promised, hours }: JobSummary): Plan => ({
  whose,
  waits,
  until,
  ...(promised === "" ? {} : { promised }),
  ...(hours === null ? {} : { hours }),
});

/** What a job usually waits for. */
const WAITS = ["part", "cold engine", "test drive", "customer"] as const;
const DAY = /^\d{4}-\d\d-\d\d$/;
const MINUTE = /^\d{4}-\d\d-\d\dT\d\d:\d\d$/;
const ofDay = (text: string): string | true => (text === "" || DAY.test(text) || MINUTE.test(text) ? true : "A day, such as 2026-12-01.");
/** A day from what may be a minute of it, and the other way about. */
const dayOf = (when: string): string => when.slice(0, 10);
const timeOf = (when: string): string => when.slice(11, 16);

/** Whose job it is, what it waits for, and until when. */
export function PlanDialog({ jobId, plan, people, onClose }: PlanDialogProps) {
  const person = useAppSelector((s) => s.session.person);
  const dispatch = useAppDispatch();
  const { control, handleSubmit, setValue } = useForm<PlanForm & { time: string }>({
    defaultValues: {
      whose: plan.whose,
      waits: plan.waits,
      until: dayOf(plan.until),
      time: timeOf(plan.until),
      promised: plan.promised ?? "",
      hours: plan.hours === undefined ? "" : String(plan.hours),
    },
  });
  const [unnamed, setUnnamed] = useState<Plan | undefined>(undefined);
  const store = (said: Plan): void => {
    dispatch(record(jobId, { type: "planned", data: said }));
    onClose();
  };
  const keep = ({ whose, waits, until, time, promised, hours }: PlanForm & { time: string }): void => {
    const typed = typedNumber(hours);
    const said: Plan = {
      whose: whose.trim(),
      waits: waits.trim(),
      until: waits.trim() === "" ? "" : until !== "" && time !== "" ? `${until}T${time}` : until,
      ...(promised === "" ? {} : { promised }),
      ...(typed === undefined ? {} : { hours: typed }),
    };
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
        <Row style={{ alignItems: "end" }}>
          <TextInput control={control} name="until" label="Until" type="date" grow rules={{ validate: ofDay }} />
          <TextInput control={control} name="time" label="At" type="time" grow />
        </Row>
        <Row style={{ alignItems: "start" }}>
          <TextInput control={control} name="promised" label="Promised for" type="datetime-local" grow rules={{ validate: ofDay }} />
          <NumberInput control={control} name="hours" label="Hours of work in all" least={0} most={1000} unit="h" grow />
        </Row>
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

/** The same for a job of the board. */
export function PlanOfJob({ job, people, onClose }: { job: JobSummary; people: readonly string[]; onClose: () => void }) {
  return <PlanDialog jobId={job.id} plan={planOfSummary(job)} people={people} onClose={onClose} />;
}
