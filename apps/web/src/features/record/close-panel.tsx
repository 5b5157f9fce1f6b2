import { useState, type FormEvent } from "react";
import { closingBlockers, type EventOf } from "@rheonom/core/job";
import { useKeptForm } from "../../job/kept.ts";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";

type Closing = EventOf<"job-closed">["data"];

const NOTHING_SAID: Closing = { safeToDrive: "yes", advice: "", withoutProof: "" };

/** Ends the job when nothing is left undone and the mend is proven, or re-opens it. */
export function ClosePanel() {
  const { job, harness, record, showTray } = useJobContext();
  const [data, set] = useKeptForm<Closing>(`rheonom.closing.${job.id}`, NOTHING_SAID);
  const [why, setWhy] = useState("");
  const { view } = job;
  if (view.closed !== undefined) {
    const reopen = (event: FormEvent): void => {
      event.preventDefault();
      if (why.trim() !== "") record({ type: "job-reopened", data: { why: why.trim() } });
    };
    return (
      <Panel>
        <form onSubmit={reopen} style={{ display: "flex", gap: "var(--s3)", alignItems: "end", flexWrap: "wrap" }}>
          <Field label="Why is it opened again?" value={why} onChange={setWhy} maxLength={300} grow />
          <Button type="submit" isDisabled={why.trim() === ""}>
            Re-open the job
          </Button>
        </form>
      </Panel>
    );
  }
  const blockers = closingBlockers(view, harness, data);
  const wantsReason = data.withoutProof !== "" || blockers.some((b) => b.code === "proof");
  const close = (event: FormEvent): void => {
    event.preventDefault();
    if (blockers.length === 0) record({ type: "job-closed", data });
  };
  return (
    <Panel>
      <h2>Close the job</h2>
      {blockers.map((b, i) => (
        <Notice key={i} tone="caution" title={b.code === "tray" ? "Left undone" : "Not proven"}>
          {b.message}
        </Notice>
      ))}
      <form onSubmit={close} style={{ display: "grid", gap: "var(--s3)" }} noValidate>
        <Row style={{ alignItems: "end" }}>
          <Segmented
            label="Safe to drive?"
            value={data.safeToDrive}
            onChange={(safeToDrive) => set({ safeToDrive })}
            options={[
              { id: "yes", text: "yes" },
              { id: "with advice", text: "with advice" },
              { id: "no", text: "no" },
            ]}
          />
          <Field
            label="Advice, declined work, what remains"
            value={data.advice}
            onChange={(advice) => set({ advice })}
            maxLength={1000}
            grow
          />
        </Row>
        {wantsReason ? (
          <Field
            label="Why does it end without proof?"
            value={data.withoutProof}
            onChange={(withoutProof) => set({ withoutProof })}
            hint="Leave empty and repeat the failed test instead, whenever that is possible."
            maxLength={500}
          />
        ) : null}
        <Row>
          <Button look="solid" type="submit" isDisabled={blockers.length > 0}>
            Close the job
          </Button>
          {blockers.some((b) => b.code === "tray") ? <Button onPress={showTray}>Left undone …</Button> : null}
        </Row>
      </form>
    </Panel>
  );
}
