import { useEffect, useState } from "react";
import type { Remote } from "comlink";
import { styled } from "styled-components";
import type { VehicleState } from "@rheonom/core/circuit";
import { useJobContext } from "../../job/job-context.ts";
import { Check } from "../../ui/check.tsx";
import { Button } from "../../ui/button.tsx";
import { Faint, Hidden, Row } from "../../ui/layout.tsx";
import { ShowMore, useMoreRows } from "../../ui/more-rows.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Select } from "../../ui/select.tsx";
import { Table } from "../../ui/table.tsx";
import { useSame } from "../../worker/use-query.ts";
import type { BenchWorker, TraceShape } from "./bench.worker.ts";
import { respondsIn, type Decoded, type Decoding, type FrameRow } from "./decode.ts";
import { scaled } from "./scope-model.ts";

const FrameTable = styled(Table)`
  td {
    vertical-align: middle;
    padding-block: 0;
  }
`;

export interface DecodePanelProps {
  readonly shape: TraceShape;
  readonly factors: readonly number[];
  readonly worker: Remote<BenchWorker>;
  /** Who sends the frames of an identifier, where that is known. */
  readonly senders: ReadonlyMap<number, string>;
  /** In which it was recorded; undefined where nobody knows. */
  readonly state: VehicleState | undefined;
  /** Shows a frame on the chart. */
  readonly onShow: (from: number, to: number) => void;
}

const KINDS = [
  { id: "nothing", text: "nothing", second: undefined },
  { id: "lin", text: "LIN", second: undefined },
  { id: "can", text: "CAN, high and low", second: "low" },
  { id: "can difference", text: "CAN, difference", second: undefined },
  { id: "can receiver", text: "CAN, logic level", second: undefined },
  { id: "single wire", text: "single wire", second: undefined },
  { id: "pwm", text: "pulses: duty and rate", second: "beside" },
] as const;
type Kind = (typeof KINDS)[number]["id"];

/** What is read of these channels; undefined while nothing is, or one and the same channel stands for two wires. */
function decodingOf(kind: Kind, channel: number, second: number): Decoding | undefined {
  switch (kind) {
    case "nothing":
      return undefined;
    case "can":
      return channel === second ? undefined : { kind, high: channel, low: second };
    case "pwm":
      return { kind, channel, beside: channel === second ? undefined : second };
    default:
      return { kind, channel };
  }
}

/** Frames of a bus in the trace, each tied to its place in it. */
export function DecodePanel({ shape, factors, worker, senders, state, onShow }: DecodePanelProps) {
  const [kind, setKind] = useState<Kind>("nothing");
  const [pair, setPair] = useState<readonly [number, number]>([0, 1]);
  const [first, second] = pair.map((k) => Math.min(k, shape.channels.length - 1)) as [number, number];
  const options = shape.channels.map((c, i) => ({ id: String(i), text: `${i + 1} ${c.name}` }));
  const secondly = KINDS.find((k) => k.id === kind)!.second;
  const decoding = decodingOf(kind, first, second);
  const [result, setResult] = useState<{ readonly of: object; readonly value: Decoded | string } | undefined>(undefined);
  const [onlyBad, setOnlyBad] = useState(false);
  const asked = useSame({ decoding, factors, shape });
  useEffect(() => {
    if (asked.decoding === undefined) return;
    let over = false;
    worker.decoded(asked.decoding, asked.factors).then(
      (value) => over || setResult({ of: asked, value }),
      (error: unknown) => over || setResult({ of: asked, value: error instanceof Error ? error.message : String(error) }),
    );
    return () => void (over = true);
  }, [worker, asked]);
  const shown = result?.of === asked ? result.value : undefined;
  return (
    <section aria-label="Bus">
      <Row style={{ alignItems: "end" }}>
        <Select label="Read as" options={KINDS} value={kind} onChange={setKind} />
        {kind === "nothing" ? null : (
          <Select
            label={kind === "can" ? "High" : "Channel"}
            options={options}
            value={String(first)}
            onChange={(id) => setPair([Number(id), second])}
          />
        )}
        {secondly === undefined || options.length < 2 ? null : (
          <Select
            label={secondly === "low" ? "Low" : "Beside"}
            options={options}
            value={String(second)}
            onChange={(id) => setPair([first, Number(id)])}
          />
        )}
        {decoding === undefined ? (
          kind === "can" ? (
            <Faint>One channel for each wire.</Faint>
          ) : null
        ) : shown === undefined ? (
          <span role="status">Reading …</span>
        ) : typeof shown === "string" ? (
          <span role="alert">{shown}</span>
        ) : (
          <>
            <span>
              <strong>
                {shown.frames}{" "}
                {decoding.kind === "pwm" ? (shown.frames === 1 ? "stretch" : "stretches") : shown.frames === 1 ? "frame" : "frames"},{" "}
                {shown.bad} {decoding.kind === "pwm" ? "without pulses" : "bad"}
              </strong>{" "}
              <Faint>{shown.baud === undefined ? "" : scaled(shown.baud, "bit/s", 3)}</Faint>
            </span>
            {shown.bad > 0 ? (
              <Check isSelected={onlyBad} onChange={setOnlyBad}>
                Bad ones only
              </Check>
            ) : null}
          </>
        )}
      </Row>
      {decoding === undefined || shown === undefined || typeof shown === "string" ? null : (
        <>
          {state === undefined ? null : <Heard key={`${kind} ${first} ${second}`} rows={shown.rows} senders={senders} state={state} />}
          <Frames
            key={`${kind} ${first} ${second} ${String(onlyBad)}`}
            decoded={shown}
            onlyBad={onlyBad && shown.bad > 0}
            isPulses={decoding.kind === "pwm"}
            senders={senders}
            onShow={onShow}
          />
        </>
      )}
    </section>
  );
}

interface HeardProps {
  readonly rows: readonly FrameRow[];
  readonly senders: ReadonlyMap<number, string>;
  readonly state: VehicleState;
}

/** Who was heard on the bus, to be counted for the suspects; nothing where nobody knows who sends what. */
function Heard({ rows, senders, state }: HeardProps) {
  const { job, record } = useJobContext();
  const [isCounted, setCounted] = useState(false);
  const heard = respondsIn(rows, senders);
  if (heard.length === 0) return null;
  const named = (word: "yes" | "no"): string => heard.flatMap((h) => (h.word === word ? [h.module] : [])).join(", ");
  const [silent, others] = [named("no"), named("yes")];
  return (
    <Row>
      <span>
        {silent === "" ? null : <strong>No response: {silent}. </strong>}
        {others === "" ? null : `Heard: ${others}.`}
      </span>
      {job.view.closed === undefined ? (
        <Button
          isDisabled={isCounted}
          onPress={() => {
            for (const { module, word } of heard)
              record({ type: "seen", data: { state, observe: { kind: "answers", module }, word, wrong: false } });
            setCounted(true);
          }}
        >
          {isCounted ? "Counted" : "Count for the suspects"}
        </Button>
      ) : null}
    </Row>
  );
}

/** Remarks on the line that are shown at most. */
const MOST_REMARKS = 6;

interface FramesProps extends Pick<DecodePanelProps, "senders" | "onShow"> {
  readonly decoded: Decoded;
  readonly onlyBad: boolean;
  /** Stretches of a duty in place of frames. */
  readonly isPulses: boolean;
}

function Frames({ decoded, onlyBad, isPulses, senders, onShow }: FramesProps) {
  const { shown, left, showMore } = useMoreRows(onlyBad ? decoded.rows.filter((r) => r.wrong !== "") : decoded.rows);
  return (
    <>
      {decoded.remarks.slice(0, MOST_REMARKS).map((words) => (
        <Notice key={words} tone="info">
          {words}
        </Notice>
      ))}
      {shown.length === 0 ? null : (
        <FrameTable>
          <caption>
            <Hidden>Frames</Hidden>
          </caption>
          <thead>
            <tr>
              <th scope="col">Time</th>
              <th scope="col">{isPulses ? "Duty" : "Identifier"}</th>
              <th scope="col">{isPulses ? "Rate" : "Data"}</th>
              <th scope="col">What is wrong</th>
              <th scope="col">
                <Hidden>Show</Hidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((r) => (
              <tr key={r.from}>
                <td className="n">{scaled(r.startS, "s", 6)}</td>
                <td style={{ fontFamily: "var(--mono)" }}>
                  {r.name} <Faint>{senders.get(Number(r.name)) ?? ""}</Faint>
                </td>
                <td style={{ fontFamily: "var(--mono)" }}>
                  {r.data} <Faint>{r.note}</Faint>
                </td>
                <td>{r.wrong === "" ? "–" : <strong>{r.wrong}</strong>}</td>
                <td>
                  <Button look="quiet" onPress={() => onShow(r.from, r.to)} aria-label={`Show ${r.name} at ${scaled(r.startS, "s", 6)}`}>
                    Show
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </FrameTable>
      )}
      <ShowMore left={left} showMore={showMore} what="later ones" />
    </>
  );
}
