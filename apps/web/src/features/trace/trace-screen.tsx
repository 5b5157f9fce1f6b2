import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { Tabs } from "react-aria-components";
import type { VehicleState } from "@rheonom/core/circuit";
import { type Harness, loadsOf } from "@rheonom/core/harness";
import type { Leads } from "@rheonom/core/instruments";
import { RULE_SETS } from "@rheonom/core/limits";
import { cautionsFor, openTray, readingsOfPhase, trayInModel } from "@rheonom/core/job";
import { formatVolts } from "@rheonom/core/quantity";
import type { Hit } from "@rheonom/drawing/scene";
import { useSimulateMutation } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { benchChanged, stateChanged } from "../../job/bench.ts";
import { readDraft } from "../../job/read-draft.ts";
import { Cautions } from "../../job/cautions.tsx";
import { identityOf } from "../../worker/identity.ts";
import { useJobContext } from "../../job/job-context.ts";
import { useAppDispatch, useAppSelector } from "../../job/store.ts";
import { TrayList } from "../../job/tray.tsx";
import { drawnPart } from "../../drawing/drawn-part.ts";
import { SliceView } from "../../drawing/slice-view.tsx";
import { StaircaseView } from "../../drawing/staircase-view.tsx";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/select.tsx";
import { Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { useKeys } from "../../ui/use-keys.ts";
import type { PathShown } from "../../worker/model.worker.ts";
import { useDiagnosis } from "../../worker/use-diagnosis.ts";
import { model, useComputed } from "../../worker/use-model.ts";
import { LogList, ReadingsTable } from "./log-tables.tsx";
import { ReadingEntry, type EntryHandle } from "./reading-entry.tsx";
import { SelectionPanel } from "./selection-panel.tsx";
import { StateBar } from "./state-bar.tsx";
import { lookableParts, runsSound, stays, temporaryFor } from "./prepare.ts";
import { StepsTable } from "./steps-table.tsx";
import type { Hands } from "./do-test.tsx";
import { ProcedurePanel } from "./procedure-panel.tsx";
import { SuspectsPanel } from "./suspects-panel.tsx";
import { Grid, SliceBox, TabBody, TabName, TabRow, Tight, Work } from "./trace-layout.ts";
import { VerdictPanel } from "./verdict-panel.tsx";

/** The heart: state, leads, reading; slice and staircase; what is left and where to measure next. */
export function TraceScreen() {
  const { job, harness, parsed } = useJobContext();
  if (harness !== undefined) {
    if (loadsOf(harness).length > 0) return <TraceWork key={identityOf(harness)} harness={harness} />;
  } else if (job.view.circuit !== undefined && parsed === undefined) {
    return (
      <Page>
        <p role="status">Reading the circuit …</p>
      </Page>
    );
  }
  const why =
    job.view.circuit === undefined
      ? "There is no circuit yet."
      : harness === undefined
        ? "The circuit’s text has errors, so nothing can be computed."
        : "The circuit has no load, so no current flows.";
  return (
    <Page>
      <h1>Trace</h1>
      <Panel>
        <p>
          {why} <Link to={`/jobs/${job.id}/circuit`}>Go to the circuit</Link>: two lines are enough to begin.
        </p>
      </Panel>
    </Page>
  );
}

/** Its chart is loaded when it is opened. */
const WigglePanel = lazy(async () => ({ default: (await import("./wiggle-panel.tsx")).WigglePanel }));

const PRESENT_WORDS = ["not said", "there", "away"] as const;
type PresentWord = (typeof PRESENT_WORDS)[number];

/** "HB1 hold blower", or "R1 start relay, coil" for a part of a device. */
function loadWords(harness: Harness, id: string): string {
  const [name, part] = id.split(".") as [string, string | undefined];
  const label = harness.components.find((c) => c.id === name)?.label;
  return [name, label].filter(Boolean).join(" ") + (part === undefined ? "" : `, ${part}`);
}

function TraceWork({ harness }: { harness: Harness }) {
  const { job, record, showTray } = useJobContext();
  const { view } = job;
  const dispatch = useAppDispatch();
  const [params, setParams] = useSearchParams();
  const [kept] = useState(() => readDraft(job.id, view.readings.at(-1)?.data.state));
  const draft = useAppSelector((s) => s.bench[job.id]) ?? kept;
  const entry = useRef<EntryHandle>(null);
  const [scale, setScale] = useState(draft.scale);

  const loads = loadsOf(harness);
  const load = loads.find((l) => l.id === params.get("load"))?.id ?? loads[0]!.id;
  const selected = params.get("at") ?? undefined;
  const goTo = (change: Record<string, string>): void =>
    setParams(
      (before) => {
        for (const [key, value] of Object.entries(change)) before.set(key, value);
        return before;
      },
      { replace: true },
    );

  const state = useMemo<VehicleState>(() => {
    const known = draft.state.on.filter((id) => harness.components.some((c) => c.id === id));
    return { ...draft.state, on: known, ...trayInModel(harness, view) };
  }, [draft.state, harness, view]);
  const readings = useMemo(() => readingsOfPhase(view, "after"), [view]);
  const key = JSON.stringify([load, state, view.rules, view.circuit?.at, readings.map((r) => [r.id, r.struck])]);
  const computed = useComputed<PathShown | string>(key, async () => model.trace(harness, view, readings, load, state));
  const shown = typeof computed.value === "object" ? computed.value : undefined;
  const trace = shown?.trace;

  const change = (part: Partial<typeof draft>): void => void dispatch(benchChanged({ jobId: job.id, change: part, before: kept }));
  const putLeads = (red: string, black: string): void => {
    change({ red, black, mode: "volts", armed: "red" });
    entry.current?.focus("value");
  };
  const pick = (hit: Hit): void => {
    goTo({ at: hit.id });
    if (hit.kind === "link") {
      if (draft.mode === "amps") change({ around: hit.id });
      return;
    }
    if (draft.mode === "amps") return;
    change(draft.armed === "black" ? { black: hit.id, armed: "red" } : { red: hit.id });
    entry.current?.focus(draft.armed === "black" ? "red" : "value");
  };
  const takeNext = (): void => {
    const next = shown?.answer.next;
    if (next !== undefined) putLeads(next.red, next.black);
  };
  const [simulate] = useSimulateMutation();
  const simulated = async (leads: Leads, moving?: string): Promise<{ readonly text: string } | { readonly message: string }> => {
    const answer = await simulate({ jobId: job.id, leads, state, ...(moving === undefined ? {} : { moving }) });
    if ("error" in answer) return { message: failureOf(answer.error).message };
    return answer.data.kind === "void" ? { message: answer.data.message } : { text: answer.data.text };
  };
  const closed = view.closed !== undefined;
  /** Whether the trouble is there at this moment, where it comes and goes. */
  const [present, setPresent] = useState<PresentWord>("not said");
  const said = view.presence >= 1 || present === "not said" ? {} : { present: present === "there" };
  useKeys({
    r: () => entry.current?.focus("red"),
    k: () => entry.current?.focus("black"),
    v: () => entry.current?.focus("value"),
    n: takeNext,
    // A reading typed with no field in focus is meant for the reading's field.
    ...Object.fromEntries(
      [..."0123456789.-"].map((digit) => [
        digit,
        () => {
          change({ text: draft.text + digit });
          entry.current?.focus("value", "end");
        },
      ]),
    ),
    ...(job.simulated ? { m: () => entry.current?.simulate() } : {}),
  });
  useEffect(() => {
    if (!closed) entry.current?.focus("red");
  }, [closed]);

  const measured = useMemo(
    () =>
      new Map(
        (trace?.staircase.places ?? []).flatMap((p, i) =>
          trace?.measuredVolts[i] === undefined ? [] : [[p as string, trace.measuredVolts[i]] as const],
        ),
      ),
    [trace],
  );
  const notes = useMemo(() => new Map([...measured].map(([p, v]) => [p, formatVolts(v)])), [measured]);
  const suspects = useMemo(() => {
    const found = new Map<string, string>();
    for (const s of trace?.stretches ?? []) {
      if (s.verdict === "suspect")
        s.steps.forEach((i, n) => found.set(trace!.staircase.steps[i]!.link.id, n === 0 ? `${formatVolts(s.dropVolts)} lost` : ""));
    }
    return found;
  }, [trace]);
  const lookable = lookableParts(harness, load);
  const found =
    readings.some((r) => r.struck === undefined) ||
    view.seen.some((s) => s.struck === undefined) ||
    view.wiggles.some((w) => w.struck === undefined);
  const diagnosisKey = found
    ? JSON.stringify([
        load,
        state,
        view.circuit?.at,
        readings.map((r) => [r.id, r.struck]),
        view.seen.map((s) => [s.id, s.struck, s.mendsBefore]),
        view.wiggles.map((w) => [w.id, w.struck]),
        view.presence,
      ])
    : undefined;
  const diagnosing = useDiagnosis(diagnosisKey, harness, view, load, state);
  /** The key and switches as they are asked for; what is unplugged, bridged or fitted goes on the list of things to undo. */
  const prepare = (wanted: VehicleState): void => {
    const { key: keyWanted, engine, on, asleep = [], inputs = {} } = wanted;
    dispatch(stateChanged({ jobId: job.id, change: { key: keyWanted, engine, on, asleep, inputs }, before: kept }));
    for (const item of openTray(view)) if (!stays(item, wanted)) record({ type: "temporary-undone", data: { target: item.id } });
    for (const made of temporaryFor(harness, state, wanted)) record({ type: "temporary-made", data: made });
  };
  const hands: Hands = {
    state,
    onSeen: (data) => record({ type: "seen", data: { ...data, ...said } }),
    onLeads: (o) => {
      if (o.kind === "amps") change({ around: o.around, mode: "amps" });
      else change({ red: o.red, black: o.black, mode: o.kind, armed: "red" });
      entry.current?.focus("value");
    },
    onPrepare: prepare,
  };
  const nothing = useMemo(() => new Map<string, number>(), []);
  const cautions = cautionsFor({ kind: "reading", quantity: draft.mode, state, loadAmps: trace?.staircase.loadAmps ?? 0 }, harness);
  const open = openTray(view).length;

  return (
    <Grid>
      <Hidden as="h1">Trace</Hidden>
      <SliceBox aria-label="Circuit">
        <SliceView
          harness={drawnPart(harness, [load])}
          whole={harness}
          fit
          state={state}
          volts={shown?.sound?.volts ?? nothing}
          suspects={suspects}
          notes={notes}
          selected={selected}
          red={draft.mode === "amps" ? undefined : draft.red}
          black={draft.mode === "amps" ? undefined : draft.black}
          onPick={pick}
        />
        <SelectionPanel
          harness={harness}
          selected={selected}
          sound={shown?.sound}
          measured={measured}
          onAcross={putLeads}
          onFound={closed ? undefined : (data) => record({ type: "found-different", data })}
        />
      </SliceBox>
      <Work>
        <Tight aria-label="Take a reading">
          <StateBar
            harness={harness}
            state={state}
            near={new Set(drawnPart(harness, [load]).components.map((c) => c.id))}
            onChange={(part) => void dispatch(stateChanged({ jobId: job.id, change: part, before: kept }))}
          />
          {view.presence < 1 && !closed ? (
            <Segmented
              label="At this moment the trouble is"
              value={present}
              onChange={setPresent}
              options={PRESENT_WORDS.map((id) => ({ id, text: id }))}
            />
          ) : null}
          <Cautions cautions={cautions} />
          <ReadingEntry
            ref={entry}
            harness={harness}
            state={state}
            draft={draft}
            change={change}
            proposal={shown?.answer.next}
            isDisabled={closed}
            onReading={(data) => {
              record({ type: "reading-taken", data: { ...data, state, load, ...said } });
              if (data.leads.quantity !== "amps") goTo({ at: data.leads.red });
            }}
            simulate={job.simulated ? (leads) => simulated(leads) : undefined}
          />
        </Tight>
        {typeof computed.value === "string" ? <Notice tone="danger">{computed.value}</Notice> : null}
        {computed.failed === undefined ? null : <Notice tone="danger">{computed.failed}</Notice>}
        {shown === undefined ? (
          <p role="status">Computing …</p>
        ) : (
          <>
            <Tight aria-label="Staircase">
              <Row style={{ justifyContent: "space-between" }}>
                <Row>
                  <Select
                    label="Path of"
                    inline
                    value={load}
                    onChange={(l) => goTo({ load: l })}
                    options={loads.map((l) => ({ id: l.id, text: loadWords(harness, l.id) }))}
                  />
                  <Select
                    label="Rules"
                    inline
                    value={view.rules}
                    onChange={(rules) => record({ type: "rules-chosen", data: { rules } })}
                    options={RULE_SETS.map((r) => ({ id: r, text: r }))}
                    isDisabled={closed}
                  />
                </Row>
                <Segmented
                  label="Scale"
                  value={scale}
                  onChange={(s) => {
                    setScale(s);
                    change({ scale: s });
                  }}
                  options={[
                    { id: "ends", text: "ends" },
                    { id: "even", text: "even" },
                  ]}
                />
              </Row>
              <StaircaseView harness={harness} trace={shown.trace} height={258} scale={scale} selected={selected} onPick={pick} />
            </Tight>
            <VerdictPanel words={shown.words} next={shown.next} onTake={takeNext} />
            <SuspectsPanel
              harness={harness}
              jobId={job.id}
              parts={lookable}
              runs={(part) => runsSound(shown.sound, part)}
              diagnosing={diagnosing}
              isDisabled={closed}
              hands={hands}
              presence={view.presence}
              onPresence={(share) => record({ type: "presence-told", data: { share } })}
            />
            <Tight>
              <Tabs defaultSelectedKey={params.get("test") === null ? "steps" : "tests"}>
                <TabRow aria-label="Details">
                  <TabName id="steps">Steps</TabName>
                  <TabName id="tests">Tests</TabName>
                  <TabName id="move">Move and watch</TabName>
                  <TabName id="readings">Readings {view.readings.length}</TabName>
                  <TabName id="tray">Left undone {open}</TabName>
                  <TabName id="log">Log {job.events.length}</TabName>
                </TabRow>
                <TabBody id="steps">
                  <StepsTable harness={harness} trace={shown.trace} selected={selected} onAcross={putLeads} />
                </TabBody>
                <TabBody id="tests">
                  <ProcedurePanel
                    harness={harness}
                    view={view}
                    hands={hands}
                    focus={lookable.slice(0, 1)}
                    suspects={(diagnosing.answer?.suspects ?? []).map((s) => s.element)}
                    isDisabled={closed}
                    open={(params.get("test") ?? "") === "" ? undefined : { id: params.get("test")!, target: params.get("on") ?? "" }}
                    onOpen={(id, target) => goTo({ test: id ?? "", on: target })}
                  />
                </TabBody>
                <TabBody id="move">
                  <Suspense fallback={<p role="status">Loading …</p>}>
                    <WigglePanel
                      harness={harness}
                      view={view}
                      state={state}
                      load={load}
                      draft={draft}
                      isDisabled={closed}
                      simulate={job.simulated ? (leads, moving) => simulated(leads, moving) : undefined}
                      onKept={(data) => record({ type: "wiggled", data })}
                    />
                  </Suspense>
                </TabBody>
                <TabBody id="readings">
                  <ReadingsTable view={view} unsaved={job.unsaved} record={record} />
                </TabBody>
                <TabBody id="tray">
                  <TrayList view={view} harness={harness} record={record} />
                  <Row style={{ marginTop: "var(--s2)" }}>
                    <Button onPress={showTray}>
                      Add what you change <kbd>t</kbd>
                    </Button>
                  </Row>
                </TabBody>
                <TabBody id="log">
                  <LogList events={job.events} unsaved={job.unsaved} />
                </TabBody>
              </Tabs>
            </Tight>
          </>
        )}
      </Work>
    </Grid>
  );
}
