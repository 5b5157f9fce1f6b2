import { useState } from "react";
import { Controller, useForm } from "react-hook-form";
import { format } from "date-fns";
import { FINDING_OUTCOMES, type EventOf } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { FormStack, TextInput } from "../../ui/form.tsx";
import { Columns, Faint, Panel, Row } from "../../ui/layout.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { wanted } from "./wanted.ts";

type Data = EventOf<"finding-kept">["data"];
const EMPTY: Data = { at: "", found: "", outcome: "advised", risk: "", why: "" };

/** Found and not repaired now: advised, or declined by the customer, with what may come of it. */
export function FindingsPanel() {
  const { job, record } = useJobContext();
  const { control, handleSubmit, reset } = useForm<Data>({ defaultValues: EMPTY });
  const made = job.view.findings.filter((f) => f.struck === undefined);
  const isClosed = job.view.closed !== undefined;
  const [isOpen, setOpen] = useState(false);
  return (
    <Panel aria-label="Findings without a repair">
      <h2>Found, not repaired now</h2>
      {made.map((f) => (
        <Row key={f.id} style={{ justifyContent: "space-between", flexWrap: "nowrap" }}>
          <span>
            <strong>{f.data.at}</strong>, {f.data.outcome}: {f.data.found}
            {f.data.risk === "" ? "" : ` Risk: ${f.data.risk}`}{" "}
            <Faint>
              {f.by}, {format(new Date(f.at), "d MMM HH:mm")}
            </Faint>
          </span>
          {isClosed ? null : (
            <Button look="quiet" onPress={() => record({ type: "struck", data: { target: f.id, why: "recorded in error" } })}>
              Strike
            </Button>
          )}
        </Row>
      ))}
      {isClosed ? null : !isOpen ? (
        <Row>
          <Button onPress={() => setOpen(true)}>Add a finding</Button>
        </Row>
      ) : (
        <FormStack
          onSubmit={(e) =>
            void handleSubmit((data) => {
              record({ type: "finding-kept", data });
              reset(EMPTY);
              setOpen(false);
            })(e)
          }
          noValidate
        >
          <Columns>
            <TextInput
              control={control}
              name="at"
              label="Place found"
              mono
              rules={wanted("Name the place, such as G7 or tyre, left front.")}
              maxLength={80}
            />
            <TextInput control={control} name="found" label="What was found" rules={wanted("Say what you found there.")} maxLength={1000} />
          </Columns>
          <Columns>
            <TextInput control={control} name="risk" label="What may come of it" maxLength={500} />
            <TextInput control={control} name="why" label="Why not now" maxLength={300} />
          </Columns>
          <Row>
            <Controller
              control={control}
              name="outcome"
              render={({ field }) => (
                <Segmented
                  label="Customer"
                  value={field.value}
                  onChange={field.onChange}
                  options={FINDING_OUTCOMES.map((id) => ({ id, text: id }))}
                />
              )}
            />
            <Button type="submit">Keep finding</Button>
          </Row>
        </FormStack>
      )}
    </Panel>
  );
}
