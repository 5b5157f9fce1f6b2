import { useEffect, useMemo } from "react";
import { Controller } from "react-hook-form";
import { Link, useNavigate, useSearchParams } from "react-router";
import { format } from "date-fns";
import { describeLink, linksOf, lookupOf, partNameIn } from "@rheonom/core/harness";
import { askedOfJob, cautionsFor, MEND_METHODS, type EventOf } from "@rheonom/core/job";
import { formatVolts } from "@rheonom/core/quantity";
import { Cautions } from "../../job/cautions.tsx";
import { useKeptForm } from "../../job/kept-form.ts";
import { useJobContext } from "../../job/job-context.ts";
import { stateOfJob } from "../../job/state-of-job.ts";
import { Button } from "../../ui/button.tsx";
import { FormStack, TextInput } from "../../ui/form.tsx";
import { Select } from "../../ui/select.tsx";
import { Columns, Faint, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { useQuery } from "../../worker/use-query.ts";

type MendData = EventOf<"mend-made">["data"];
const EMPTY: MendData = { at: "", found: "", cause: "", method: "contact cleaned", done: "" };

/** What the readings condemn, for filling the form with one press. */
function useSuspects(): readonly { readonly at: string; readonly words: string; readonly found: string }[] {
  const { job, harness } = useJobContext();
  const { view } = job;
  const shown = useQuery("record", harness, { view, now: view.lastAt }).value;
  return useMemo(() => {
    if (harness === undefined || shown === undefined) return [];
    const links = new Map(linksOf(harness).map((l) => [l.id, l]));
    const latest = shown.traces.filter((t) => t.when === (view.mends.length > 0 ? "after" : "before"));
    return latest.flatMap((t) =>
      t.judged.stretches
        .filter((s) => s.verdict === "suspect")
        .flatMap((s) =>
          s.steps.map((i) => {
            const { link } = t.judged.staircase.steps[i]!;
            const drop = `${formatVolts(s.dropVolts)} drop between ${s.fromPlace} and ${s.toPlace}, expected ${formatVolts(s.soundDropVolts)}`;
            return { at: link.id, words: describeLink(harness, links.get(link.id) ?? link), found: drop };
          }),
        ),
    );
  }, [harness, shown, view.mends.length]);
}

const ANYTHING = { validate: (): true => true };
/** "Contact cleaned." */
const sentence = (words: string): string => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;

/** What mends what, as it is chosen first. */
const METHOD: Readonly<Partial<Record<string, MendData["method"]>>> = {
  wire: "wire joined",
  ground: "ground cleaned and re-fixed",
  fuse: "fuse renewed",
  connector: "contact cleaned",
};

/** What is enough to act on, with what mends it; undefined while nothing is. */
function useFinding():
  { readonly at: string; readonly how: string; readonly found: string; readonly method: MendData["method"] } | undefined {
  const { job, harness } = useJobContext();
  const { view } = job;
  const question = useMemo(
    () =>
      harness === undefined || view.mends.some((m) => m.struck === undefined)
        ? undefined
        : askedOfJob(harness, view, "", stateOfJob(job, harness)),
    [harness, view, job],
  );
  const answer = useQuery("finding", harness, question === undefined ? undefined : { question }).value;
  return useMemo(() => {
    if (harness === undefined || answer === undefined || answer.element === null) return undefined;
    const { parts, wires } = lookupOf(harness);
    const kind = wires.has(answer.element) ? "wire" : parts.get(partNameIn(answer.element))?.kind;
    const isPart = answer.act === "renew" && kind !== "fuse";
    return {
      at: answer.element,
      how: answer.how ?? "",
      found: sentence(answer.words),
      method: isPart ? "part renewed" : (METHOD[kind ?? ""] ?? "other"),
    };
  }, [harness, answer]);
}

/** A field that must not stay empty. */
const wanted = (message: string): { readonly validate: (text: string) => string | true } => ({
  validate: (text) => (text.trim() === "" ? message : true),
});

/** What was found, why, and what was done about it. */
export function MendScreen() {
  const { job, record, harness } = useJobContext();
  const navigate = useNavigate();
  const suspects = useSuspects();
  const { control, handleSubmit, setValue, getValues, watch, clear } = useKeptForm<MendData>(`rheonom.mend.${job.id}`, EMPTY);
  const { at, method } = watch();
  const finding = useFinding();
  const isEmpty = at === "";
  const others = suspects.filter((s) => s.at !== finding?.at);
  const [params] = useSearchParams();
  // Whoever comes from the finding has said which; a form that holds something stays as it is.
  useEffect(() => {
    if (!isEmpty || finding === undefined || params.get("at") !== finding.at) return;
    setValue("at", finding.at);
    setValue("method", finding.method);
    if (getValues("found") === "") setValue("found", finding.found);
  }, [isEmpty, finding, params, setValue, getValues]);
  const cautions = cautionsFor({ kind: "mend", at, method }, harness);
  const keep = (data: MendData): void => {
    // What was done is the method, as long as nobody says it in other words.
    const done = data.done.trim() === "" ? sentence(data.method) : data.done;
    record({ type: "mend-made", data: { ...data, done } });
    clear();
    void navigate(`/jobs/${job.id}/prove`);
  };
  const take = (suspect: (typeof suspects)[number]): void => {
    setValue("at", suspect.at);
    if (getValues("found") === "") setValue("found", `${suspect.found}. `);
  };
  return (
    <Page>
      <h1>Repair</h1>
      <MendsMade />
      {job.view.closed === undefined ? (
        <Panel>
          <h2>Repair details</h2>
          {finding === undefined ? null : (
            <Row>
              <Faint>Enough to act on:</Faint>
              <Button
                look="solid"
                onPress={() => {
                  setValue("at", finding.at);
                  setValue("method", finding.method);
                  if (getValues("found") === "") setValue("found", finding.found);
                }}
              >
                {finding.at}
              </Button>
              <Faint>{finding.how}</Faint>
            </Row>
          )}
          {finding !== undefined && others.length === 0 ? null : others.length > 0 ? (
            <Row>
              <Faint>The readings point at:</Faint>
              {others.map((s) => (
                <Button key={s.at} onPress={() => take(s)}>
                  {s.at}
                </Button>
              ))}
            </Row>
          ) : (
            <Notice tone="info">
              No reading points to a fault yet. <Link to={`/jobs/${job.id}/trace`}>Trace</Link> first, or write down what you found by eye.
            </Notice>
          )}
          <FormStack onSubmit={(e) => void handleSubmit(keep)(e)} noValidate>
            <Columns>
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
                    options={MEND_METHODS.map((m) => ({ id: m, text: m }))}
                    value={field.value}
                    onChange={field.onChange}
                  />
                )}
              />
            </Columns>
            <TextInput
              control={control}
              name="found"
              label="Found"
              rules={wanted("Say what you found there: green copper, loose nut, chafed wire.")}
              lines={2}
              maxLength={1000}
            />
            <TextInput
              control={control}
              name="cause"
              label="Cause"
              hint="Why it happened, and what keeps it from coming back"
              lines={2}
              maxLength={1000}
            />
            <Cautions cautions={cautions} />
            <TextInput
              control={control}
              name="done"
              label="Done"
              rules={method === "other" ? wanted("Say what you did, so that the next technician knows.") : ANYTHING}
              placeholder={method === "other" ? "" : sentence(method)}
              lines={2}
              maxLength={1000}
            />
            <Row>
              <Button look="solid" type="submit">
                Save repair
              </Button>
              <Faint>Next: repeat the failed test.</Faint>
            </Row>
          </FormStack>
        </Panel>
      ) : null}
    </Page>
  );
}

function MendsMade() {
  const { job, record } = useJobContext();
  const made = job.view.mends.filter((m) => m.struck === undefined);
  if (made.length === 0) return null;
  return (
    <Panel>
      <h2>Mended so far</h2>
      {made.map((m) => (
        <Row key={m.id} style={{ justifyContent: "space-between", flexWrap: "nowrap" }}>
          <p>
            <strong>{m.data.at}</strong>, {m.data.method}. {m.data.found} {m.data.done}{" "}
            <Faint>
              {m.by}, {format(new Date(m.at), "d MMM HH:mm")}
            </Faint>
          </p>
          {job.view.closed === undefined ? (
            <Button look="quiet" onPress={() => record({ type: "struck", data: { target: m.id, why: "recorded in error" } })}>
              Strike
            </Button>
          ) : null}
        </Row>
      ))}
    </Panel>
  );
}
