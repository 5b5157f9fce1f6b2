import { useMemo, useState } from "react";
import { useForm } from "react-hook-form";
import { diffHarness, type Harness } from "@rheonom/core/harness";
import { useSaveHarnessMutation } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { PersonDialog } from "../../job/person.tsx";
import { useAppSelector } from "../../job/store.ts";
import { DifferenceList } from "../../notation/difference-list.tsx";
import { Button } from "../../ui/button.tsx";
import { TextInput } from "../../ui/form.tsx";
import { Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";

export interface SaveVersionProps {
  readonly id: string;
  /** What stands now; undefined for a new vehicle. */
  readonly before: Harness | undefined;
  readonly basedOn: number;
  readonly after: Harness;
  readonly onSaved: (version: number) => void;
}

/** Shows what a save would change, and saves it as a new version. */
export function SaveVersion({ id, before, basedOn, after, onSaved }: SaveVersionProps) {
  const [save, saving] = useSaveHarnessMutation();
  const { control, getValues, handleSubmit } = useForm({ defaultValues: { note: "" } });
  const [naming, setNaming] = useState(false);
  const person = useAppSelector((s) => s.session.person);
  const differences = useMemo(() => (before === undefined ? undefined : diffHarness(before, after)), [before, after]);
  const send = async (by: string): Promise<void> => {
    const answer = await save({ id, harness: after, basedOn, by, note: getValues("note").trim() });
    if ("data" in answer && answer.data !== undefined) onSaved(answer.data.version);
  };
  const press = (): void => {
    if (person === "") setNaming(true);
    else void send(person);
  };
  return (
    <Panel style={{ padding: "var(--s3)" }} aria-label="Save">
      <h2>{before === undefined ? "A new vehicle" : "What this changes"}</h2>
      {differences === undefined ? (
        <p style={{ margin: 0 }}>
          {after.name}: {after.wires.length} wires, {after.components.length} parts.
        </p>
      ) : (
        <DifferenceList differences={differences} />
      )}
      {saving.error === undefined ? null : (
        <Notice tone="danger" role="alert">
          {failureOf(saving.error).message}
        </Notice>
      )}
      <form onSubmit={(e) => void handleSubmit(press)(e)} noValidate>
        <Row style={{ alignItems: "end" }}>
          <TextInput control={control} name="note" label="Why" placeholder="found on the vehicle, sheet 4" grow maxLength={300} />
          <Button look="solid" type="submit" isDisabled={saving.isLoading || differences?.length === 0}>
            {before === undefined ? "Keep this vehicle" : `Save as version ${basedOn + 1}`}
          </Button>
        </Row>
      </form>
      <PersonDialog isOpen={naming} onClose={() => setNaming(false)} onNamed={(name) => void send(name)} />
    </Panel>
  );
}
