import { useState } from "react";
import { useFieldArray, useForm, Controller } from "react-hook-form";
import { format } from "date-fns";
import { ESTIMATE_ANSWERS, estimateAnswer, type EventOf } from "@rheonom/core/job";
import { decimalsOf, formatMoney, totalsOf, type RepairPlan } from "@rheonom/core/repair";
import { USUAL_SHOP, type ShopSettings } from "@rheonom/contract/shop";
import { useShopQuery } from "../../api/shop-api.ts";
import { useKeptForm } from "../../job/kept-form.ts";
import { EstimateTable } from "../../job/estimate-table.tsx";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { FormStack, TextInput } from "../../ui/form.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { Select } from "../../ui/select.tsx";
import { linesFor, readEstimate, type EstimateForm } from "./estimate-form.ts";
import { TimeWorked } from "./time-worked.tsx";
import { wanted } from "./wanted.ts";

const KINDS = ["labour", "part", "material", "other"] as const;
const LOCALE = navigator.language;

/** Where an estimate that is being made is kept on this device. */
const keptEstimate = (jobId: string): string => `rheonom.estimate.${jobId}`;

type Method = EventOf<"mend-made">["data"]["method"];
/** What it will cost, sent or shown before it is done, and the customer's word on it. */
export function EstimatePanel({ at, method, plan }: { at: string; method: Method; plan: RepairPlan | undefined }) {
  const { job } = useJobContext();
  const { estimate, closed } = job.view;
  const [isOpen, setOpen] = useState(() => closed === undefined && localStorage.getItem(keptEstimate(job.id)) !== null);
  const { data, isError } = useShopQuery(undefined);
  // Without the server the usual settings stand in: everything in the form can be changed.
  const shop = data ?? (isError ? USUAL_SHOP : undefined);
  return (
    <Panel aria-label="Estimate">
      <Row style={{ justifyContent: "space-between" }}>
        <h2>Estimate and the customer’s word</h2>
        {closed === undefined && !isOpen ? (
          <Button onPress={() => setOpen(true)}>{estimate === undefined ? "Make an estimate" : "New estimate"}</Button>
        ) : null}
      </Row>
      {estimate === undefined ? null : <Made />}
      {isOpen && shop !== undefined ? <Make at={at} method={method} plan={plan} shop={shop} onDone={() => setOpen(false)} /> : null}
      <TimeWorked />
    </Panel>
  );
}

function Made() {
  const { job, record } = useJobContext();
  const { estimate, closed } = job.view;
  if (estimate === undefined) return null;
  const { data, answer } = estimate;
  return (
    <>
      <EstimateTable estimate={data} />
      {answer !== undefined ? (
        <p>{estimateAnswer({ answer: { at: answer.at, ...answer.data } }, (at) => format(new Date(at), "d MMM HH:mm"))}</p>
      ) : closed === undefined ? (
        <Answer onAnswer={(d) => record({ type: "estimate-answered", data: d })} />
      ) : null}
    </>
  );
}

type AnswerData = EventOf<"estimate-answered">["data"];
function Answer({ onAnswer }: { onAnswer: (data: AnswerData) => void }) {
  const { control, handleSubmit, watch } = useForm<AnswerData>({ defaultValues: { answer: "accepted", who: "", how: "", note: "" } });
  const isWhole = watch("answer") === "accepted";
  return (
    <FormStack onSubmit={(e) => void handleSubmit(onAnswer)(e)} noValidate>
      <Controller
        control={control}
        name="answer"
        render={({ field }) => (
          <Segmented
            label="Customer"
            value={field.value}
            onChange={field.onChange}
            options={ESTIMATE_ANSWERS.map((id) => ({ id, text: id }))}
          />
        )}
      />
      <Row style={{ alignItems: "end" }}>
        <TextInput control={control} name="who" label="Who said so" grow rules={wanted("Say who accepted or declined.")} maxLength={80} />
        <TextInput control={control} name="how" label="How" grow placeholder="by phone" maxLength={80} />
        {isWhole ? null : <TextInput control={control} name="note" label="What of it" grow maxLength={500} />}
        <Button type="submit">Save answer</Button>
      </Row>
    </FormStack>
  );
}

interface MakeProps {
  readonly at: string;
  readonly method: Method;
  readonly plan: RepairPlan | undefined;
  readonly shop: ShopSettings;
  readonly onDone: () => void;
}

function Make({ at, method, plan, shop, onDone }: MakeProps) {
  const { job, record } = useJobContext();
  const [wrong, setWrong] = useState("");
  const decimals = decimalsOf(shop.currency) ?? 2;
  const head = {
    currency: shop.currency,
    tax: String(shop.taxPercent),
    rate: shop.hourlyRate === 0 ? "" : (shop.hourlyRate / 10 ** decimals).toFixed(decimals),
  };
  // Half of it survives a reload.
  const { control, handleSubmit, watch, clear } = useKeptForm<{ currency: string; tax: string; lines: EstimateForm["lines"][number][] }>(
    keptEstimate(job.id),
    { currency: head.currency, tax: head.tax, lines: [...linesFor(at, method, plan, head.rate)] },
  );
  const { fields, append, remove } = useFieldArray({ control, name: "lines" });
  const read = readEstimate(watch());
  const keep = (form: EstimateForm): void => {
    const asked = readEstimate(form);
    if (asked.kind === "bad") return setWrong(asked.message);
    record({ type: "estimate-made", data: asked.data });
    end();
  };
  const end = (): void => {
    clear();
    onDone();
  };
  return (
    <FormStack onSubmit={(e) => void handleSubmit(keep)(e)} noValidate>
      <Row style={{ alignItems: "end" }}>
        <TextInput control={control} name="currency" label="Currency" mono maxLength={3} />
        <TextInput control={control} name="tax" label="Tax, %" mono maxLength={6} />
      </Row>
      {fields.map((f, i) => (
        <Row key={f.id} style={{ alignItems: "end" }} role="group" aria-label={`Line ${i + 1}`}>
          <Controller
            control={control}
            name={`lines.${i}.kind`}
            render={({ field }) => (
              <Select
                label={`Line ${i + 1}`}
                value={field.value}
                onChange={field.onChange}
                options={KINDS.map((id) => ({ id, text: id }))}
              />
            )}
          />
          <TextInput control={control} name={`lines.${i}.text`} label="Text" grow maxLength={200} />
          <TextInput control={control} name={`lines.${i}.quantity`} label="Hours or pieces" mono maxLength={10} />
          <TextInput control={control} name={`lines.${i}.price`} label="Price of one" mono maxLength={14} />
          <Button look="quiet" onPress={() => remove(i)} aria-label={`Take line ${i + 1} out`}>
            Take out
          </Button>
        </Row>
      ))}
      {wrong === "" ? null : (
        <Notice tone="danger" title="Not saved">
          {wrong}
        </Notice>
      )}
      <Row>
        <Button onPress={() => append({ kind: "part", text: "", quantity: "1", price: "" })}>Add a line</Button>
        <Button look="solid" type="submit">
          Save estimate
        </Button>
        <Button onPress={end}>Cancel</Button>
        <Faint>{read.kind === "ok" ? `Total ${formatMoney(totalsOf(read.data).gross, read.data.currency, LOCALE)}` : read.message}</Faint>
      </Row>
    </FormStack>
  );
}
