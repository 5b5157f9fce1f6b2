import { useEffect, useMemo, useRef, useState, type CSSProperties } from "react";
import { Bookmark, FileDown, Image } from "lucide-react";
import { styled } from "styled-components";
import type { VehicleState } from "@rheonom/core/circuit";
import { frameSenders } from "@rheonom/core/instruments";
import { MOST_CHANNELS } from "@rheonom/core/waveform";
import { parsePlace, type Harness } from "@rheonom/core/harness";
import { useJobContext } from "../../job/job-context.ts";
import { Button, Toggle } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { OneLineForm } from "../../ui/form.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { saveFile } from "../../ui/save-file.ts";
import { Segmented } from "../../ui/segmented.tsx";
import { Select } from "../../ui/select.tsx";
import { useStable } from "../../ui/use-stable.ts";
import type { Asking } from "../../worker/use-diagnosis.ts";
import type { TraceShape } from "./bench.worker.ts";
import { ChannelMeasures } from "./channel-measures.tsx";
import { ChannelTools } from "./channel-tools.tsx";
import { ComparePanel, type Difference } from "./compare-panel.tsx";
import { DecodePanel } from "./decode-panel.tsx";
import { Judgement, useGood, type JudgedChannel } from "./judgement.tsx";
import { movedBetween, MovedPanel, movesIn } from "./moved-panel.tsx";
import { inkOf, ScopeChart, type ChartHandle, type Mark, type Reference } from "./scope-chart.tsx";
import { panned, scaled, shownAround, windowOf, withCursor, zoomed } from "./scope-model.ts";
import type { Scope } from "./use-scope.ts";
import { WhatIfPanel, type GhostTraces } from "./what-if-panel.tsx";

const Swatch = styled.span`
  display: inline-grid;
  place-items: center;
  width: 30px;
  height: 18px;
  background: var(--field);
  border-radius: 3px;
  &::after {
    content: "";
    width: 22px;
    border-top: 3px solid var(--line-ink);
  }
`;
/** What one of the file's unit is, with the probe as it was set. */
const FACTORS = [1, 10, 20, 100, 0.1].map((f) => ({ id: String(f), text: `× ${f}` }));
const UNITS = ["V", "mV", "A", "mA", "Ω", "bar", "°C", ""].map((id) => ({ id, text: id === "" ? "none" : id }));

/** What somebody says of a channel. */
export interface ChannelSaid {
  readonly unit: string;
  readonly factor: number;
  readonly red: string;
  readonly black: string;
  /** Laid over from another recording, which may have been made in another state. */
  readonly isLaid?: boolean;
  /** Of a supposed circuit: nobody recorded it. */
  readonly isSupposed?: boolean;
}
/** Moments that are named at most. */
const MOST_MARKS = 20;
/** Samples of a table that is saved at most. */
const MOST_LINES = 200_000;

export interface TracePanelProps {
  readonly scope: Scope;
  readonly shape: TraceShape;
  readonly meta: readonly ChannelSaid[];
  readonly onMeta: (channel: number, change: Partial<ChannelSaid>) => void;
  readonly name: string;
  readonly onGhosts: (ghosts: GhostTraces) => void;
  readonly onDifference: (difference: Difference) => void;
  readonly marks: readonly Mark[];
  readonly onMarks: (marks: readonly Mark[]) => void;
  /** Undefined where there is nothing to be kept. */
  readonly onKeep: ((name: string) => void) | undefined;
  readonly harness: Harness | undefined;
  /** In which it was recorded. */
  readonly state: VehicleState | undefined;
  /** What the engine is asked of the job; undefined while nothing was found. */
  readonly question: Asking | undefined;
}

/** Channels that can be judged: those in volts whose leads are places of the circuit. */
export function judged(harness: Harness, meta: readonly ChannelSaid[]): readonly JudgedChannel[] {
  return meta.flatMap(({ unit, red, black, factor, isLaid = false }, channel) => {
    if (isLaid) return [];
    const [r, b] = [parsePlace(harness, red), parsePlace(harness, black.trim() === "" ? "-" : black)];
    const scale = unit === "V" ? factor : unit === "mV" ? factor * 1e-3 : undefined;
    if (scale === undefined || red.trim() === "" || r.kind !== "place" || b.kind !== "place" || r.place === b.place) return [];
    return [{ channel, factor: scale, leads: { red: r.place, black: b.place } }];
  });
}

/** A trace that is open: drawn, measured between two cursors, judged, compared, read as a bus, and kept. */
export function TracePanel({
  scope,
  shape,
  meta,
  onMeta,
  name,
  onGhosts,
  onDifference,
  marks,
  onMarks,
  onKeep,
  harness,
  state,
  question,
}: TracePanelProps) {
  const { job } = useJobContext();
  const { sight, measures, setSight, shown, show, worker } = scope;
  const panel = useRef<HTMLElement>(null);
  const chart = useRef<HTMLDivElement>(null);
  const drawn = useRef<ChartHandle>(null);
  const [isSplit, setSplit] = useState(false);
  const [isNaming, setNaming] = useState(false);
  const [edgesOf, setEdgesOf] = useState(0);
  const [cursor, setCursor] = useState<"a" | "b">("a");
  const [hidden, setHidden] = useState<ReadonlySet<number>>(new Set());
  const [title, setTitle] = useState(name);
  const factors = useMemo(() => meta.map((m) => m.factor), [meta]);
  const laid = useMemo(() => new Set(meta.flatMap((m, i) => (m.isLaid === true ? [i] : []))), [meta]);
  const supposed = useMemo(() => new Set(meta.flatMap((m, i) => (m.isSupposed === true ? [i] : []))), [meta]);
  const units = useMemo(() => meta.map((m) => m.unit), [meta]);
  const deltaS = Math.abs(sight.b - sight.a) / shape.rateHz;
  const channels = useMemo(() => (harness === undefined ? [] : judged(harness, meta)), [harness, meta]);
  // A maker's identifiers are in no diagram; those of a simulated vehicle are known.
  const senders = useMemo(
    () => new Map(job.simulated && harness !== undefined ? channels.flatMap(({ leads }) => [...frameSenders(harness, leads.red)]) : []),
    [job.simulated, harness, channels],
  );
  const good = useGood(harness, state, channels, shape.count / shape.rateHz);
  const references = useMemo(
    () =>
      channels.flatMap(({ channel, factor }, k): Reference[] => {
        const [steady, how, drawnFactor] = [good.value?.[k]?.steady, shown[channel], meta[channel]?.factor ?? 1];
        if (steady === undefined || how === undefined) return [];
        // From volts to what the channel is drawn in, as it is shown.
        const at = (volts: number): number => ((how.isInverted ? -1 : 1) * volts * drawnFactor) / factor - how.zero * drawnFactor;
        return [...new Set([steady.low, steady.high])].map((v) => ({ channel, value: at(v) }));
      }),
    [channels, good.value, shown, meta],
  );
  const [begin, end] = windowOf(sight, shape.count);
  const moves = useMemo(() => (harness === undefined ? [] : movesIn(harness, marks)), [harness, marks]);
  const isMoved = movedBetween(moves, shape.startS + begin / shape.rateHz, shape.startS + end / shape.rateHz);
  const between = useMemo(() => [begin, end] as const, [begin, end]);
  /** Puts the cursor behind the next edge of the chosen channel, and brings it into sight. */
  const toEdge = (step: 1 | -1): void =>
    void worker.edgeFrom(edgesOf, sight[cursor], step, begin, end).then((at) => {
      if (at === undefined) return;
      setSight((s) => {
        const put = withCursor(s, shape.count, cursor, at);
        const width = put.to - put.from;
        return at >= put.from && at < put.to ? put : panned({ ...put, from: at - width / 2, to: at + width / 2 }, shape.count, 0);
      });
    });
  const showFrames = useStable((from: number, to: number): void => {
    setSight((s) => shownAround(s, shape.count, from, to));
    chart.current?.scrollIntoView({ block: "center" });
  });
  // What was just opened is what matters now.
  useEffect(() => void panel.current?.scrollIntoView({ block: "start" }), []);
  const drawDifference = useStable(onDifference);
  const changeMeta = useStable(onMeta);
  const keep = useStable(() => onKeep?.(title));
  const savePng = async (): Promise<void> => {
    const picture = await drawn.current?.png(title || "Trace");
    if (picture !== undefined) saveFile(`${title || "trace"}.png`, picture, "image/png");
  };
  const saveCsv = async (): Promise<void> =>
    saveFile(`${title || "trace"}.csv`, await worker.csv(sight.from, sight.to, factors, MOST_LINES), "text/csv");
  return (
    <Panel aria-label="Trace" ref={panel} style={{ scrollMarginTop: 16 }}>
      <Row style={{ justifyContent: "space-between" }}>
        <Row>
          <Segmented
            label="Tap sets"
            options={[
              { id: "a", text: "Cursor A" },
              { id: "b", text: "Cursor B" },
            ]}
            value={cursor}
            onChange={setCursor}
          />
          <strong>
            Δt {scaled(deltaS, "s")}
            {deltaS === 0 ? "" : `, ${scaled(1 / deltaS, "Hz")}`}
          </strong>
        </Row>
        <Row>
          <Button onPress={() => setSight((s) => panned(s, shape.count, -0.5))} aria-label="Earlier">
            ←
          </Button>
          <Button onPress={() => setSight((s) => zoomed(s, shape.count, 0.5, 0.5))} aria-label="Zoom in">
            +
          </Button>
          <Button onPress={() => setSight((s) => zoomed(s, shape.count, 2, 0.5))} aria-label="Zoom out">
            −
          </Button>
          <Button onPress={() => setSight((s) => panned(s, shape.count, 0.5))} aria-label="Later">
            →
          </Button>
          <Button onPress={() => setSight((s) => ({ ...s, from: 0, to: shape.count }))}>All</Button>
          <Button onPress={() => toEdge(-1)} aria-label="Cursor to the edge before">
            ⇤ Edge
          </Button>
          <Button onPress={() => toEdge(1)} aria-label="Cursor to the next edge">
            Edge ⇥
          </Button>
        </Row>
      </Row>
      <div ref={chart}>
        <ScopeChart
          ref={drawn}
          shape={shape}
          sight={sight}
          worker={worker}
          shown={shown}
          factors={factors}
          hidden={hidden}
          onSight={setSight}
          cursor={cursor}
          isSplit={isSplit}
          laid={laid}
          marks={marks}
          references={references}
          onEdge={toEdge}
        />
      </div>
      <Row>
        {shape.channels.map((c, i) => (
          <Toggle
            key={i}
            isSelected={!hidden.has(i)}
            onChange={(on) => setHidden((h) => new Set(on ? [...h].filter((x) => x !== i) : [...h, i]))}
          >
            <Swatch style={{ "--line-ink": inkOf(i) } as CSSProperties} aria-hidden /> {i + 1} {c.name}
          </Toggle>
        ))}
        {shape.channels.length < 2 ? null : (
          <>
            <Toggle isSelected={isSplit} onChange={setSplit}>
              Split
            </Toggle>
            <Select
              label="Edges of"
              hideLabel
              inline
              options={shape.channels.map((c, i) => ({ id: String(i), text: `edges of ${i + 1} ${c.name}` }))}
              value={String(edgesOf)}
              onChange={(i) => setEdgesOf(Number(i))}
            />
          </>
        )}
        {isNaming ? (
          <OneLineForm
            label={`Name of the moment at cursor ${cursor.toUpperCase()}`}
            words="Mark"
            maxLength={60}
            onSubmit={(text) => {
              onMarks([...marks, { atS: shape.startS + sight[cursor] / shape.rateHz, text: text.trim() }]);
              setNaming(false);
              return undefined;
            }}
          />
        ) : (
          <Button isDisabled={marks.length >= MOST_MARKS} onPress={() => setNaming(true)}>
            <Bookmark size={18} aria-hidden /> Mark
          </Button>
        )}
        {marks.length === 0 ? null : (
          <Button look="quiet" onPress={() => onMarks(marks.slice(0, -1))}>
            Last mark off
          </Button>
        )}
        <Faint>
          {shape.count.toLocaleString("en-GB")} samples, {scaled(shape.rateHz, "S/s")}, {scaled(shape.count / shape.rateHz, "s")}
        </Faint>
      </Row>
      <ChannelTools shape={shape} shown={shown} measures={measures} onShow={show} />
      {harness === undefined || state === undefined ? null : (
        <Judgement
          harness={harness}
          state={state}
          channels={channels}
          worker={worker}
          window={between}
          rateHz={shape.rateHz}
          good={good}
          isMoved={isMoved}
        />
      )}
      {state === undefined ? null : <MovedPanel shape={shape} channels={channels} moves={moves} state={state} worker={worker} />}
      {harness === undefined || state === undefined ? null : (
        <WhatIfPanel
          harness={harness}
          state={state}
          channels={channels}
          seconds={shape.count / shape.rateHz}
          room={MOST_CHANNELS - shape.channels.length}
          onGhosts={onGhosts}
          question={question}
        />
      )}
      <ChannelMeasures shape={shape} measures={measures} factors={factors} units={units} supposed={supposed} />
      {shape.channels.length < 2 ? null : (
        <ComparePanel
          shape={shape}
          factors={factors}
          units={units}
          worker={worker}
          window={between}
          onDifference={shape.channels.length >= MOST_CHANNELS ? undefined : drawDifference}
        />
      )}
      <DecodePanel shape={shape} factors={factors} worker={worker} senders={senders} state={state} onShow={showFrames} />
      {onKeep === undefined ? null : (
        <KeepForm shape={shape} meta={meta} title={title} onMeta={changeMeta} onTitle={setTitle} onKeep={keep} />
      )}
      <Row>
        <Button look="quiet" onPress={() => void saveCsv()}>
          <FileDown size={18} aria-hidden /> What is shown, CSV
        </Button>
        <Button look="quiet" onPress={() => void savePng()}>
          <Image size={18} aria-hidden /> What is shown, PNG
        </Button>
      </Row>
    </Panel>
  );
}

interface KeepFormProps extends Pick<TracePanelProps, "shape" | "meta" | "onMeta"> {
  readonly title: string;
  readonly onTitle: (title: string) => void;
  readonly onKeep: () => void;
}

/** Where the leads were and what the trace is called. It stays as it is while the trace moves. */
function KeepForm({ shape, meta, title, onMeta, onTitle, onKeep }: KeepFormProps) {
  return (
    <>
      {shape.channels.map((c, i) => (
        <Row key={i} role="group" aria-label={`Channel ${i + 1}`} style={{ alignItems: "end" }}>
          <strong style={{ width: "9rem", overflow: "hidden", textOverflow: "ellipsis", alignSelf: "center" }}>
            {i + 1} {c.name}
          </strong>
          <Field label="Red lead" value={meta[i]!.red} onChange={(red) => onMeta(i, { red })} mono maxLength={40} placeholder="F3.2" />
          <Field
            label="Black lead"
            value={meta[i]!.black}
            onChange={(black) => onMeta(i, { black })}
            mono
            maxLength={40}
            placeholder="BAT.-"
          />
          <Select label="Unit" options={UNITS} value={meta[i]!.unit} onChange={(unit) => onMeta(i, { unit })} />
          <Select label="Probe" options={FACTORS} value={String(meta[i]!.factor)} onChange={(f) => onMeta(i, { factor: Number(f) })} />
        </Row>
      ))}
      <Row style={{ alignItems: "end" }}>
        <Field label="Name" value={title} onChange={onTitle} maxLength={120} grow />
        <Button look="solid" onPress={onKeep}>
          Keep with the job
        </Button>
      </Row>
    </>
  );
}
