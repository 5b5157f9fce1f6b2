import { Controller } from "react-hook-form";
import { closingBlockers, type ClosingBlocker, type EventOf } from "@rheonom/core/job";
import { useJobContext } from "./job-context.ts";
import { useKeptForm } from "./kept-form.ts";
import { Button } from "../ui/button.tsx";
import { FormStack, OneLineForm, TextInput } from "../ui/form.tsx";
import { Faint, Panel, Row } from "../ui/layout.tsx";
import { Notice } from "../ui/notice.tsx";
import { Segmented } from "../ui/segmented.tsx";

type Closing = EventOf<"job-closed">["data"];

/** Whether the vehicle is safe to drive is asked, never presumed. */
type Draft = Omit<Closing, "safeToDrive"> & { safeToDrive: Closing["safeToDrive"] | "" };

const NOTHING_SAID: Draft = { safeToDrive: "", advice: "", withoutProof: "" };

/** Ends the job when everything is put back and the mend is proven, or re-opens it. */
export function ClosePanel() {
  return useJobContext().job.view.closed === undefined ? <Close /> : <Reopen />;
}

function Reopen() {
  const { record } = useJobContext();
  return (
    <Panel>
      <OneLineForm
        label="Why is it opened again?"
        words="Re-open the job"
        onSubmit={(why) => {
          record({ type: "job-reopened", data: { why } });
          return undefined;
        }}
        maxLength={300}
        grow
      />
    </Panel>
  );
}

const TITLE: Readonly<Record<ClosingBlocker["code"], string>> = {
  tray: "Temporary changes",
  neighbours: "Neighbours at risk",
  proof: "Not verified",
  closed: "Closed",
  opened: "Not open",
};

function Close() {
  const { job, harness, record, showTray } = useJobContext();
  const { control, handleSubmit, watch } = useKeptForm<Draft>(`rheonom.closing.${job.id}`, NOTHING_SAID);
  const data = watch();
  const blockers = closingBlockers(job.view, harness, { ...data, safeToDrive: data.safeToDrive === "" ? "no" : data.safeToDrive });
  const wantsReason = data.withoutProof !== "" || blockers.some((b) => b.code === "proof");
  const close = ({ safeToDrive, ...said }: Draft): void => {
    if (blockers.length === 0 && safeToDrive !== "") record({ type: "job-closed", data: { ...said, safeToDrive } });
  };
  return (
    <Panel>
      <h2>Close the job</h2>
      {blockers.map((b, i) => (
        <Notice key={i} tone="caution" title={TITLE[b.code]}>
          {b.message}
        </Notice>
      ))}
      <FormStack onSubmit={(e) => void handleSubmit(close)(e)} noValidate>
        <Row style={{ alignItems: "end" }}>
          <Controller
            control={control}
            name="safeToDrive"
            render={({ field }) => (
              <Segmented<Draft["safeToDrive"]>
                label="Safe to drive?"
                value={field.value}
                onChange={field.onChange}
                options={[
                  { id: "yes", text: "yes" },
                  { id: "with advice", text: "with advice" },
                  { id: "no", text: "no" },
                ]}
              />
            )}
          />
          <TextInput control={control} name="advice" label="Advice, declined work, what remains" maxLength={1000} grow />
        </Row>
        {wantsReason ? (
          <TextInput
            control={control}
            name="withoutProof"
            label="Why close unverified?"
            hint="Leave empty and repeat the failed test instead, whenever that is possible."
            maxLength={500}
          />
        ) : null}
        <Row>
          <Button look="solid" type="submit" isDisabled={blockers.length > 0 || data.safeToDrive === ""}>
            Close the job
          </Button>
          {data.safeToDrive === "" ? <Faint>First say whether it is safe to drive.</Faint> : null}
          {blockers.some((b) => b.code === "tray") ? <Button onPress={showTray}>Temporary changes …</Button> : null}
        </Row>
      </FormStack>
    </Panel>
  );
}
