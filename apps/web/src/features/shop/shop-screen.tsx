import { useState } from "react";
import { useForm } from "react-hook-form";
import type { ShopSettings } from "@rheonom/contract/shop";
import { decimalsOf, formatMoney, readMoney } from "@rheonom/core/repair";
import { useKeepShopMutation, useOldCustomersQuery, useRemoveCustomersMutation, useShopQuery } from "../../api/shop-api.ts";
import { failureOf } from "../../api/failure.ts";
import { NumberInput } from "../../job/number-input.tsx";
import { PersonDialog } from "../../job/person.tsx";
import { useAppSelector } from "../../job/store.ts";
import { typedNumber } from "../../job/typed-number.ts";
import { Button } from "../../ui/button.tsx";
import { Check } from "../../ui/check.tsx";
import { Dialog } from "../../ui/dialog.tsx";
import { FormStack, TextInput } from "../../ui/form.tsx";
import { Columns, Faint, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { toast } from "../../ui/toast.tsx";

/** What holds for the whole shop: how it counts money and hours, and how long it keeps whose vehicle it was. */
export function ShopScreen() {
  const { data, error, refetch } = useShopQuery(undefined);
  return (
    <Page>
      <h1>Shop</h1>
      {error === undefined ? null : (
        <Notice tone="danger" role="alert">
          {failureOf(error).message} <Button onPress={() => void refetch()}>Try again</Button>
        </Notice>
      )}
      {data === undefined ? error === undefined ? <p role="status">Fetching the settings …</p> : null : <Settings settings={data} />}
      {data === undefined ? null : <OldCustomers months={data.keepMonths} />}
    </Page>
  );
}

interface Form {
  readonly name: string;
  readonly currency: string;
  readonly tax: string;
  readonly rate: string;
  readonly hours: string;
  readonly months: string;
}

const formOf = (s: ShopSettings): Form => ({
  name: s.name,
  currency: s.currency,
  tax: String(s.taxPercent),
  rate: s.hourlyRate === 0 ? "" : (s.hourlyRate / 10 ** (decimalsOf(s.currency) ?? 2)).toFixed(decimalsOf(s.currency) ?? 2),
  hours: String(s.hoursADay),
  months: String(s.keepMonths),
});

function Settings({ settings }: { settings: ShopSettings }) {
  const { control, handleSubmit, watch, setError } = useForm<Form>({ defaultValues: formOf(settings) });
  const [keep, { isLoading }] = useKeepShopMutation();
  const [failed, setFailed] = useState("");
  const form = watch();
  const currency = form.currency.trim().toUpperCase();
  const rate = readMoney(form.rate === "" ? "0" : form.rate, currency);
  const save = async (f: Form): Promise<void> => {
    setFailed("");
    if (decimalsOf(currency) === undefined) return setError("currency", { message: "Three letters of a currency, such as EUR." });
    if (rate === undefined || rate < 0)
      return setError("rate", { message: `An amount in ${currency}, such as ${decimalsOf(currency) === 0 ? "9000" : "95.00"}.` });
    const answer = await keep({
      ...settings,
      name: f.name.trim(),
      currency,
      taxPercent: typedNumber(f.tax) ?? 0,
      hourlyRate: rate,
      hoursADay: typedNumber(f.hours) ?? settings.hoursADay,
      keepMonths: Math.round(typedNumber(f.months) ?? settings.keepMonths),
    });
    if ("error" in answer) {
      const failure = failureOf(answer.error);
      setFailed(failure.message);
    } else toast("Settings saved. New estimates begin with them.");
  };
  return (
    <Panel aria-label="Settings">
      <h2>Settings</h2>
      <FormStack onSubmit={(e) => void handleSubmit(save)(e)} noValidate>
        <TextInput control={control} name="name" label="Name of the shop" maxLength={80} />
        <Columns>
          <TextInput control={control} name="currency" label="Currency" hint="Three letters: EUR, GBP, JPY" mono maxLength={3} />
          <NumberInput control={control} name="tax" label="Tax, %" least={0} most={100} unit="%" />
          <TextInput
            control={control}
            name="rate"
            label="An hour of labour costs"
            hint={rate === undefined || decimalsOf(currency) === undefined ? "" : formatMoney(rate, currency, navigator.language)}
            mono
            maxLength={14}
          />
        </Columns>
        <Columns>
          <NumberInput control={control} name="hours" label="Hours one person works a day" least={0.5} most={24} unit="h" />
          <NumberInput
            control={control}
            name="months"
            label="Months a closed job keeps its customer"
            hint="Ask what the law of your country says"
            least={1}
            most={600}
            unit="months"
          />
        </Columns>
        {failed === "" ? null : (
          <Notice tone="danger" role="alert" title="Not saved">
            {failed}
          </Notice>
        )}
        <Row>
          <Button look="solid" type="submit" isDisabled={isLoading}>
            Save settings
          </Button>
        </Row>
      </FormStack>
    </Panel>
  );
}

/** Closed jobs that are older than the shop keeps customers. */
function OldCustomers({ months }: { months: number }) {
  const { data } = useOldCustomersQuery(undefined, { refetchOnMountOrArgChange: true });
  const [remove, { isLoading }] = useRemoveCustomersMutation();
  const person = useAppSelector((s) => s.session.person);
  const [isAsked, setAsked] = useState(false);
  const [isUnnamed, setUnnamed] = useState(false);
  const [pictures, setPictures] = useState(true);
  const [told, setTold] = useState("");
  const run = async (by: string): Promise<void> => {
    setAsked(false);
    const answer = await remove({ by, pictures });
    if ("error" in answer) return setTold(failureOf(answer.error).message);
    const { jobs, entries, pictures: gone } = answer.data;
    setTold(`Taken out of ${counted(jobs, "job")}: ${counted(entries, "entry", "entries")} changed, ${counted(gone, "picture")} deleted.`);
  };
  return (
    <Panel aria-label="Customers of old jobs">
      <h2>Customers of old jobs</h2>
      <p>
        Plate, VIN and whoever answered an estimate are taken out of closed jobs whose last entry is older than {months} months, also where
        they stand in somebody’s words. What was measured, found and repaired stays.
      </p>
      {told === "" ? null : (
        <Notice tone="info" role="status">
          {told}
        </Notice>
      )}
      <Row>
        <Button isDisabled={data === undefined || data.jobs === 0 || isLoading} onPress={() => setAsked(true)}>
          Take customers out …
        </Button>
        <Faint>
          {data === undefined
            ? ""
            : data.jobs === 0
              ? "No job is that old."
              : `${counted(data.jobs, "job")}, ${counted(data.pictures, "picture")}`}
        </Faint>
      </Row>
      <Dialog title="Take customers out of old jobs?" isOpen={isAsked} onClose={() => setAsked(false)}>
        <p>This cannot be undone. Each job says in its log that it was done, when and by whom.</p>
        {data === undefined || data.pictures === 0 ? null : (
          <Check isSelected={pictures} onChange={setPictures}>
            Delete their {counted(data.pictures, "picture")} too: a plate or a face may be on them
          </Check>
        )}
        <Row style={{ justifyContent: "flex-end" }}>
          <Button onPress={() => setAsked(false)}>Cancel</Button>
          <Button look="solid" onPress={() => (person === "" ? setUnnamed(true) : void run(person))}>
            Take out of {counted(data?.jobs ?? 0, "job")}
          </Button>
        </Row>
      </Dialog>
      <PersonDialog isOpen={isUnnamed} onClose={() => setUnnamed(false)} onNamed={(name) => void run(name)} />
    </Panel>
  );
}

/** "1 job", "2 jobs". */
const counted = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;
