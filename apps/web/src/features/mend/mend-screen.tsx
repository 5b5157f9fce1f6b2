import { useEffect, useMemo } from "react";
import { styled } from "styled-components";
import { Controller, type Control } from "react-hook-form";
import { useNavigate, useSearchParams } from "react-router";
import { partNameIn, type Component, type Harness } from "@rheonom/core/harness";
import { cautionsFor, isAdvised, MEND_METHODS, METHOD_WORDS } from "@rheonom/core/job";
import { checkFuse, FAULT_TYPES, type RepairPlan } from "@rheonom/core/repair";
import { Cautions } from "../../job/cautions.tsx";
import { typedNumber } from "../../job/typed-number.ts";
import { NumberInput } from "../../job/number-input.tsx";
import { useKeptForm } from "../../job/kept-form.ts";
import { useJobContext } from "../../job/job-context.ts";
import { PicturesPanel } from "../../job/pictures/pictures-panel.tsx";
import { Button } from "../../ui/button.tsx";
import { FormStack, TextInput } from "../../ui/form.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { toast } from "../../ui/toast.tsx";
import { DamageFields } from "./damage-fields.tsx";
import { EstimatePanel } from "./estimate-panel.tsx";
import { findingIn, Findings, useSuspects, type Taken } from "./findings-offered.tsx";
import { FindingsPanel } from "./findings-panel.tsx";
import { EMPTY_MEND, mendOf, sentence, WAY_OF, type MendForm } from "./mend-form.ts";
import { MendsMade } from "./mends-made.tsx";
import { NeighboursPanel } from "./neighbours-panel.tsx";
import { GroundPlanFields, PartProofFields, WirePlanFields } from "./plan-panels.tsx";
import { StepsPanel } from "./steps-panel.tsx";
import { usePlan, useWeighed, type Weighed } from "./use-plan.ts";
import { wanted } from "./wanted.ts";

const ANYTHING = { validate: (): true => true };
const Halves = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  gap: var(--s4);
  align-items: start;
  /* Without its form, as in a closed job, the rest has all the room. */
  & > :only-child {
    grid-column: 1 / -1;
  }
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Pair = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--s3);
`;
/** Stays in sight however long the form is. */
const Save = styled(Row)`
  position: sticky;
  bottom: 0;
  padding: var(--s2) 0;
  background: var(--surface);
  z-index: 1;
`;
const Half = styled.div`
  display: grid;
  gap: var(--s4);
  min-width: 0;
`;

/** What was found, why, and what was done about it; beside it what the circuit knows of the repair. */
export function MendScreen() {
  const { job, record, harness } = useJobContext();
  const navigate = useNavigate();
  const advised = isAdvised(job.view);
  const pointed = useSuspects();
  const suspects = advised ? pointed : [];
  const { control, handleSubmit, setValue, getValues, watch, clear } = useKeptForm<MendForm>(`rheonom.mend.${job.id}`, EMPTY_MEND);
  const form = watch();
  const { at, method } = form;
  const weighed = useWeighed();
  const isRepaired = job.view.mends.some((m) => m.struck === undefined);
  const finding = useMemo(
    () => (isRepaired || !advised ? undefined : findingIn(harness, weighed.answer)),
    [isRepaired, advised, harness, weighed.answer],
  );
  const { plan, isBusy, failed } = usePlan(form, weighed);
  const isEmpty = at === "";
  const [params] = useSearchParams();
  const set = (change: Partial<MendForm>): void => {
    for (const [name, value] of Object.entries(change)) setValue(name as keyof MendForm, value);
  };
  /** Another place: what was said of the one before goes, words that somebody wrote stay. */
  const take = ({ found, ...rest }: Taken): void => {
    const { done, cause } = getValues();
    set({ ...EMPTY_MEND, method, done, cause, found: getValues("found") || found, ...rest });
  };
  // Whoever comes from the finding has said which; a form that holds something stays as it is.
  useEffect(() => {
    if (!isEmpty || finding === undefined || params.get("at") !== finding.at) return;
    setValue("at", finding.at);
    setValue("method", finding.method);
    setValue("fault", finding.type.fault);
    setValue("ohms", finding.type.ohms);
    if (getValues("found") === "") setValue("found", finding.found);
  }, [isEmpty, finding, params, setValue, getValues]);
  const isClosed = job.view.closed !== undefined;
  const mended = job.view.mends.findLast((m) => m.struck === undefined)?.data.at;
  const proof = weighed.isWeighed ? plan?.part : undefined;
  const isPart = method === "part renewed" && at.trim() !== "";
  const isWithheld = isPart && (isBusy || !weighed.isWeighed || (proof !== undefined && !proof.isAllowed && form.override.trim() === ""));
  const fitted = harness?.components.find((c) => c.id === at.trim());
  const fuse = fitted?.kind === "fuse" ? fitted : undefined;
  const wrongFuse = fuse === undefined || harness === undefined ? undefined : fuseWords(harness, fuse.id, typedNumber(form.fitted));
  const keep = (data: MendForm): void => {
    // A wrong rating is a finding in itself, and stands in the record.
    const found = wrongFuse === undefined ? data.found : `${data.found.trim()} ${wrongFuse}`;
    record({ type: "mend-made", data: mendOf({ ...data, found }) });
    clear();
    if (data.damage === "") void navigate(`/jobs/${job.id}/prove`);
    else toast("Repair saved. Look at the neighbours, then repeat the failed test on Verify.");
  };
  const wireMethod = WAY_OF[method] === "wire";
  return (
    <Page>
      <h1>Repair</h1>
      <MendsMade />
      <Halves>
        {isClosed ? null : (
          <Panel>
            <h2>Repair details</h2>
            <Findings finding={finding} suspects={suspects} onTake={take} />
            <FormStack onSubmit={(e) => void handleSubmit(keep)(e)} noValidate>
              <Pair>
                <TextInput
                  control={control}
                  name="at"
                  label="Where"
                  mono
                  rules={wanted("Name the part, cavity or wire, such as G7 or C21.4.")}
                  hint={suspects.find((s) => s.at === at)?.words ?? "Part, cavity or wire"}
                  maxLength={80}
                />
                <Controller
                  control={control}
                  name="method"
                  render={({ field }) => (
                    <Select
                      label="How"
                      options={MEND_METHODS.map((m) => ({ id: m, text: METHOD_WORDS[m] }))}
                      value={field.value}
                      onChange={field.onChange}
                    />
                  )}
                />
              </Pair>
              <Pair>
                <Select
                  label="Fault type"
                  value={form.fault === "" ? undefined : form.fault}
                  placeholder="not stated"
                  onChange={(fault) => set({ fault })}
                  options={FAULT_TYPES.map((id) => ({ id: id as string, text: id }))}
                />
                {form.fault === "high resistance" ? (
                  <NumberInput control={control} name="ohms" label="Resistance, Ω" placeholder="1.2" least={0} most={10_000_000} unit="Ω" />
                ) : null}
              </Pair>
              <DamageFields plan={plan} form={form} control={control} set={set} />
              {fuse === undefined ? null : (
                <FuseFields fuse={fuse} wrong={wrongFuse} isReplaced={method === "fuse renewed"} putIn={form.putIn} control={control} />
              )}
              <TextInput
                control={control}
                name="found"
                label="Found"
                rules={wanted("Say what you found there: green copper, loose nut, chafed wire.")}
                lines={2}
                maxLength={1000}
              />
              <TextInput control={control} name="cause" label="Cause" hint="Why it happened" lines={2} maxLength={1000} />
              {plan?.wire === undefined || !wireMethod ? null : <WirePlanFields plan={plan.wire} form={form} control={control} set={set} />}
              {plan === undefined ? null : <GroundPlanFields grounds={plan.grounds} form={form} set={set} />}
              {method === "part renewed" && proof !== undefined ? (
                <PartProofFields proof={proof} part={partNameIn(at.trim())} control={control} />
              ) : null}
              <Cautions cautions={cautionsFor({ kind: "mend", at, method }, harness)} />
              <TextInput
                control={control}
                name="done"
                label="Done"
                rules={method === "other" ? wanted("Say what you did, so that the next technician knows.") : ANYTHING}
                placeholder={method === "other" ? "" : sentence(METHOD_WORDS[method])}
                lines={2}
                maxLength={1000}
              />
              <Save>
                <Button look="solid" type="submit" isDisabled={isWithheld}>
                  Save repair
                </Button>
                <Faint>
                  {!isWithheld
                    ? "Next: repeat the failed test."
                    : weighed.isWeighed && !isBusy
                      ? "A part needs its proof, or a reason above."
                      : "Checking the proof of this part …"}
                </Faint>
              </Save>
            </FormStack>
          </Panel>
        )}
        <Half>
          {failed === undefined ? null : <Notice tone="danger">{failed}</Notice>}
          <PicturesPanel at={at.trim() || (mended ?? finding?.at ?? "")} when={isRepaired ? "after" : "before"} />
          {isEmpty && mended !== undefined ? (
            <PlanOf at={mended} weighed={weighed} />
          ) : (
            <PlanPanels at={at.trim()} plan={plan} isBusy={isBusy} />
          )}
          <EstimatePanel at={at.trim()} method={method} plan={plan} />
          <FindingsPanel />
        </Half>
      </Halves>
    </Page>
  );
}

/** The fuse that was found, and the one that was put in, each beside the rating that is drawn. */
function FuseFields({
  fuse,
  wrong,
  isReplaced,
  putIn,
  control,
}: {
  fuse: Component & { readonly kind: "fuse" };
  wrong: string | undefined;
  isReplaced: boolean;
  putIn: string;
  control: Control<MendForm>;
}) {
  const amps = typedNumber(putIn);
  const isLarger = isReplaced && amps !== undefined && amps > fuse.ratingAmps;
  const field = { control, placeholder: String(fuse.ratingAmps), least: 0.5, most: 500, unit: "A" } as const;
  return (
    <>
      <Pair>
        <NumberInput {...field} name="fitted" label="Fuse found fitted, A" />
        {isReplaced ? <NumberInput {...field} name="putIn" label="Fuse put in, A" /> : null}
      </Pair>
      {wrong === undefined ? null : (
        <Notice tone="danger" title="Not the rating on the diagram">
          {wrong}
        </Notice>
      )}
      {isLarger ? (
        <Notice tone="danger" title="Larger than the diagram allows" role="alert">
          {`${fuse.id}: ${amps} A in place of ${fuse.ratingAmps} A. The wires behind it are not protected and may burn. Take it out and fit ${fuse.ratingAmps} A.`}
        </Notice>
      ) : null}
    </>
  );
}

/** What is wrong with the fuse that was found; undefined where it is as drawn, or nobody has said. */
function fuseWords(harness: Harness, id: string, amps: number | undefined): string | undefined {
  if (amps === undefined || Number.isNaN(amps)) return undefined;
  const checked = checkFuse(harness, id, amps);
  return "words" in checked ? checked.words : undefined;
}

/** What goes with the repair that was saved last. */
function PlanOf({ at, weighed }: { at: string; weighed: Weighed }) {
  const { job } = useJobContext();
  const made = job.view.mends.findLast((m) => m.struck === undefined && m.data.at === at)!.data;
  const { plan, isBusy } = usePlan({ at, method: made.method, segment: made.damage?.segment ?? "", area: "", length: "" }, weighed);
  return <PlanPanels at={at} plan={plan} isBusy={isBusy} />;
}

function PlanPanels({ at, plan, isBusy }: { at: string; plan: RepairPlan | undefined; isBusy: boolean }) {
  if (at === "") return null;
  if (plan === undefined) return isBusy ? <p role="status">Reading the circuit there …</p> : null;
  if (plan.thing === undefined)
    return (
      <Faint>The circuit holds no {at}: no neighbours, steps or wire sizes are known for it. The repair can be saved all the same.</Faint>
    );
  return (
    <>
      <NeighboursPanel at={at} neighbours={plan.neighbours} />
      <StepsPanel at={at} steps={plan.steps} />
    </>
  );
}
