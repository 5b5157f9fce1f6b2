import { lazy, Suspense, useMemo, useRef, useState, type RefObject } from "react";
import { Link } from "react-router";
import { Tabs } from "react-aria-components";
import { type Harness, loadsOf } from "@rheonom/core/harness";
import { RULE_SETS } from "@rheonom/core/limits";
import { cautionsFor, openTray } from "@rheonom/core/job";
import { formatVolts } from "@rheonom/core/quantity";
import { drawnPart } from "../../drawing/drawn-part.ts";
import { SliceView } from "../../drawing/slice-view.tsx";
import { StaircaseView } from "../../drawing/staircase-view.tsx";
import { Cautions } from "../../job/cautions.tsx";
import { useJobContext } from "../../job/job-context.ts";
import { TrayList } from "../../job/tray.tsx";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/select.tsx";
import { Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { identityOf } from "../../worker/identity.ts";
import type { PathShown } from "../../worker/queries.ts";
import { LogList, ReadingsTable } from "./log-tables.tsx";
import { lookableParts, runsSound } from "./prepare.ts";
import { ProcedurePanel } from "./procedure-panel.tsx";
import { ReadingEntry, type EntryHandle } from "./reading-entry.tsx";
import { SelectionPanel } from "./selection-panel.tsx";
import { StateBar } from "./state-bar.tsx";
import { StepsTable } from "./steps-table.tsx";
import { SuspectsPanel } from "./suspects-panel.tsx";
import { Grid, SliceBox, TabBody, TabName, TabRow, Tight, Work } from "./trace-layout.ts";
import { loadWords, measuredByPlace, PRESENT_WORDS, suspectNotes } from "./trace-model.ts";
import { useTrace, type TraceBench } from "./use-trace.ts";
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

const NO_VOLTS: ReadonlyMap<string, number> = new Map();

function TraceWork({ harness }: { harness: Harness }) {
  const entry = useRef<EntryHandle>(null);
  const bench = useTrace(harness, entry);
  const { computed, shown } = bench;
  return (
    <Grid>
      <Hidden as="h1">Trace</Hidden>
      <Drawing bench={bench} />
      <Work>
        <TakeReading bench={bench} entry={entry} />
        {typeof computed.value === "string" ? <Notice tone="danger">{computed.value}</Notice> : null}
        {computed.failed === undefined ? null : <Notice tone="danger">{computed.failed}</Notice>}
        {shown === undefined ? <p role="status">Computing …</p> : <Findings bench={bench} shown={shown} />}
      </Work>
    </Grid>
  );
}

/** The slice of the load, with what was measured and what is suspect. */
function Drawing({ bench }: { bench: TraceBench }) {
  const { harness, load, draft, shown, selected, closed, record } = bench;
  const measured = useMemo(() => measuredByPlace(shown?.judged), [shown]);
  const notes = useMemo(() => new Map([...measured].map(([p, v]) => [p, formatVolts(v)])), [measured]);
  const suspects = useMemo(() => suspectNotes(shown?.judged), [shown]);
  const clamp = draft.mode === "amps";
  return (
    <SliceBox aria-label="Circuit">
      <SliceView
        harness={drawnPart(harness, [load])}
        whole={harness}
        fit
        state={bench.state}
        volts={shown?.sound?.volts ?? NO_VOLTS}
        suspects={suspects}
        notes={notes}
        selected={selected}
        red={clamp ? undefined : draft.red}
        black={clamp ? undefined : draft.black}
        onPick={bench.pick}
      />
      <SelectionPanel
        harness={harness}
        selected={selected}
        sound={shown?.sound}
        measured={measured}
        standing={bench.standing.value}
        onAcross={bench.putLeads}
        onFound={closed ? undefined : (data) => record({ type: "found-different", data })}
      />
    </SliceBox>
  );
}

/** State, cautions, leads and the reading. */
function TakeReading({ bench, entry }: { bench: TraceBench; entry: RefObject<EntryHandle | null> }) {
  const { harness, job, load, state, draft, shown, closed } = bench;
  const loadAmps = shown?.judged.staircase.loadAmps ?? 0;
  return (
    <Tight aria-label="Take a reading">
      <StateBar
        harness={harness}
        state={state}
        near={new Set(drawnPart(harness, [load]).components.map((c) => c.id))}
        onChange={bench.changeState}
      />
      {job.view.presence < 1 && !closed ? (
        <Segmented
          label="At this moment the trouble is"
          value={bench.present}
          onChange={bench.setPresent}
          options={PRESENT_WORDS.map((id) => ({ id, text: id }))}
        />
      ) : null}
      <Cautions cautions={cautionsFor({ kind: "reading", quantity: draft.mode, state, loadAmps }, harness)} />
      <ReadingEntry
        ref={entry}
        harness={harness}
        state={state}
        draft={draft}
        change={bench.change}
        proposal={shown?.answer.next}
        isDisabled={closed}
        onReading={bench.keepReading}
        simulate={bench.simulate}
      />
    </Tight>
  );
}

/** Staircase, verdict, suspects and the details. */
function Findings({ bench, shown }: { bench: TraceBench; shown: PathShown }) {
  const { harness, job, load, closed, diagnosing, hands, record } = bench;
  const lookable = lookableParts(harness, load);
  return (
    <>
      <Staircase bench={bench} shown={shown} />
      <VerdictPanel words={shown.words} next={shown.next} busy={bench.computed.busy} onTake={bench.takeNext} />
      <SuspectsPanel
        harness={harness}
        jobId={job.id}
        parts={lookable}
        runs={(part) => runsSound(shown.sound, part)}
        diagnosing={diagnosing}
        isDisabled={closed}
        hands={hands}
        presence={job.view.presence}
        onPresence={(share) => record({ type: "presence-told", data: { share } })}
      />
      <Details bench={bench} shown={shown} lookable={lookable} />
    </>
  );
}

function Staircase({ bench, shown }: { bench: TraceBench; shown: PathShown }) {
  const { harness, job, load, selected, closed, record, goTo, change, pick } = bench;
  const [scale, setScale] = useState(bench.draft.scale);
  return (
    <Tight aria-label="Staircase">
      <Row style={{ justifyContent: "space-between" }}>
        <Row>
          <Select
            label="Path of"
            inline
            value={load}
            onChange={(l) => goTo({ load: l })}
            options={loadsOf(harness).map((l) => ({ id: l.id, text: loadWords(harness, l.id) }))}
          />
          <Select
            label="Rules"
            inline
            value={job.view.rules}
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
      <StaircaseView harness={harness} trace={shown.judged} height={258} scale={scale} selected={selected} onPick={pick} />
    </Tight>
  );
}

function Details({ bench, shown, lookable }: { bench: TraceBench; shown: PathShown; lookable: readonly string[] }) {
  const { harness, job, load, state, draft, selected, closed, diagnosing, hands, record, goTo } = bench;
  const { view } = job;
  return (
    <Tight>
      <Tabs defaultSelectedKey={bench.procedure === undefined ? "steps" : "tests"}>
        <TabRow aria-label="Details">
          <TabName id="steps">Steps</TabName>
          <TabName id="tests">Tests</TabName>
          <TabName id="move">Move and watch</TabName>
          <TabName id="readings">Readings {view.readings.length}</TabName>
          <TabName id="tray">Temporary changes {openTray(view).length}</TabName>
          <TabName id="log">Log {job.events.length}</TabName>
        </TabRow>
        <TabBody id="steps">
          <StepsTable harness={harness} trace={shown.judged} selected={selected} onAcross={bench.putLeads} />
        </TabBody>
        <TabBody id="tests">
          <ProcedurePanel
            harness={harness}
            view={view}
            hands={hands}
            focus={lookable.slice(0, 1)}
            suspects={(diagnosing.answer?.suspects ?? []).map((s) => s.element)}
            isDisabled={closed}
            open={bench.procedure}
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
              simulate={bench.simulate}
              onKept={(data) => record({ type: "wiggled", data })}
            />
          </Suspense>
        </TabBody>
        <TabBody id="readings">
          <ReadingsTable harness={harness} view={view} unsaved={job.unsaved} record={record} />
        </TabBody>
        <TabBody id="tray">
          <TrayList view={view} harness={harness} record={record} />
          <Row style={{ marginTop: "var(--s2)" }}>
            <Button onPress={bench.showTray}>
              Add what you change <kbd>t</kbd>
            </Button>
          </Row>
        </TabBody>
        <TabBody id="log">
          <LogList events={job.events} unsaved={job.unsaved} />
        </TabBody>
      </Tabs>
    </Tight>
  );
}
