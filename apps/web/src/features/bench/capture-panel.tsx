import { useEffect, useRef, useState } from "react";
import { CircleStop, Plus, Radio, X } from "lucide-react";
import { useSearchParams } from "react-router";
import { styled } from "styled-components";
import { captureProgress, MOST_CAPTURE_CHANNELS, MOVED_FROM, type Capture } from "@rheonom/contract/api";
import { problem } from "@rheonom/contract/problem";
import type { VehicleState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { refusalsOf } from "@rheonom/core/instruments";
import type { InstrumentLine } from "../../job/instrument/instrument-line.ts";
import { useInstrument } from "../../job/instrument/use-instrument.ts";
import { useJobContext } from "../../job/job-context.ts";
import { newId } from "../../job/record.ts";
import { StateBar } from "../../job/state-bar.tsx";
import { useVehicleState } from "../../job/use-vehicle-state.ts";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Panel } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Select } from "../../ui/select.tsx";
import { captureOf, LENGTHS, otherEndsOf, type LeadPair, type Length } from "./capture-model.ts";
import type { Mark } from "./scope-chart.tsx";

const Stack = styled.div`
  display: grid;
  gap: var(--s2);
`;
const Probes = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2) var(--s4);
  align-items: end;
`;
const Probe = styled.div`
  display: flex;
  gap: var(--s2);
  align-items: end;
  input {
    width: 11rem;
  }
`;

export interface CapturePanelProps {
  readonly harness: Harness;
  readonly onCaptured: (packed: ArrayBuffer, leads: readonly LeadPair[], state: VehicleState, marks: readonly Mark[]) => void;
}

/** Records with the scope that is connected, or the simulated vehicle of a demo job; nothing where there is neither. */
export function CapturePanel({ harness, onCaptured }: CapturePanelProps) {
  const { job } = useJobContext();
  const scope = useInstrument(job.id, "scope");
  const isConnected = scope.now.status === "connected";
  const [state, changeState] = useVehicleState(job, harness);
  // Where a proposal of the ranking has the leads.
  const [params] = useSearchParams();
  const [pairs, setPairs] = useState<readonly LeadPair[]>([{ red: params.get("red") ?? "", black: params.get("black") ?? "" }]);
  const [length, setLength] = useState<Length>("50 ms");
  const [moving, setMoving] = useState("");
  const [failed, setFailed] = useState("");
  const running = useRef<AbortController | undefined>(undefined);
  /** Share of the simulated recording that is worked out; undefined while none is made. */
  const [share, setShare] = useState<number | undefined>(undefined);
  useEffect(() => () => running.current?.abort(), []);
  const put = (i: number, part: Partial<LeadPair>): void => setPairs((p) => p.map((x, k) => (k === i ? { ...x, ...part } : x)));

  const capture = async (): Promise<void> => {
    setFailed("");
    const read = captureOf(harness, state, pairs, length, moving);
    if (read.kind === "wrong") return setFailed(read.why);
    const refused = refusalsOf(harness, state, { kind: "volts", places: read.leads.flatMap((l) => [l.red, l.black]) }).find(
      (r) => r.harm === "people",
    );
    if (refused !== undefined) return setFailed(`${refused.reason} Instead: ${refused.instead}`);
    const stop = new AbortController();
    running.current = stop;
    setShare(0);
    const answer = isConnected ? await byScope(scope.line, read.ask) : await ask(job.id, read.ask, stop.signal, setShare);
    setShare(undefined);
    if (stop.signal.aborted) return;
    if (typeof answer === "string") return setFailed(answer);
    const { moving: moved, seconds } = read.ask;
    onCaptured(answer, read.leads, state, moved === undefined ? [] : [{ atS: MOVED_FROM * seconds, text: moved }]);
  };
  if (!isConnected && !job.simulated) return null;
  return (
    <Panel aria-label="Capture">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void capture();
        }}
      >
        <Stack>
          <StateBar harness={harness} state={state} near={new Set()} onChange={changeState}>
            <Select label="Length" hideLabel inline options={LENGTHS} value={length} onChange={setLength} />
            {share === undefined ? (
              <Button look="solid" type="submit">
                <Radio size={18} aria-hidden /> Capture
              </Button>
            ) : (
              <>
                <Button onPress={() => (isConnected ? scope.line.close() : running.current?.abort())}>
                  <CircleStop size={18} aria-hidden /> {isConnected ? "Disconnect" : "Stop"}
                </Button>
                {isConnected ? (
                  <progress aria-label="The scope is recording" />
                ) : (
                  <>
                    <progress aria-label="Recording the simulated vehicle" value={share} max={1} />
                    <span style={{ minWidth: "4ch" }}>{Math.round(100 * share)} %</span>
                  </>
                )}
              </>
            )}
          </StateBar>
          <Probes>
            {pairs.map((pair, i) => (
              <Probe key={i} role="group" aria-label={`Probe ${i + 1}`}>
                <Field label={`${i + 1} red`} value={pair.red} onChange={(red) => put(i, { red })} mono maxLength={40} placeholder="C5.3" />
                <Field
                  label="Black"
                  value={pair.black}
                  onChange={(black) => put(i, { black })}
                  mono
                  maxLength={40}
                  placeholder="− battery"
                />
                {i > 0 ? (
                  <Button look="quiet" onPress={() => setPairs((p) => p.filter((_, k) => k !== i))} aria-label={`Take off probe ${i + 1}`}>
                    <X size={18} aria-hidden />
                  </Button>
                ) : null}
              </Probe>
            ))}
            {otherEndsOf(harness, pairs)
              .slice(0, MOST_CAPTURE_CHANNELS - pairs.length)
              .map((red) => (
                <Button key={red} onPress={() => setPairs((p) => [...p, { red, black: p.at(-1)!.black }])}>
                  <Plus size={18} aria-hidden /> {red}, other end
                </Button>
              ))}
            <Field
              label="Moved from a third on"
              value={moving}
              onChange={setMoving}
              mono
              maxLength={40}
              placeholder="C16, a loom, or nothing"
            />
            {pairs.length < MOST_CAPTURE_CHANNELS ? (
              <Button onPress={() => setPairs((p) => [...p, { red: "", black: p.at(-1)!.black }])} aria-label="Another probe">
                <Plus size={18} aria-hidden /> Probe
              </Button>
            ) : null}
          </Probes>
        </Stack>
      </form>
      {failed === "" ? null : (
        <Notice tone="danger" role="alert">
          {failed}
        </Notice>
      )}
    </Panel>
  );
}

/** The recording of a connected scope, channel by channel in the order of the probes; or why there is none. */
async function byScope(line: InstrumentLine, { state, probes, seconds, rateHz }: Capture): Promise<ArrayBuffer | string> {
  line.moveLeads(
    probes.map(({ at }) => ("red" in at ? { on: "places", red: at.red, black: at.black } : { on: "wire", around: at.around })),
    state,
  );
  const packed = await line.record(
    probes.map((_, i) => i + 1),
    seconds,
    Math.round(seconds * rateHz),
  );
  return packed ?? line.state().trouble;
}

/** How often the share is asked for, ms. */
const TOLD_EVERY_MS = 400;

/** The recording of the simulated vehicle, packed, or why there is none. */
async function ask(jobId: string, body: Capture, signal: AbortSignal, onShare: (share: number) => void): Promise<ArrayBuffer | string> {
  const path = `/api/jobs/${jobId}/simulated-capture`;
  const as = newId();
  let isOver = false;
  const watch = setInterval(() => {
    void fetch(`${path}/${as}`, { signal })
      .then(async (a) => captureProgress.safeParse(await a.json()))
      .then((told) => told.success && !isOver && onShare(told.data.share))
      // Whoever waits is told by the recording itself.
      .catch(() => undefined);
  }, TOLD_EVERY_MS);
  const answer = await fetch(`${path}?as=${as}`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
    signal,
  })
    .catch(() => undefined)
    .finally(() => {
      isOver = true;
      clearInterval(watch);
    });
  if (answer?.ok === true) return answer.arrayBuffer().catch(() => "The recording was cut off on its way. Capture again.");
  const told = problem.safeParse(await answer?.json().catch(() => undefined));
  return told.data?.message ?? "The server does not answer. Capture again when it does.";
}
