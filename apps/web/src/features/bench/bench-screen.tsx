import { useMemo, useState } from "react";
import { format } from "date-fns";
import { FolderOpen } from "lucide-react";
import { keptTrace, MOST_TRACE_BYTES, TRACE_TYPE, tracePath } from "@rheonom/contract/shop";
import { problem } from "@rheonom/contract/problem";
import type { VehicleState } from "@rheonom/core/circuit";
import { parsePlace, type Harness } from "@rheonom/core/harness";
import type { Leads } from "@rheonom/core/instruments";
import { describeLeads, readingsAroundMend, type KnownGood, type TraceView } from "@rheonom/core/job";
import { MOST_CHANNELS, type CsvForm } from "@rheonom/core/waveform";
import { useJobContext } from "../../job/job-context.ts";
import { loadOnBench, questionOnBench } from "../../job/question-on-bench.ts";
import { stateOfJob } from "../../job/state-of-job.ts";
import { Button } from "../../ui/button.tsx";
import { FileButton } from "../../ui/file-button.tsx";
import { Faint, Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Table } from "../../ui/table.tsx";
import { toast } from "../../ui/toast.tsx";
import { useStable } from "../../ui/use-stable.ts";
import { useSame } from "../../worker/use-query.ts";
import { usePutOnShelf, useShelfOf, type Found } from "../../job/shelf/use-shelf.ts";
import type { LeadPair } from "./capture-model.ts";
import { CapturePanel } from "./capture-panel.tsx";
import { FormPanel } from "./form-panel.tsx";
import { InstrumentsPanel } from "./instruments-panel.tsx";
import { ShelfPanel } from "./shelf-panel.tsx";
import { noteWords, problemWords, scaled } from "./scope-model.ts";
import type { Mark } from "./scope-chart.tsx";
import { judged, TracePanel, type ChannelSaid } from "./trace-panel.tsx";
import { useScope } from "./use-scope.ts";
import type { GhostTraces } from "./what-if-panel.tsx";

/** Recordings of a scope or logger: brought in from files, measured between two cursors, and kept with the job. */
export function BenchScreen() {
  const { job, record, harness } = useJobContext();
  const scope = useScope();
  const [file, setFile] = useState<File | undefined>(undefined);
  const [said, setSaid] = useState<Partial<CsvForm>>({});
  const [channels, setChannels] = useState<readonly Partial<ChannelSaid>[]>([]);
  const [failed, setFailed] = useState("");
  /** In which it was recorded, where that is known. */
  const [recordedIn, setRecordedIn] = useState<VehicleState | undefined>(undefined);
  const [captured, setCaptured] = useState("");
  /** Recordings that were opened: each begins with fresh cursors, names and choices. */
  const [openings, setOpenings] = useState(0);
  const [marks, setMarks] = useState<readonly Mark[]>([]);
  const { opened, progress } = scope;
  const isClosed = job.view.closed !== undefined;
  const read = (chosen: File, how: Partial<CsvForm>): void => {
    setFile(chosen);
    setSaid(how);
    setFailed("");
    setCaptured("");
    setMarks([]);
    setRecordedIn(undefined);
    scope.openFile(chosen, how);
  };
  const shape = opened?.kind === "open" ? opened.shape : undefined;
  const meta = useMemo(
    () => (shape?.channels ?? []).map((c, i): ChannelSaid => ({ unit: c.unit, factor: 1, red: "", black: "", ...channels[i] })),
    [shape, channels],
  );
  const take = (packed: ArrayBuffer, leads: readonly LeadPair[], state: VehicleState, moved: readonly Mark[]): void => {
    setOpenings((n) => n + 1);
    setFile(undefined);
    setFailed("");
    setChannels(leads.map((l) => ({ unit: "V", factor: 1, ...l })));
    setRecordedIn(state);
    setMarks(moved);
    setCaptured(leads.map((l) => l.red).join(", "));
    scope.openKept(packed);
  };
  /** The samples of a kept trace; undefined where they cannot be had, which is told. */
  const fetchKept = async (hash: string): Promise<ArrayBuffer | undefined> => {
    setFailed("");
    const answer = await fetch(tracePath(hash)).catch(() => undefined);
    if (answer?.ok === true) return answer.arrayBuffer();
    setFailed(answer === undefined ? "The server does not answer. Try again." : "This trace is not in this shop.");
    return undefined;
  };
  const openKept = async ({ data }: TraceView): Promise<void> => {
    const packed = await fetchKept(data.hash);
    if (packed === undefined) return;
    setOpenings((n) => n + 1);
    setFile(undefined);
    setCaptured("");
    setRecordedIn(data.state);
    setMarks(data.marks ?? []);
    setChannels(data.channels.map(({ unit, factor, red, black }) => ({ unit, factor, red, black })));
    scope.openKept(packed);
  };
  const overlay = async ({ data }: TraceView): Promise<void> => {
    const packed = await fetchKept(data.hash);
    if (packed === undefined) return;
    setChannels([...meta, ...data.channels.map(({ unit, factor, red, black }) => ({ unit, factor, red, black, isLaid: true }))]);
    scope.overlay(packed, data.name);
  };
  const leadsShown = useSame(
    useMemo(
      () => (harness === undefined ? [] : judged(harness, meta).map(({ leads }): Leads => ({ quantity: "volts", ...leads }))),
      [harness, meta],
    ),
  );
  const overlayGood = async ({ id, trace, leads }: KnownGood): Promise<void> => {
    if (trace === undefined) return;
    const packed = await fetchKept(trace.hash);
    if (packed === undefined) return;
    const [red, black] = leads.quantity === "amps" ? [leads.around, ""] : [leads.red, leads.black];
    setChannels([...meta, { unit: trace.unit, factor: trace.factor, red, black, isLaid: true }]);
    scope.overlay(packed, `good ${trace.name}`, trace.channel);
    record({ type: "known-good-used", data: { items: [id], what: `recording ${trace.name} at ${describeLeads(leads)}`.slice(0, 200) } });
  };
  const question = useMemo(() => {
    if (harness === undefined) return undefined;
    const load = loadOnBench(harness, job.view, job.bench?.load);
    return questionOnBench(harness, job.view, readingsAroundMend(job.view, "after"), load, stateOfJob(job, harness));
  }, [harness, job]);
  const drawGhosts = useStable(({ rateHz, channels: laid }: GhostTraces): void => {
    setChannels([
      ...meta,
      ...laid.map(({ of }): ChannelSaid => ({
        unit: "V",
        factor: 1,
        red: meta[of]!.red,
        black: meta[of]!.black,
        isLaid: true,
        isSupposed: true,
      })),
    ]);
    scope.ghosts(
      rateHz,
      laid.map(({ of, name, samples }) => ({ name: `${name}: ${meta[of]!.red}`, unit: "V", samples })),
    );
  });
  const taken = useStable(take);
  const opening = useStable((t: TraceView) => void openKept(t));
  const laying = useStable((t: TraceView) => void overlay(t));
  const layingGood = useStable((item: KnownGood) => void overlayGood(item));
  const keep = async (name: string): Promise<void> => {
    if (shape === undefined) return;
    setFailed("");
    const packed = await scope.worker.packed();
    if (packed.length > MOST_TRACE_BYTES) return setFailed(`Packed it has more than ${MOST_TRACE_BYTES / 1e6} MB. Export a shorter part.`);
    const answer = await fetch("/api/traces", {
      method: "POST",
      headers: { "content-type": TRACE_TYPE },
      body: packed as BodyInit,
    }).catch(() => undefined);
    const body: unknown = await answer?.json().catch(() => undefined);
    const kept = keptTrace.safeParse(body);
    if (answer?.status !== 201 || !kept.success)
      return setFailed(problem.safeParse(body).data?.message ?? "The server does not answer. The trace is still open here; keep it again.");
    const { startS, rateHz, count } = shape;
    record({
      type: "trace-kept",
      data: {
        ...kept.data,
        name: name.trim() || "Trace",
        startS,
        rateHz,
        count,
        channels: meta.flatMap(({ isLaid = false, isSupposed: _, ...m }, i) => (isLaid ? [] : [{ name: shape.channels[i]!.name, ...m }])),
        note: "",
        ...(marks.length === 0 ? {} : { marks: [...marks] }),
        ...(harness === undefined ? {} : { state: recordedIn ?? stateOfJob(job, harness) }),
      },
    });
    toast("Trace kept with the job.");
  };
  return (
    <Page>
      <Row style={{ justifyContent: "space-between" }}>
        <h1>Bench</h1>
        {isClosed ? null : (
          <FileButton
            label="Trace file"
            accept=".csv,.txt,.tsv,.wav,.vcd,text/csv,audio/wav"
            look="solid"
            onFiles={([chosen]) => {
              setOpenings((n) => n + 1);
              setChannels([]);
              read(chosen!, {});
            }}
          >
            <FolderOpen size={18} aria-hidden /> Import a trace
          </FileButton>
        )}
      </Row>
      {isClosed ? null : <InstrumentsPanel />}
      {isClosed || harness === undefined ? null : <CapturePanel harness={harness} onCaptured={taken} />}
      {failed === "" ? null : (
        <Notice tone="danger" role="alert">
          {failed}
        </Notice>
      )}
      {progress === undefined ? null : (
        <Row>
          <progress aria-label="Read" value={progress} max={1} />
          <span role="status">Reading {file?.name ?? "the trace"} …</span>
        </Row>
      )}
      {opened?.kind === "refused" ? (
        <Notice tone="danger" role="alert" title={file === undefined ? "The trace cannot be opened" : `${file.name} cannot be read`}>
          {opened.why}. Export it again, as CSV.
        </Notice>
      ) : null}
      {opened?.kind === "bad" ? (
        <Notice tone="danger" role="alert" title={`${file?.name ?? "The trace"} cannot be read as it is`}>
          {problemWords(opened.problem)}
        </Notice>
      ) : null}
      {file === undefined || opened === undefined || opened.kind === "refused" || opened.form === undefined ? null : (
        <FormPanel key={file.name + String(file.lastModified)} form={opened.form} onForm={(how) => read(file, { ...said, ...how })} />
      )}
      {opened?.kind === "open" && opened.notes.length > 0 ? <Notice tone="caution">{opened.notes.map(noteWords).join(" ")}</Notice> : null}
      {shape === undefined ? (
        opened === undefined && progress === undefined ? (
          <Panel>
            <p>
              Bring in what a scope or logger has recorded: a table (CSV, with a column of time or a rate), a WAV file, or a logic
              analyser’s changes (VCD), up to eight channels. It is measured here between two cursors and kept with the job.
            </p>
          </Panel>
        ) : null
      ) : (
        <TracePanel
          key={openings}
          scope={scope}
          shape={shape}
          meta={meta}
          onMeta={(i, change) => setChannels(meta.map((m, k) => (k === i ? { ...m, ...change } : m)))}
          onGhosts={drawGhosts}
          onDifference={({ first, second, unit, laying }) => {
            setChannels([...meta, { unit, factor: 1, red: "", black: "", isLaid: true }]);
            scope.difference(
              first,
              second,
              meta.map((m) => m.factor),
              unit,
              laying,
            );
          }}
          marks={marks}
          onMarks={setMarks}
          name={file?.name.replace(/\.\w+$/, "") ?? captured}
          onKeep={isClosed || (file === undefined && captured === "") ? undefined : (name) => void keep(name)}
          harness={harness}
          state={recordedIn ?? (harness === undefined ? undefined : stateOfJob(job, harness))}
          question={question}
        />
      )}
      {shape === undefined || harness === undefined ? null : (
        <ShelfPanel
          leads={leadsShown}
          state={recordedIn ?? stateOfJob(job, harness)}
          onOverlay={shape.channels.length >= MOST_CHANNELS ? undefined : layingGood}
        />
      )}
      <KeptTraces onOpen={opening} onOverlay={shape === undefined || shape.channels.length >= MOST_CHANNELS ? undefined : laying} />
    </Page>
  );
}

/** Channels of a kept trace as known-goods: those whose leads are places of the circuit. */
function goodsOf(harness: Harness, { data }: TraceView): readonly Found[] {
  return data.channels.flatMap(({ red, black, unit, factor, name }, channel): Found[] => {
    const [r, b] = [parsePlace(harness, red), parsePlace(harness, black.trim() === "" ? "-" : black)];
    if (red.trim() === "" || r.kind !== "place" || b.kind !== "place" || r.place === b.place || data.state === undefined) return [];
    const { hash, bytes, rateHz, count } = data;
    return [
      {
        leads: { quantity: "volts", red: r.place, black: b.place },
        state: data.state,
        instrument: "scope",
        note: data.note,
        trace: { hash, bytes, channel, name: `${data.name} ${name}`.trim().slice(0, 120), unit, factor, rateHz, count },
      },
    ];
  });
}

interface KeptTracesProps {
  readonly onOpen: (trace: TraceView) => void;
  /** Undefined where nothing is open, or there is no room for another channel. */
  readonly onOverlay: ((trace: TraceView) => void) | undefined;
}

function KeptTraces({ onOpen, onOverlay }: KeptTracesProps) {
  const { job, record, harness } = useJobContext();
  const put = usePutOnShelf(job.view);
  const there = useShelfOf(job.view);
  const kept = job.view.traces.filter((t) => t.struck === undefined);
  if (kept.length === 0) return null;
  return (
    <Panel aria-label="Kept traces">
      <h2>Kept with the job</h2>
      <Table>
        <caption>
          <Hidden>Traces of this job</Hidden>
        </caption>
        <tbody>
          {kept.map((t) => (
            <tr key={t.id}>
              <th scope="row">{t.data.name}</th>
              <td>
                {t.data.channels
                  .map((c) => [c.name, c.red === "" || c.black === "" ? c.red : `${c.red} against ${c.black}`].filter(Boolean).join(": "))
                  .join("; ")}
              </td>
              <td className="n">{scaled(t.data.count / t.data.rateHz, "s")}</td>
              <td>
                <Faint>
                  {t.by}, {format(new Date(t.at), "d MMM HH:mm")}
                </Faint>
              </td>
              <td>
                <Row>
                  <Button onPress={() => onOpen(t)} aria-label={`Open ${t.data.name}`}>
                    Open
                  </Button>
                  {onOverlay === undefined ? null : (
                    <Button onPress={() => onOverlay(t)} aria-label={`Lay ${t.data.name} over`}>
                      Lay over
                    </Button>
                  )}
                  {put === undefined ||
                  harness === undefined ||
                  goodsOf(harness, t).length === 0 ||
                  there.some((i) => i.trace?.hash === t.data.hash) ? null : (
                    <Button onPress={() => void put(goodsOf(harness, t))} aria-label={`Put ${t.data.name} on the shelf of known-goods`}>
                      To the shelf
                    </Button>
                  )}
                  {job.view.closed === undefined ? (
                    <Button look="quiet" onPress={() => record({ type: "struck", data: { target: t.id, why: "recorded in error" } })}>
                      Strike
                    </Button>
                  ) : null}
                </Row>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Panel>
  );
}
