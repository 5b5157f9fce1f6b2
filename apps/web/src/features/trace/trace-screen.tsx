import { lazy, Suspense, useLayoutEffect, useRef, useState, type RefObject } from "react";
import { Link } from "react-router";
import { Tabs } from "react-aria-components";
import { handsAt } from "@rheonom/core/diagnosis";
import { type Harness, loadsOf, partNameIn } from "@rheonom/core/harness";
import { RULE_SETS } from "@rheonom/core/limits";
import { cautionsFor, openTray } from "@rheonom/core/job";
import { drawnPart } from "../../drawing/drawn-part.ts";
import type { WhereProps } from "../../drawing/where.tsx";
import { StaircaseView } from "../../drawing/staircase-view.tsx";
import { PicturesPanel } from "../../job/pictures/pictures-panel.tsx";
import { Cautions } from "../../job/cautions.tsx";
import { useJobContext } from "../../job/job-context.ts";
import { TrayList } from "../../job/tray.tsx";
import { Button, Toggle } from "../../ui/button.tsx";
import { ChoiceChip } from "../../ui/chip.tsx";
import { Select } from "../../ui/select.tsx";
import { Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { useStable } from "../../ui/use-stable.ts";
import { identityOf } from "../../worker/identity.ts";
import type { PathShown } from "../../worker/queries.ts";
import { DrawingPane } from "./drawing-pane.tsx";
import { LogList, ReadingsTable } from "./log-tables.tsx";
import { LeadColours } from "./lead-colours.tsx";
import { NextCard } from "./next-card.tsx";
import { lookableParts, runsSound } from "./prepare.ts";
import { ProcedurePanel } from "./procedure-panel.tsx";
import { NO_PLACE, ReadingEntry, type EntryHandle } from "./reading-entry.tsx";
import { StateBar } from "../../job/state-bar.tsx";
import { StepsTable } from "./steps-table.tsx";
import { SuspectsPanel } from "./suspects-panel.tsx";
import { Drawer, Grid, Rest, Sheet, TabBody, TabName, TabRow, Tight, Work } from "./trace-layout.ts";
import { loadOptions, loadWords, PRESENT_WORDS, type Proposed } from "./trace-model.ts";
import { useTrace, type TraceBench } from "./use-trace.ts";
import { VerdictPanel } from "./verdict-panel.tsx";
import { WithoutAdvice } from "./without-advice.tsx";

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

function TraceWork({ harness }: { harness: Harness }) {
  const entry = useRef<EntryHandle>(null);
  const bench = useTrace(harness, entry);
  const { computed, shown } = bench;
  const grid = useRef<HTMLElement>(null);
  useRoomBelow(grid);
  return (
    <Grid ref={grid}>
      <Hidden as="h1">Trace</Hidden>
      <DrawingPane bench={bench} places={proposedPlaces(bench.proposed)} />
      <Work>
        <TakeReading bench={bench} entry={entry} />
        {typeof computed.value === "string" ? <Notice tone="danger">{computed.value}</Notice> : null}
        {computed.failed === undefined ? null : <Notice tone="danger">{computed.failed}</Notice>}
        {shown === undefined ? <p role="status">Computing …</p> : <Findings bench={bench} shown={shown} />}
      </Work>
    </Grid>
  );
}

/** Tells a screen how much stands above it, so that it can be as high as the room that is left: notices come and go. */
function useRoomBelow(of: RefObject<HTMLElement | null>): void {
  useLayoutEffect(() => {
    const element = of.current;
    if (element === null) return;
    const tell = (): void => element.style.setProperty("--above", `${Math.round(element.getBoundingClientRect().top + window.scrollY)}px`);
    tell();
    const watch = new ResizeObserver(tell);
    for (const sibling of element.parentElement?.children ?? []) if (sibling !== element) watch.observe(sibling);
    watch.observe(document.body);
    return () => watch.disconnect();
  }, [of]);
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
        near={new Set(drawnPart(harness, [load]).harness.components.map((c) => c.id))}
        onChange={bench.changeState}
      >
        {job.view.presence < 1 && !closed ? (
          <ChoiceChip
            label="Fault now"
            value={bench.present}
            onChange={bench.setPresent}
            options={PRESENT_WORDS.map((id) => ({ id, text: id }))}
          />
        ) : null}
      </StateBar>
      {closed ? null : !bench.advised ? (
        <WithoutAdvice job={job} record={bench.record} />
      ) : (
        <NextCard
          harness={harness}
          proposals={bench.proposals}
          diagnosing={bench.diagnosing}
          question={bench.question}
          enough={bench.isEnough ? bench.diagnosing.answer?.enoughToAct : undefined}
          jobId={job.id}
          begin={
            bench.diagnosing.answer === undefined && !bench.diagnosing.busy
              ? { load: loadWords(harness, load), state: bench.working }
              : undefined
          }
          at={bench.proposedAt}
          onAnother={bench.another}
          hands={bench.hands}
          onTake={bench.takeNext}
          words={bench.wordButtons}
        />
      )}
      <ReadingEntry
        ref={entry}
        harness={harness}
        view={job.view}
        state={state}
        draft={draft}
        change={bench.change}
        proposal={closed || bench.proposed === undefined ? undefined : { text: proposedText(bench.proposed), take: bench.takeNext }}
        sayWord={bench.sayWord}
        isDisabled={closed}
        onBeep={(observe, word) => bench.hands.onSeen({ state, observe, word, wrong: false })}
        onReading={bench.keepReading}
        meter={bench.meter.meter}
        simulate={bench.simulate}
      />
      <LeadColours bench={bench} />
      {bench.meter.turnToAmps === undefined ? null : (
        <Notice tone="caution" title="The meter is not on amps yet">
          <p>
            On amps a meter is nearly a short between its leads. Take both leads off the circuit and put the red one in the amps jack. Then
            turn the meter, and put it in series behind a fuse that the meter can stand.
          </p>
          <Button onPress={bench.meter.turnToAmps}>Leads are off: turn it to amps</Button>
        </Notice>
      )}
      {bench.meter.trouble === "" ? null : (
        <Notice tone="caution" role="status">
          {bench.meter.trouble} <Link to={`/jobs/${job.id}/bench`}>Connect it on the Bench</Link>
        </Notice>
      )}
      <Cautions
        cautions={cautionsFor({ kind: "reading", quantity: draft.mode, state, loadAmps }, harness)}
        job={job.id}
        done={job.view.readings.length}
        onClear={closed || job.view.clearToCrank !== undefined ? undefined : () => bench.record({ type: "clear-to-crank", data: {} })}
      />
    </Tight>
  );
}

/** Where hands and leads of the proposed test go. */
function proposedPlaces(proposed: Proposed | undefined): Pick<WhereProps, "red" | "black" | "hands"> {
  const o = proposed?.test.observe;
  const [red, black] = o !== undefined && "red" in o ? [o.red, o.black] : [undefined, undefined];
  return { red, black, hands: red === undefined && o !== undefined ? handsAt(o)[0] : undefined };
}

/** What the empty red field shows of a test that is proposed. */
function proposedText({ test: { observe: o } }: Proposed): string {
  return o.kind === "amps" ? o.around : "red" in o ? o.red : NO_PLACE;
}

/** Staircase, verdict, suspects and the details. */
function Findings({ bench, shown }: { bench: TraceBench; shown: PathShown }) {
  const { harness, job, load, closed, diagnosing, hands, record } = bench;
  const lookable = lookableParts(harness, load);
  const [isLarge, setLarge] = useState(false);
  return (
    <>
      <Staircase bench={bench} shown={shown} isLarge={isLarge} />
      <Rest>
        <SuspectsPanel
          harness={harness}
          jobId={job.id}
          parts={lookable}
          runs={(part) => runsSound(shown.sound, part)}
          diagnosing={diagnosing}
          isAdvised={bench.advised}
          isDisabled={closed}
          hands={hands}
          presence={job.view.presence}
          onPresence={(share) => record({ type: "presence-told", data: { share } })}
        />
      </Rest>
      <Details bench={bench} shown={shown} lookable={lookable} isLarge={isLarge} onLarge={setLarge} />
    </>
  );
}

function Staircase({ bench, shown, isLarge }: { bench: TraceBench; shown: PathShown; isLarge: boolean }) {
  const { harness, job, load, selected, goTo } = bench;
  const pick = useStable(bench.pick);
  const { scale } = bench.draft;
  return (
    <Tight aria-label="Staircase">
      <Row style={{ flexWrap: "nowrap", alignItems: "stretch" }}>
        <Select label="Load" inline value={load} onChange={(l) => goTo({ load: l })} options={loadOptions(harness, job.view)} />
        <div style={{ flex: 1, minWidth: 0 }}>{bench.advised ? <VerdictPanel words={shown.words} busy={bench.computed.busy} /> : null}</div>
      </Row>
      <StaircaseView
        harness={harness}
        trace={shown.judged}
        height={isLarge ? 320 : staircaseHeight()}
        scale={scale}
        selected={selected}
        onPick={pick}
      />
    </Tight>
  );
}

/** As high as leaves the suspects in sight below it, px. */
const staircaseHeight = (): number => (window.innerHeight < 830 ? 116 : window.innerHeight < 960 ? 172 : 230);

interface DetailsProps {
  readonly bench: TraceBench;
  readonly shown: PathShown;
  readonly lookable: readonly string[];
  readonly isLarge: boolean;
  readonly onLarge: (large: boolean) => void;
}

const TAB_KEPT = "rheonom.trace-drawer";

/** A drawer below everything, which keeps what was open in it. */
function Details({ bench, shown, lookable, isLarge, onLarge }: DetailsProps) {
  const { harness, job, load, state, draft, selected, closed, diagnosing, hands, record, goTo, change } = bench;
  const { view } = job;
  const [open, setOpen] = useState<string>(() =>
    bench.procedure === undefined ? (sessionStorage.getItem(TAB_KEPT) ?? "closed") : "tests",
  );
  const show = (tab: string): void => {
    setOpen(tab);
    sessionStorage.setItem(TAB_KEPT, tab);
  };
  return (
    <Drawer>
      <Tabs selectedKey={open} onSelectionChange={(key) => show(String(key))}>
        <TabRow aria-label="Details">
          <TabName id="steps">Steps</TabName>
          <TabName id="tests">Procedures</TabName>
          <TabName id="move">Wiggle test</TabName>
          <TabName id="readings">Readings {view.readings.length}</TabName>
          <TabName id="pictures">Pictures {view.pictures.filter((p) => p.struck === undefined).length}</TabName>
          <TabName id="scope">Traces {view.traces.filter((t) => t.struck === undefined).length}</TabName>
          <TabName id="tray">Temporary changes {openTray(view).length}</TabName>
          <TabName id="log">Log {job.events.length}</TabName>
          <TabName id="closed" aria-label="Close the drawer" style={open === "closed" ? { display: "none" } : {}}>
            Close
          </TabName>
        </TabRow>
        <Sheet hidden={open === "closed"}>
          <TabBody id="steps">
            <Row>
              <Select
                label="Drop limits"
                inline
                value={job.view.rules}
                onChange={(rules) => record({ type: "rules-chosen", data: { rules } })}
                options={RULE_SETS.map((r) => ({ id: r, text: r }))}
                isDisabled={closed}
              />
              <Segmented
                label="Scale"
                value={draft.scale}
                onChange={(s) => change({ scale: s })}
                options={[
                  { id: "ends", text: "zoom ends" },
                  { id: "even", text: "linear" },
                ]}
              />
              <Toggle isSelected={isLarge} onChange={onLarge}>
                Large staircase
              </Toggle>
            </Row>
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
                meter={bench.meter}
                onKept={(data) => record({ type: "wiggled", data })}
              />
            </Suspense>
          </TabBody>
          <TabBody id="readings">
            <ReadingsTable harness={harness} view={view} unsaved={job.unsaved} record={record} />
          </TabBody>
          <TabBody id="pictures">
            <PicturesPanel at={partNameIn(selected ?? load)} when={view.mends.some((m) => m.struck === undefined) ? "after" : "before"} />
          </TabBody>
          <TabBody id="scope">
            <p>
              {view.traces
                .filter((t) => t.struck === undefined)
                .map((t) => t.data.name)
                .join(", ") || "No trace of a scope or logger was kept yet."}{" "}
              <Link to={`/jobs/${job.id}/bench`}>Open the bench</Link>
            </p>
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
          <TabBody id="closed" />
        </Sheet>
      </Tabs>
    </Drawer>
  );
}
